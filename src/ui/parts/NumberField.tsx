'use client';

import { useState } from 'react';
import { typedValue } from '@/core/parameter/values';
import { minus } from './figures';
import type { AnyNumber } from './Parameter';

/** A number field with its unit; commits on Enter or blur. Emptied, it clears the value where that is allowed. */
export function NumberField({
  of,
  value,
  empty = of.none?.label ?? '',
  inline = false,
  onCommit,
  onClear,
}: {
  of: AnyNumber;
  value: number | null;
  /** Text where there is no value. */
  empty?: string;
  inline?: boolean;
  onCommit: (value: number) => void;
  onClear?: () => void;
}) {
  const { label, unit, times } = of;
  const [typed, setTyped] = useState<string | null>(null);
  const shown = value === null ? '' : minus(String(Number((value * times).toFixed(of.digits))));
  const finish = () => {
    if (typed === null) return;
    setTyped(null);
    if (typed.trim() === '') {
      if (value !== null) onClear?.();
      return;
    }
    const wanted = typedValue(of, typed);
    if (wanted !== null && wanted !== value) onCommit(wanted);
  };
  return (
    <label className={`flex h-8 items-center gap-2 ${inline ? 'whitespace-nowrap' : ''}`}>
      <span className={inline ? '' : 'flex-1'}>{label}</span>
      <input
        aria-label={label}
        className={`figure rounded border border-line px-1 text-right ${inline ? 'w-[60px]' : 'w-[84px]'}`}
        inputMode="decimal"
        placeholder={empty}
        title={`${minus(String(of.low * times))} to ${of.high * times} ${unit}`}
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
