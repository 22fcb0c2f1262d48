import { RIGHTS, RIGHTS_LABEL, type RightsKind } from '@/core/recording/model';

/** Chooses what may be done with a recording; without a value it asks, for several at once. */
export function RightsSelect(props: {
  label: string;
  value?: RightsKind;
  className?: string;
  onChoose: (kind: RightsKind) => void;
}) {
  return (
    <select
      aria-label={props.label}
      className={props.className}
      value={props.value ?? ''}
      onChange={(event) => props.onChoose(event.target.value as RightsKind)}
    >
      {props.value === undefined && <option value="">rights …</option>}
      {RIGHTS.map((kind) => (
        <option key={kind} value={kind}>
          {RIGHTS_LABEL[kind]}
        </option>
      ))}
    </select>
  );
}
