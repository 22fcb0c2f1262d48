'use client';

import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react';
import { ChevronDown } from 'lucide-react';
import { useEffect, useRef } from 'react';

export type Options<V> = readonly (readonly [value: V, label: string])[];

export interface ChoiceProps<V extends string | number | boolean | null> {
  readonly label: string;
  readonly value: V | undefined;
  readonly options: Options<V>;
  /** Text while nothing is chosen, or in place of the chosen option's label. */
  readonly shown?: string | undefined;
  readonly title?: string;
  readonly className?: string;
  /** In tables: the arrow shows on hover only, to leave room for the text. */
  readonly quiet?: boolean;
  readonly onChoose: (value: V) => void;
  /** The option that the keys or the pointer have come to; undefined when the list is closed. */
  readonly onGoOver?: (value: V | undefined) => void;
}

/** Chooses one of several values from a list. Drags of the surrounding row do not start in it. */
export function Choice<V extends string | number | boolean | null>(props: ChoiceProps<V>) {
  const { label, value, options, onChoose, onGoOver, title, className = '', quiet = false } = props;
  const shown = props.shown ?? options.find(([v]) => v === value)?.[1] ?? '';
  return (
    // Listbox takes undefined for "not controlled"; no option is equal to this.
    <Listbox value={value === undefined ? NOTHING : value} onChange={(v) => v !== NOTHING && onChoose(v as V)}>
      <ListboxButton
        aria-label={`${label}: ${shown}`}
        data-choice={label}
        title={title ?? shown}
        className={`group inline-flex min-w-0 items-center gap-1 rounded px-1 text-left ${className}`}
        onPointerDown={(event) => event.stopPropagation()}
      >
        <span className="min-w-0 flex-1 truncate">{shown}</span>
        <ChevronDown
          size={12}
          aria-hidden
          className={`flex-none text-soft ${quiet ? 'hidden group-hover:block group-focus-visible:block' : ''}`}
        />
      </ListboxButton>
      <ListboxOptions
        anchor={{ to: 'bottom start', gap: 2, padding: 8 }}
        className="z-50 min-w-[var(--button-width)] rounded-md border border-edge bg-sheet py-1 shadow-lg outline-none [--anchor-max-height:420px]"
        // An open list takes the keys; the page's shortcuts do not see them.
        onKeyDown={(event) => event.stopPropagation()}
      >
        {onGoOver && <Closing onClose={() => onGoOver(undefined)} />}
        {options.map(([v, text]) => (
          <ListboxOption
            key={String(v)}
            value={v}
            data-value={String(v)}
            className="cursor-pointer whitespace-nowrap px-3 py-[3px] data-focus:bg-selection data-selected:font-semibold"
          >
            {onGoOver
              ? ({ focus }) => (
                  <>
                    <GoneOver isOn={focus} onGoOver={() => onGoOver(v)} />
                    {text}
                  </>
                )
              : text}
          </ListboxOption>
        ))}
      </ListboxOptions>
    </Listbox>
  );
}

/** Tells when its option is come to. */
function GoneOver({ isOn, onGoOver }: { isOn: boolean; onGoOver: () => void }) {
  const latest = useRef(onGoOver);
  latest.current = onGoOver;
  useEffect(() => {
    if (isOn) latest.current();
  }, [isOn]);
  return null;
}

/** Tells when the list around it is closed. */
function Closing({ onClose }: { onClose: () => void }) {
  const latest = useRef(onClose);
  latest.current = onClose;
  useEffect(() => () => latest.current(), []);
  return null;
}

const NOTHING = Symbol('nothing chosen');
