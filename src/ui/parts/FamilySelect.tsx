import { FAMILIES, type Family } from '@/core/hit/model';
import { sureness } from './figures';

/** Chooses a family, or none. Dragging what it stands on does not begin in it. */
export function FamilySelect({
  label,
  value,
  guess,
  className = '',
  onChoose,
}: {
  label: string;
  value: string | null;
  /** What it is taken for where nobody has said, and how surely. */
  guess?: { readonly family: string; readonly confidence: number } | undefined;
  className?: string;
  onChoose: (family: Family | null) => void;
}) {
  return (
    <select
      aria-label={label}
      className={`${className} ${value ? '' : 'text-soft'}`}
      value={value ?? ''}
      onChange={(event) => onChoose((event.target.value || null) as Family | null)}
      onPointerDown={(event) => event.stopPropagation()}
    >
      <option value="">{guess ? `${guess.family}, ${sureness(guess.confidence)}` : 'not named'}</option>
      {FAMILIES.map((family) => (
        <option key={family} value={family}>
          {family}
        </option>
      ))}
    </select>
  );
}
