import { RIGHTS, RIGHTS_LABEL, type RightsKind } from '@/core/rights/rights';
import { Choice } from './Choice';

const OPTIONS = RIGHTS.map((kind) => [kind, RIGHTS_LABEL[kind]] as const);

/** Chooses the rights of a recording; without a value it prompts, for several at once. */
export function RightsSelect(props: {
  label: string;
  value?: RightsKind;
  className?: string;
  onChoose: (kind: RightsKind) => void;
}) {
  return (
    <Choice
      {...props}
      value={props.value}
      options={OPTIONS}
      shown={props.value === undefined ? 'rights …' : undefined}
    />
  );
}
