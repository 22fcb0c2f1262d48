'use client';

import { useState } from 'react';
import { minus } from './figures';

/** A number to type, with its unit; it counts when Enter is pressed or the field is left. Emptied, it is cleared where that may be. */
export function NumberField({
  label,
  unit,
  value,
  low,
  high,
  digits = 1,
  empty = '',
  inline = false,
  onCommit,
  onClear,
}: {
  label: string;
  unit: string;
  value: number | null;
  low: number;
  high: number;
  /** Most decimals; none are shown that are nought. */
  digits?: number;
  /** What stands there where there is no value. */
  empty?: string;
  inline?: boolean;
  onCommit: (value: number) => void;
  onClear?: () => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const shown = value === null ? '' : minus(String(Number(value.toFixed(digits))));
  const finish = () => {
    if (typed === null) return;
    setTyped(null);
    const text = typed.replace('−', '-').replace(',', '.').trim();
    if (text === '') {
      if (value !== null) onClear?.();
      return;
    }
    const number = Number(text);
    if (!Number.isFinite(number)) return;
    const scale = 10 ** digits;
    const wanted = Math.round(Math.min(high, Math.max(low, number)) * scale) / scale;
    if (wanted !== value) onCommit(wanted);
  };
  return (
    <label className={`flex h-8 items-center gap-2 ${inline ? 'whitespace-nowrap' : ''}`}>
      <span className={inline ? '' : 'flex-1'}>{label}</span>
      <input
        aria-label={label}
        className="figure w-[60px] rounded border border-line px-1 text-right"
        inputMode="decimal"
        placeholder={empty}
        title={`${low} to ${high} ${unit}`}
        value={typed ?? shown}
        onFocus={(event) => event.target.select()}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={finish}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur();
          if (event.key === 'Escape') {
            setTyped(null);
            const field = event.currentTarget;
            requestAnimationFrame(() => field.blur());
          }
        }}
      />
      <span className={`figure text-[12px] text-soft ${inline ? '' : 'w-[72px] whitespace-nowrap'}`}>{unit}</span>
    </label>
  );
}
