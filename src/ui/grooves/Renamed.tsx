import type { Change } from '@/contract/edits';
import { LONGEST_NAME } from '@/core/naming/names';
import { useCommands } from '../data/commit';
import { createStore } from '../parts/store';
import { ROW_PX } from './measures';
import type { ShownRow } from './rows';

/** The row whose name is being typed. */
export const renaming = createStore<string | null>(null);

/** Changes that rename a row: its pad, or its role where no pad plays it. */
function renamed({ pad, rows, isSubstitute }: ShownRow, name: string): Change[] {
  if (pad && !isSubstitute) {
    // A role is what grooves go by: a pad that has one gets the name as its role, and its rows with it.
    const set = pad.role === '' ? { name } : { role: name };
    const own = rows.map(({ id, rev }): Change => ({ op: 'update', doc: 'grooveRow', id, rev, set: { role: name } }));
    return [{ op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set }, ...(pad.role === '' ? [] : own)];
  }
  return rows.map(({ id, rev }): Change => ({ op: 'update', doc: 'grooveRow', id, rev, set: { role: name } }));
}

/** The name of a row as a field to type in. */
export function Renamed({ row }: { row: ShownRow }) {
  const { commit } = useCommands();
  const end = (name: string) => {
    renaming.set(null);
    if (name.trim() !== '' && name !== row.name)
      void commit(`renamed ${row.name} to ${name}`, renamed(row, name.trim()));
  };
  return (
    <div className="flex items-center border-line border-b px-3" style={{ height: ROW_PX }}>
      <input
        // biome-ignore lint/a11y/noAutofocus: it was asked for
        autoFocus
        aria-label={`New name of ${row.name}`}
        className="w-full rounded border border-line px-1 text-[13px]"
        maxLength={LONGEST_NAME}
        defaultValue={row.name}
        onFocus={(event) => event.target.select()}
        onBlur={(event) => end(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter') end(event.currentTarget.value);
          if (event.key === 'Escape') renaming.set(null);
          event.stopPropagation();
        }}
      />
    </div>
  );
}
