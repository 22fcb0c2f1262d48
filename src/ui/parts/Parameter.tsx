'use client';

import { type KeyboardEvent, type PointerEvent, useId, useRef, useState } from 'react';
import { minus } from './figures';

interface ParameterProps {
  readonly label: string;
  readonly value: number;
  readonly unit: string;
  readonly low: number;
  readonly high: number;
  readonly step: number;
  /** Step with Shift held. */
  readonly fine?: number;
  readonly digits?: number;
  readonly standard: number;
  /** The bar grows from the middle (pan, tune) instead of from the left. */
  readonly bipolar?: boolean;
  /** While dragging: to be heard and seen, not stored. */
  readonly onPreview?: (value: number | null) => void;
  /** When the bar, an arrow key or Enter is let go: to be stored, once a gesture. */
  readonly onCommit: (value: number) => void;
}

/**
 * A parameter as a row: name, value with unit to type in, a thin bar. Drag the bar; arrow keys step, with Shift finely;
 * double click goes back to the standard value.
 */
export function Parameter(props: ParameterProps) {
  const {
    label,
    value,
    unit,
    low,
    high,
    step,
    fine = step / 10,
    digits = 1,
    standard,
    bipolar,
    onPreview,
    onCommit,
  } = props;
  const [dragged, setDragged] = useState<number | null>(null);
  const [typed, setTyped] = useState<string | null>(null);
  const bar = useRef<HTMLDivElement>(null);
  const id = useId();
  const shown = dragged ?? value;
  const share = (shown - low) / (high - low);
  const middle = bipolar ? (0 - low) / (high - low) : 0;

  const clip = (v: number, grain: number) => {
    const whole = Math.round(v / grain) * grain;
    return Math.min(high, Math.max(low, Number(whole.toFixed(6))));
  };
  const at = (event: PointerEvent) => {
    const box = (bar.current as HTMLDivElement).getBoundingClientRect();
    return clip(low + ((event.clientX - box.left) / box.width) * (high - low), event.shiftKey ? fine : step);
  };
  const drag = (v: number | null) => {
    setDragged(v);
    onPreview?.(v);
  };
  const finish = (wanted: number) => {
    drag(null);
    if (wanted !== value) onCommit(wanted);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const grain = event.shiftKey ? fine : step;
    const by = {
      ArrowRight: grain,
      ArrowUp: grain,
      ArrowLeft: -grain,
      ArrowDown: -grain,
      PageUp: step * 10,
      PageDown: -step * 10,
    }[event.key];
    if (by !== undefined) drag(clip(shown + by, grain));
    else if (event.key === 'Home') drag(low);
    else if (event.key === 'End') drag(high);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const finishTyping = () => {
    const number = Number(
      (typed ?? '')
        .replace('−', '-')
        .replace(',', '.')
        .replace(/[^0-9.eE+-]/g, ''),
    );
    if (typed !== null && typed.trim() !== '' && Number.isFinite(number)) {
      const wanted = clip(number, fine);
      if (wanted !== value) onCommit(wanted);
    }
    setTyped(null);
  };

  return (
    <div className="@container flex h-[26px] items-center gap-2 border-b border-line">
      <label htmlFor={id} className="w-[104px] flex-none truncate @max-[300px]:w-[76px]">
        {label}
      </label>
      <input
        id={id}
        className="figure w-[52px] flex-none rounded-sm px-1 text-right"
        inputMode="decimal"
        value={typed ?? minus(shown.toFixed(digits))}
        onFocus={(event) => event.target.select()}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={finishTyping}
        onKeyDown={(event) => {
          if (event.key === 'Enter') (event.target as HTMLInputElement).blur();
          if (event.key === 'Escape') {
            setTyped(null);
            requestAnimationFrame(() => (event.target as HTMLInputElement).blur());
          }
        }}
      />
      <span className="figure -ml-1 w-[56px] flex-none text-soft">{unit}</span>
      <div
        ref={bar}
        role="slider"
        tabIndex={0}
        aria-label={label}
        aria-valuemin={low}
        aria-valuemax={high}
        aria-valuenow={shown}
        aria-valuetext={`${shown.toFixed(digits)} ${unit}`}
        className="relative h-6 min-w-[30px] flex-1 cursor-ew-resize touch-none"
        onKeyDown={onKeyDown}
        onKeyUp={() => dragged !== null && finish(dragged)}
        onBlur={() => dragged !== null && finish(dragged)}
        onDoubleClick={() => onCommit(standard)}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          drag(at(event));
        }}
        onPointerMove={(event) => {
          if (dragged !== null) drag(at(event));
        }}
        onPointerUp={(event) => {
          if (dragged !== null) finish(at(event));
        }}
        onPointerCancel={() => drag(null)}
      >
        <div className="absolute top-[9px] h-[6px] w-full rounded-full bg-sunk" />
        <div
          className="absolute top-[9px] h-[6px] rounded-full bg-verdigris"
          style={{
            left: `${Math.min(share, middle) * 100}%`,
            width: `${Math.max(0.012, Math.abs(share - middle)) * 100}%`,
          }}
        />
      </div>
    </div>
  );
}
