'use client';

import { useEffect, useMemo, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { KitView } from '@/contract/views';
import { PAD_GROUP_NAMES, PAD_GROUPS, type PadGroup } from '@/core/kit/groups';
import { noteOf } from '@/core/kit/layout';
import type { Pad } from '@/core/kit/model';
import { PAD_PARAMETERS } from '@/core/kit/parameters';
import { useCommands } from '../data/commit';
import { useKitDesk } from '../pads/kit-context';
import { pageKey } from '../parts/focus';
import { ListHead } from '../parts/ListHead';
import { type SelectMode, useListing } from '../parts/listing';
import { useNoteName } from '../parts/note-names';
import { SmallTabs } from '../parts/SmallTabs';
import { VirtualRows } from '../parts/VirtualRows';
import { type Key, PadRow } from './PadRow';

const ROW_PX = 26;
const NAME_COLUMNS = '56px minmax(120px, 200px)';

/** What a value is sorted by. */
const sorted = (value: unknown) => (typeof value === 'number' || value === null ? value : String(value));

const SORTERS = {
  note: (pad: Pad) => noteOf(pad),
  name: (pad: Pad) => pad.role || pad.name,
  ...Object.fromEntries(
    Object.values(PAD_GROUPS)
      .flat()
      .filter((key) => key !== 'note')
      .map((key) => [key, (pad: Pad) => sorted(pad[key as Key])]),
  ),
};

/** All pads of a kit with every parameter, sorted and typed into; what is typed goes to every pad that is chosen. */
export function PadTable({ view }: { view: KitView }) {
  const { commit } = useCommands();
  const { chosen, setChosen } = useKitDesk();
  const noteName = useNoteName();
  const [group, setGroup] = useState<PadGroup>('Plays');
  const list = useListing('pads', view.pads, (pad) => `${pad.role} ${pad.name}`, SORTERS, { by: 'note', down: false });
  // The pad that is chosen under the hands is chosen here.
  const underHands = view.pads.find(({ position }) => position === chosen)?.id;
  const { choose: chooseRow } = list;
  useEffect(() => {
    if (underHands) chooseRow(underHands);
  }, [underHands, chooseRow]);
  const keys: readonly Key[] = PAD_GROUPS[group];
  useHotkeys('mod+a', list.chooseAll, pageKey);
  const columns = useMemo(() => `${NAME_COLUMNS} repeat(${keys.length}, minmax(64px, 1fr))`, [keys]);
  const set = (pad: Stored<Pad>, key: Key, value: unknown) => {
    const all = list.isSelected(pad.id) ? list.selected : [pad];
    const changes = all.map(
      (one): Change => ({ op: 'update', doc: 'pad', id: one.id, rev: one.rev, set: { [key]: value } }),
    );
    const whom = all.length === 1 ? pad.name : `${all.length} pads`;
    void commit(`changed the ${PAD_PARAMETERS[key].said} of ${whom}`, changes);
  };
  const choose = (pad: Stored<Pad>, how: SelectMode) => {
    list.choose(pad.id, how);
    if (how === 'alone') setChosen(pad.position);
  };
  return (
    <section aria-label="All pads" className="flex min-w-0 flex-1 flex-col px-4 py-1">
      <header className="flex h-7 flex-none items-center gap-4 text-[12px]">
        <SmallTabs
          label="Group of parameters"
          tabs={PAD_GROUP_NAMES.map((name) => [name, name, `The parameters of ${name.toLowerCase()}`] as const)}
          shown={group}
          onShow={setGroup}
        />
        <span className="ml-auto text-soft">
          {list.selected.length > 1
            ? `${list.selected.length} pads are chosen: what is typed goes to all of them`
            : 'Ctrl or Shift click chooses several, Ctrl A all'}
        </span>
      </header>
      <div
        className="grid flex-none gap-2 border-line border-b text-[12px] text-soft"
        style={{ gridTemplateColumns: columns }}
      >
        <ListHead column="note" label="Note" order={list.order} onSort={list.sortBy} />
        <ListHead column="name" label="Pad" order={list.order} onSort={list.sortBy} />
        {keys.map((key) => (
          <ListHead key={key} column={key} label={headOf(key)} order={list.order} onSort={list.sortBy} right />
        ))}
      </div>
      <VirtualRows
        count={list.shown.length}
        height={ROW_PX}
        index={list.shown.findIndex(({ position }) => position === chosen)}
        keyOf={(i) => (list.shown[i] as Stored<Pad>).id}
        nothing={<p className="py-2 text-soft">This kit has no pads yet. Lay sounds on it, or give it a layout.</p>}
      >
        {(i) => {
          const pad = list.shown[i] as Stored<Pad>;
          return (
            <PadRow
              {...{ pad, keys, columns, choose, set }}
              note={`${noteOf(pad)} ${noteName(noteOf(pad))}`}
              isSelected={list.isSelected(pad.id)}
            />
          );
        }}
      </VirtualRows>
    </section>
  );
}

function headOf(key: Key): string {
  const of = PAD_PARAMETERS[key];
  return of.kind === 'number' && of.unit ? `${of.label} ${of.unit}` : of.label;
}
