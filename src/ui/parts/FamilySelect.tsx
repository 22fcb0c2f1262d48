import { FAMILIES, type Family } from '@/core/family';
import { Choice, type Options } from './Choice';
import { sureness } from './figures';

const OPTIONS: Options<Family | null> = [[null, 'not named'], ...FAMILIES.map((family) => [family, family] as const)];

/** Chooses a family, or none. */
export function FamilySelect({
  label,
  value,
  guess,
  className = '',
  quiet = false,
  onChoose,
}: {
  label: string;
  value: string | null;
  /** The estimate where nobody decided, and its confidence. */
  guess?: { readonly family: string; readonly confidence: number } | undefined;
  className?: string;
  /** In tables; see `Choice`. */
  quiet?: boolean;
  onChoose: (family: Family | null) => void;
}) {
  return (
    <Choice
      label={label}
      quiet={quiet}
      value={value as Family | null}
      options={OPTIONS}
      shown={value === null && guess ? `${guess.family}, ${sureness(guess.confidence)}` : undefined}
      className={`${className} ${value ? '' : 'text-soft'}`}
      onChoose={onChoose}
    />
  );
}
