'use client';

import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Dialog, DialogPanel } from '@headlessui/react';
import { matchSorter } from 'match-sorter';
import { useState } from 'react';
import { type Entry, useEntries } from './use-entries';

/** Most entries that are listed; typing finds the others. */
const MOST_LISTED = 200;

/** Finds a place, a recording, a hit or a kit, or runs an action of the page, by typing. */
export function CommandBox({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-50" aria-label="Find or do">
      <div aria-hidden className="fixed inset-0 bg-ink/20" />
      <DialogPanel className="fixed top-[72px] left-1/2 w-[560px] -translate-x-1/2 rounded-xl border border-edge bg-sheet p-2 shadow-xl">
        <Finder onClose={onClose} />
      </DialogPanel>
    </Dialog>
  );
}

function Finder({ onClose }: { onClose: () => void }) {
  // The field is there before the entries: what is typed meanwhile is looked for in all there is.
  const { entries, ready } = useEntries();
  const [query, setQuery] = useState('');
  const found = query.trim() === '' ? entries : matchSorter(entries, query, { keys: ['name', 'also'] });
  const listed = grouped(found).slice(0, MOST_LISTED);
  return (
    <Combobox<Entry | null>
      value={null}
      onChange={(entry) => {
        if (!entry) return;
        onClose();
        entry.run();
      }}
    >
      <ComboboxInput
        autoFocus
        aria-label="A place, a recording, a hit, a kit, or what to do"
        placeholder="A place, a recording, a hit, a kit, or what to do"
        className="mb-1 w-full border-b border-line px-3 py-2 text-[15px] outline-none"
        value={query}
        onChange={(event) => setQuery(event.target.value)}
        onKeyDown={(event) => {
          // Typed so fast that no entry is marked yet, the first one is meant.
          const [first] = listed;
          if (event.key !== 'Enter' || event.currentTarget.getAttribute('aria-activedescendant') || !first) return;
          event.preventDefault();
          onClose();
          first.run();
        }}
      />
      <ComboboxOptions static className="max-h-[420px] overflow-auto">
        {listed.map((entry, i) => (
          <ComboboxOption key={entry.key} value={entry} className="group">
            {listed[i - 1]?.group !== entry.group && <p className="px-3 pt-2 text-[12px] text-soft">{entry.group}</p>}
            <span className="flex cursor-pointer items-center rounded-md px-3 py-[6px] group-data-focus:bg-selection">
              <span className="min-w-0 flex-1 truncate">{entry.name}</span>
              <span className="figure ml-3 flex-none text-[12px] text-soft">{entry.hint}</span>
            </span>
          </ComboboxOption>
        ))}
      </ComboboxOptions>
      {listed.length === 0 && (
        <p className="px-3 py-4 text-soft">{ready ? 'Nothing goes by that name.' : 'Fetching …'}</p>
      )}
    </Combobox>
  );
}

/** Entries grouped, the group with the best match first. */
function grouped(entries: readonly Entry[]): Entry[] {
  const groups = new Map<Entry['group'], Entry[]>();
  for (const entry of entries) {
    const group = groups.get(entry.group);
    if (group) group.push(entry);
    else groups.set(entry.group, [entry]);
  }
  return [...groups.values()].flat();
}
