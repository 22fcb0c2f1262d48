'use client';

import { useEffect, useRef, useState } from 'react';
import { clip } from '@/core/parameter/values';
import { minus } from './figures';
import type { AnyNumber } from './Parameter';

/** A slider with its figure: reports while it is held, and when it is released. */
export function Slide({
  of,
  value,
  low = of.low,
  onChange,
}: {
  of: AnyNumber;
  value: number;
  /** Where the slider begins, if not at the lowest value. */
  low?: number;
  onChange: (value: number, done: boolean) => void;
}) {
  const { label, unit, times } = of;
  const stored = (shown: string) => clip(of, Number(shown) / times);
  const [held, setHeld] = useState<number | null>(null);
  const latest = useRef(onChange);
  latest.current = onChange;
  const fromShown = useRef(stored);
  fromShown.current = stored;
  const input = useRef<HTMLInputElement>(null);
  // React's onChange fires on every movement; the native `change` event fires on release.
  useEffect(() => {
    const element = input.current;
    if (!element) return;
    const done = () => {
      setHeld(null);
      latest.current(fromShown.current(element.value), true);
    };
    element.addEventListener('change', done);
    return () => element.removeEventListener('change', done);
  }, []);
  const shown = Number(((held ?? value) * times).toFixed(of.digits));
  return (
    <label className="flex items-center gap-2 whitespace-nowrap">
      {label}
      <input
        ref={input}
        type="range"
        className="h-6 w-[72px] accent-verdigris"
        min={low * times}
        max={of.high * times}
        step={of.step * times}
        value={shown}
        aria-valuetext={`${shown} ${unit}`}
        onInput={(event) => {
          const next = stored(event.currentTarget.value);
          setHeld(next);
          onChange(next, false);
        }}
        onChange={() => {}}
      />
      <span className="figure text-[12px]">
        {minus(String(shown))} {unit}
      </span>
    </label>
  );
}
