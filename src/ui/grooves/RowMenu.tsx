import { Menu, MenuButton, MenuItems } from '@headlessui/react';
import { Ellipsis } from 'lucide-react';
import type { RefObject } from 'react';
import type { Change } from '@/contract/edits';
import { withoutRev } from '@/contract/groove-changes';
import { useCommands } from '../data/commit';
import { useKitDesk } from '../pads/kit-context';
import { type ActionItem, ActionItems } from '../parts/ActionItems';
import { noteChanges, placed } from './edits';
import { renaming } from './Renamed';
import type { ShownRow } from './rows';
import type { GrooveDesk } from './use-groove-desk';

/** What can be done to the strokes of one row; clearing all of them is elsewhere. */
export function RowMenu({ now, row }: { now: RefObject<GrooveDesk>; row: ShownRow }) {
  return (
    <Menu>
      {({ open }) => (
        <>
          <MenuButton
            aria-label={`Strokes of ${row.name}`}
            title="Its strokes, name and sound"
            className="flex-none rounded px-[2px] text-soft hover:text-ink disabled:opacity-30"
          >
            <Ellipsis size={12} aria-hidden />
          </MenuButton>
          {open && <Actions desk={now.current} row={row} />}
        </>
      )}
    </Menu>
  );
}

function Actions({ desk, row }: { desk: GrooveDesk; row: ShownRow }) {
  const { commit } = useCommands();
  const { view, rows } = desk;
  const at = rows.indexOf(row);
  const { notes, name } = row;
  const any = notes.length > 0;
  const { setChosen, setPicker } = useKitDesk();
  const count = notes.length === 1 ? 'its stroke' : `its ${notes.length} strokes`;
  const clear = () => void commit(`cleared the strokes of ${name}`, noteChanges(notes, []));
  const send = (to: ShownRow | undefined, isCopy: boolean) => {
    if (!to?.pad) return;
    const made = strokesOn(view, to, row);
    void commit(
      `${isCopy ? 'copied' : 'moved'} the strokes of ${name} to ${to.name}`,
      isCopy ? made : [...noteChanges(notes, []), ...made],
    );
  };
  const [above, below] = [rows[at - 1], rows[at + 1]];
  const actions: readonly ActionItem[] = [
    [`Move ${count} up${above ? ` to ${above.name}` : ''}`, any && !!above?.pad, () => send(above, false)],
    [`Move ${count} down${below ? ` to ${below.name}` : ''}`, any && !!below?.pad, () => send(below, false)],
    [`Copy ${count} to ${below?.name ?? 'the row below'}`, any && !!below?.pad, () => send(below, true)],
    [`Clear ${count}`, any, clear],
    ['Rename …', true, () => renaming.set(row.key)],
    [
      'Another sound …',
      !!row.pad,
      () => {
        if (row.pad) setChosen(row.pad.position);
        setPicker(true);
      },
    ],
  ];
  return (
    <MenuItems
      anchor="bottom start"
      className="z-40 w-[260px] rounded-lg border border-edge bg-sheet p-1 shadow-lg outline-none"
    >
      <ActionItems actions={actions} />
    </MenuItems>
  );
}

/** Changes that put a row's strokes on another row as well; that is made where the groove has none for it yet. */
function strokesOn(view: GrooveDesk['view'], to: ShownRow, { notes }: ShownRow): Change[] {
  const newId = () => crypto.randomUUID();
  const [first, ...others] = notes;
  if (!first) return [];
  const withoutPlace = (note: (typeof notes)[number]) => {
    const { id: _id, rowId: _row, ...value } = note;
    return withoutRev(value) as Parameters<typeof placed>[2];
  };
  const made = placed(view, to, withoutPlace(first), newId);
  const rowId = made.find(({ doc }) => doc === 'grooveRow')?.id ?? to.rows[0]?.id;
  return [
    ...made,
    ...others.map(
      (note): Change => ({ op: 'create', doc: 'grooveNote', id: newId(), value: { ...withoutPlace(note), rowId } }),
    ),
  ];
}
