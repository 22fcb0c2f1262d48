'use client';

import { ChevronDown } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { Choice, type ChoiceProps } from './Choice';

/** A pointer that is on it for so long did not come by in passing, as when rows scroll under it. */
const REST_MS = 40;

/**
 * A choice that is only text until the pointer or the focus is on it: for tables, in which hundreds of lists that could open
 * would make scrolling slow.
 */
export function LazyChoice<V extends string | number | boolean | null>(props: ChoiceProps<V>) {
  const { label, value, options, className = '' } = props;
  const [isReady, setReady] = useState(false);
  const takesFocus = useRef(false);
  const opens = useRef(false);
  const rests = useRef(0);
  useEffect(() => () => clearTimeout(rests.current), []);
  const box = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    if (!isReady || !takesFocus.current) return;
    const button = box.current?.querySelector('button');
    button?.focus();
    // The press that made it ready was meant for the list.
    if (opens.current) button?.click();
  }, [isReady]);
  const shown = props.shown ?? options.find(([v]) => v === value)?.[1] ?? '';
  if (isReady)
    return (
      <span ref={box} className="min-w-0">
        <Choice {...props} />
      </span>
    );
  return (
    <button
      type="button"
      aria-label={`${label}: ${shown}`}
      aria-haspopup="listbox"
      data-choice={label}
      title={props.title ?? shown}
      className={`group inline-flex min-w-0 items-center gap-1 rounded px-1 text-left ${className}`}
      onPointerEnter={() => {
        rests.current = window.setTimeout(() => setReady(true), REST_MS);
      }}
      onPointerLeave={() => clearTimeout(rests.current)}
      onPointerDown={() => {
        opens.current = true;
      }}
      onFocus={() => {
        takesFocus.current = true;
        setReady(true);
      }}
    >
      <span className="min-w-0 flex-1 truncate">{shown}</span>
      <ChevronDown size={12} aria-hidden className="hidden flex-none text-soft" />
    </button>
  );
}
