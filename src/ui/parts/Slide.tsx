'use client';

import { useEffect, useRef, useState } from 'react';
import { minus } from './figures';

/** A slider with its figure: followed while it is held, and told when it is let go. */
export function Slide({
  label,
  unit,
  low,
  high,
  value,
  onChange,
}: {
  label: string;
  unit: string;
  low: number;
  high: number;
  value: number;
  onChange: (value: number, done: boolean) => void;
}) {
  const [held, setHeld] = useState<number | null>(null);
  const latest = useRef(onChange);
  latest.current = onChange;
  const input = useRef<HTMLInputElement>(null);
  // React's onChange follows every movement; the browser's own `change` event tells when the handle is let go.
  useEffect(() => {
    const element = input.current;
    if (!element) return;
    const done = () => {
      setHeld(null);
      latest.current(Number(element.value), true);
    };
    element.addEventListener('change', done);
    return () => element.removeEventListener('change', done);
  }, []);
  const shown = held ?? value;
  return (
    <label className="flex items-center gap-2 whitespace-nowrap">
      {label}
      <input
        ref={input}
        type="range"
        className="h-6 w-[72px] accent-verdigris"
        min={low}
        max={high}
        value={shown}
        aria-valuetext={`${shown} ${unit}`}
        onInput={(event) => {
          const next = Number(event.currentTarget.value);
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
