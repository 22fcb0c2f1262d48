'use client';

import { X } from 'lucide-react';
import type { RefObject } from 'react';
import { useKitDesk } from '../pads/kit-context';
import type { useAudition } from '../sound/use-audition';
import type { PickerMode, Picking } from './use-picking';

interface HeadProps {
  readonly picking: Picking;
  readonly audition: ReturnType<typeof useAudition>;
  readonly search: RefObject<HTMLInputElement | null>;
  readonly focusList: () => void;
}

const MODES: readonly (readonly [PickerMode, string])[] = [
  ['recordings', 'Recordings'],
  ['hits', 'Hits'],
];

/** What the picker lists, the search in it, and whether arrows sound. */
export function PickerHead({ picking, audition, search, focusList }: HeadProps) {
  const { setPicker } = useKitDesk();
  return (
    <header className="flex h-8 flex-none items-center gap-2 border-b border-line px-3 text-[12px]">
      {MODES.map(([mode, label]) => (
        <button
          key={mode}
          type="button"
          aria-pressed={picking.mode === mode}
          className={`rounded px-1 ${picking.mode === mode ? 'font-semibold text-verdigris' : 'text-soft hover:text-ink'}`}
          onClick={() => {
            picking.setMode(mode);
            focusList();
          }}
        >
          {label}
        </button>
      ))}
      <input
        ref={search}
        type="search"
        aria-label="Search the picker"
        placeholder="Search  ( / )"
        className="h-6 min-w-0 flex-1 rounded-md border border-line px-2"
        value={picking.query}
        onChange={(event) => picking.setQuery(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== 'Enter' && event.key !== 'Escape' && event.key !== 'ArrowDown') return;
          event.preventDefault();
          event.stopPropagation();
          focusList();
          if (event.key !== 'Escape') picking.choose(picking.rows[0]);
        }}
      />
      <button
        type="button"
        aria-pressed={audition.byItself}
        title="Whether arrows sound what they choose"
        className={`whitespace-nowrap ${audition.byItself ? 'text-verdigris' : 'text-soft'}`}
        onClick={audition.switchByItself}
      >
        {audition.byItself ? 'arrows sound' : 'arrows silent'}
      </button>
      <button
        type="button"
        aria-label="Close the picker"
        className="text-soft hover:text-ink"
        onClick={() => setPicker(false)}
      >
        <X size={14} />
      </button>
    </header>
  );
}
