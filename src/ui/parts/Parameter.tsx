'use client';

import { X } from 'lucide-react';
import { type KeyboardEvent, type PointerEvent, type ReactNode, useId, useRef, useState } from 'react';
import type { NumberParameter } from '@/core/parameter/parameter';
import { clip, shareOf, typedValue, unitOf, valueAt } from '@/core/parameter/values';
import { minus } from './figures';

export type AnyNumber = NumberParameter<never> | NumberParameter<null>;

interface ParameterProps {
  readonly of: AnyNumber;
  readonly value: number | null;
  readonly label?: string;
  /** Its name is read aloud only: something beside it says what it is. */
  readonly isBare?: boolean;
  /** Overrides the declared unit, where another says more about the value. */
  readonly unit?: string;
  /** Overrides the declared initial value, where that depends on something else. */
  readonly initial?: number;
  /** The value shown stands for an absent one: there is nothing to reset. */
  readonly standsIn?: boolean;
  /** What else moves it, in words: marked beside its name. */
  readonly movedBy?: string | undefined;
  /** While dragging: for drafts, not stored. Null when the drag is given up. */
  readonly onPreview?: ((value: number | null) => void) | undefined;
  /** When bar, arrow key or Enter is released: to be stored, once a gesture. */
  readonly onCommit: (value: number | null) => void;
}

/**
 * A number as a row: name, value with unit to type, thin bar. Drag the bar; arrow keys step, with Shift finely; double
 * click resets.
 */
export function Parameter(props: ParameterProps) {
  const { of, value, label = of.label, unit, onCommit } = props;
  if (value === null) return <Absent of={of} label={label} onSet={onCommit} />;
  return (
    <Row label={label} movedBy={props.movedBy} isBare={props.isBare}>
      {(id) => (
        <>
          <Figure
            id={id}
            of={of}
            value={value}
            onCommit={onCommit}
            preview={props.onPreview}
            label={label}
            unit={unit}
            initial={props.initial}
          />
          {of.none && !props.standsIn && (
            <button
              type="button"
              className="-ml-1 flex-none rounded text-soft hover:text-ink"
              aria-label={`${label}: ${of.none.label}`}
              title={`Back to “${of.none.label}”`}
              onClick={() => onCommit(null)}
            >
              <X size={12} aria-hidden />
            </button>
          )}
        </>
      )}
    </Row>
  );
}

function Row({
  label,
  movedBy,
  isBare = false,
  children,
}: {
  label: string;
  movedBy?: string | undefined;
  isBare?: boolean | undefined;
  children: (id: string) => ReactNode;
}) {
  const id = useId();
  return (
    <div className="@container flex h-[26px] items-center gap-2 border-b border-line">
      <span className={isBare ? 'sr-only' : 'flex w-[104px] flex-none items-baseline @max-[300px]:w-[76px]'}>
        <label htmlFor={id} className="truncate">
          {label}
        </label>
        {movedBy && (
          <span
            className="ml-1 flex-none font-semibold text-ochre"
            title={`Moved by ${movedBy}`}
            aria-label={`moved by ${movedBy}`}
            role="img"
          >
            ~
          </span>
        )}
      </span>
      {children(id)}
    </div>
  );
}

/** An absent number: its meaning, and a button that switches it on. */
function Absent({ of, label, onSet }: { of: AnyNumber; label: string; onSet: (value: number) => void }) {
  if (!of.none) return null;
  const { label: none, first } = of.none;
  return (
    <Row label={label}>
      {(id) => (
        <>
          <span className="figure w-[112px] px-1 text-soft">{none}</span>
          <button
            id={id}
            type="button"
            aria-label={`${label}: set`}
            className="whitespace-nowrap rounded px-1 text-verdigris hover:underline"
            title={`To ${minus(String(first * of.times))} ${of.unit}`}
            onClick={() => onSet(first)}
          >
            Set
          </button>
        </>
      )}
    </Row>
  );
}

interface FigureProps {
  readonly id: string;
  readonly of: AnyNumber;
  readonly label: string;
  readonly unit: string | undefined;
  readonly value: number;
  readonly initial: number | undefined;
  readonly preview: ((value: number | null) => void) | undefined;
  readonly onCommit: (value: number) => void;
}

/** The value to type in, its unit, and its bar. */
function Figure({ id, of, label, unit, value, initial, preview, onCommit }: FigureProps) {
  const [dragged, setDragged] = useState<number | null>(null);
  // A draft may come back as the value: a drag is compared with the value before it.
  const rest = useRef(value);
  if (dragged === null) rest.current = value;
  const shown = dragged ?? value;
  const drag = (v: number | null) => {
    setDragged(v);
    preview?.(v);
  };
  const finish = (wanted: number) => {
    setDragged(null);
    if (wanted !== rest.current) onCommit(wanted);
    else preview?.(null);
  };
  const text = (shown * of.times).toFixed(of.digits);
  const unitText = unit ?? unitOf(of, shown);
  return (
    <>
      <Typed id={id} of={of} text={text} onCommit={(wanted) => wanted !== value && onCommit(wanted)} />
      <span className="figure -ml-1 w-[56px] flex-none text-soft @max-[180px]:w-[24px]">{unitText}</span>
      <Bar
        of={of}
        label={label}
        text={`${text} ${unitText}`}
        shown={shown}
        dragging={dragged !== null}
        onDrag={drag}
        onFinish={finish}
        onReset={() => onCommit(initial ?? of.initial ?? of.low)}
      />
    </>
  );
}

function Typed({ id, of, text, onCommit }: { id: string; of: AnyNumber; text: string; onCommit: (v: number) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const finish = () => {
    const wanted = typed === null ? null : typedValue(of, typed);
    if (wanted !== null) onCommit(wanted);
    setTyped(null);
  };
  return (
    <input
      id={id}
      className="figure w-[52px] flex-none rounded-sm px-1 text-right"
      inputMode="decimal"
      title={`${minus(String(of.low * of.times))} to ${of.high * of.times} ${of.unit}`}
      value={typed ?? minus(text)}
      onFocus={(event) => event.target.select()}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={finish}
      onKeyDown={(event) => {
        const field = event.currentTarget;
        if (event.key === 'Enter') field.blur();
        if (event.key === 'Escape') {
          setTyped(null);
          requestAnimationFrame(() => field.blur());
        }
      }}
    />
  );
}

interface BarProps {
  readonly of: AnyNumber;
  readonly label: string;
  readonly text: string;
  readonly shown: number;
  readonly dragging: boolean;
  readonly onDrag: (value: number | null) => void;
  readonly onFinish: (value: number) => void;
  readonly onReset: () => void;
}

function Bar({ of, label, text, shown, dragging, onDrag, onFinish, onReset }: BarProps) {
  const bar = useRef<HTMLDivElement>(null);
  const share = shareOf(of, shown);
  const middle = of.bipolar ? shareOf(of, 0) : 0;
  const at = (event: PointerEvent) => {
    const box = (bar.current as HTMLDivElement).getBoundingClientRect();
    const place = Math.min(1, Math.max(0, (event.clientX - box.left) / box.width));
    return clip(of, valueAt(of, place), event.shiftKey ? of.fine : of.step);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const grain = event.shiftKey ? of.fine : of.step;
    const by = {
      ArrowRight: grain,
      ArrowUp: grain,
      ArrowLeft: -grain,
      ArrowDown: -grain,
      PageUp: of.step * 10,
      PageDown: -of.step * 10,
    }[event.key];
    if (by !== undefined) onDrag(clip(of, shown + by, grain));
    else if (event.key === 'Home') onDrag(of.low);
    else if (event.key === 'End') onDrag(of.high);
    else if (event.key === 'Escape' && dragging) onDrag(null);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div
      ref={bar}
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuemin={of.low * of.times}
      aria-valuemax={of.high * of.times}
      aria-valuenow={shown * of.times}
      aria-valuetext={text}
      className="relative h-6 min-w-[30px] flex-1 cursor-ew-resize touch-none"
      onKeyDown={onKeyDown}
      onKeyUp={() => dragging && onFinish(shown)}
      onBlur={() => dragging && onFinish(shown)}
      onDoubleClick={onReset}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        onDrag(at(event));
      }}
      onPointerMove={(event) => dragging && onDrag(at(event))}
      onPointerUp={(event) => dragging && onFinish(at(event))}
      onPointerCancel={() => onDrag(null)}
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
  );
}
