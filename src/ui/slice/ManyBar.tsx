'use client';

import { paddedNumber } from '@/core/naming/names';
import type { Slice } from '@/core/recording/model';
import { useCommands } from '../data/commit';
import type { Stretch } from '../pads/laying';
import { FamilySelect } from '../parts/FamilySelect';
import { TextField } from '../parts/TextField';
import { TreatMany } from '../treatment/TreatMany';
import type { StoredSlice } from './use-marks';

export interface ManyActions {
  readonly merge: () => void;
  readonly lock: () => void;
  readonly letDie: () => void;
  readonly remove: () => void;
}

/** Edits of several chosen slices at once. */
export function ManyBar({
  chosen,
  stretches,
  many,
}: {
  chosen: readonly StoredSlice[];
  stretches: readonly Stretch[];
  many: ManyActions;
}) {
  const { commit } = useCommands();
  const setAll = (label: string, fieldsOf: (slice: StoredSlice, i: number) => Partial<Slice>) =>
    void commit(
      label,
      chosen.map((slice, i) => ({
        op: 'update',
        doc: 'slice',
        id: slice.id,
        rev: slice.rev,
        set: fieldsOf(slice, i),
      })),
    );
  const name = (wanted: string) =>
    setAll(
      wanted === '' ? `took the names of ${chosen.length} slices away` : `named ${chosen.length} slices`,
      (_, i) => ({
        name: wanted === '' ? '' : `${wanted} ${paddedNumber(i + 1, chosen.length)}`,
      }),
    );
  const actions = [
    ['Merge', many.merge, 'Merge them, and what lies between ( \\ )'],
    ['Lock', many.lock, 'Lock them, or unlock them all (Shift \\)'],
    ['Die away', many.letDie, 'Set their ends to where their sounds have died away ( ; )'],
    ['Delete', many.remove, 'Remove their marks (Delete)'],
  ] as const;
  const [first] = chosen;
  const same = first && chosen.every((slice) => slice.family === first.family) ? first.family : null;
  return (
    <div className="flex h-8 flex-none items-center gap-1 border-line border-b bg-paper px-3 text-[12px]">
      <span className="whitespace-nowrap font-semibold">{chosen.length} chosen</span>
      <FamilySelect
        label="Family of those chosen"
        className="h-6 w-[104px]"
        value={same}
        onChoose={(family) => setAll(`named ${chosen.length} slices ${family ?? 'of no family'}`, () => ({ family }))}
      />
      <TextField
        label="Name of those chosen"
        className="h-6 min-w-0 flex-1 border border-line px-1"
        value=""
        maxLength={110}
        placeholder="name, then 01, 02 …"
        onCommit={name}
      />
      <TreatMany stretches={stretches} className="h-6 whitespace-nowrap rounded px-1 hover:bg-sheet" />
      {actions.map(([label, act, title]) => (
        <button
          key={label}
          type="button"
          className="h-6 whitespace-nowrap rounded px-1 hover:bg-sheet"
          title={title}
          onClick={act}
        >
          {label}
        </button>
      ))}
    </div>
  );
}
