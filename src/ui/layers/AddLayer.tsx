import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { useState } from 'react';
import type { HitView } from '@/contract/views';
import { MOST_MEMBERS } from '@/core/layering/parameters';
import { useCommands } from '../data/commit';
import { Glyph } from '../parts/Glyph';
import { addMember } from './edits';

/** So many of the library are offered for what is typed. */
const MOST_SHOWN = 12;

/** Finds a hit by its name and adds it as a layer. */
export function AddLayer({ hit, hits }: { hit: HitView; hits: readonly HitView[] }) {
  const { commit } = useCommands();
  const [query, setQuery] = useState('');
  const wanted = query.trim().toLocaleLowerCase('en');
  const found =
    wanted === ''
      ? []
      : hits
          .filter(
            ({ id, name, binnedAt }) =>
              id !== hit.id && binnedAt === null && name.toLocaleLowerCase('en').includes(wanted),
          )
          .slice(0, MOST_SHOWN);
  const add = (other: HitView | null) => {
    setQuery('');
    if (!other) return;
    const position = Math.max(-1, ...hit.members.map((m) => m.position)) + 1;
    void commit(`added ${other.name} to ${hit.name}`, [
      addMember(hit.id, { hitId: other.id, position }, () => crypto.randomUUID()),
    ]);
  };
  if (hit.members.length >= MOST_MEMBERS) return null;
  return (
    <Combobox value={null as HitView | null} onChange={add} immediate={false}>
      <ComboboxInput
        aria-label="Add a layer"
        className="h-7 w-[112px] max-xl:w-[92px] rounded-md border border-line px-2"
        placeholder="add a layer"
        displayValue={() => query}
        onChange={(event) => setQuery(event.target.value)}
      />
      <ComboboxOptions
        anchor="bottom start"
        className="z-30 w-[260px] rounded-lg border border-edge bg-sheet p-1 shadow-lg [--anchor-gap:4px] empty:invisible"
      >
        {found.map((other) => (
          <ComboboxOption
            key={other.id}
            value={other}
            className="flex cursor-pointer items-center gap-2 rounded px-2 py-1 data-focus:bg-selection"
          >
            <Glyph family={other.family} />
            <span className="truncate">{other.name}</span>
          </ComboboxOption>
        ))}
      </ComboboxOptions>
    </Combobox>
  );
}
