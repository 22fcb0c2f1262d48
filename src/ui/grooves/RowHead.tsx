import { memo, type RefObject } from 'react';
import { isHeld } from '@/core/groove/score';
import { capOf } from '@/core/kit/layout';
import { useCommands } from '../data/commit';
import { Glyph } from '../parts/Glyph';
import { useStore } from '../parts/store';
import { soundNow } from '../sound/open-sound';
import { rowChanged } from './edits';
import { ROW_PX } from './measures';
import { Renamed, renaming } from './Renamed';
import { RowMenu } from './RowMenu';
import type { ShownRow } from './rows';
import type { GrooveDesk } from './use-groove-desk';

const VELOCITY = 110;

interface RowHeadProps {
  /** The desk as it is when something is done. */
  readonly now: RefObject<GrooveDesk>;
  readonly row: ShownRow;
  readonly isChosen: boolean;
}

/** The name of a row: pressed it is heard; beside it, whether it is muted or heard alone, and its strokes. */
export const RowHead = memo(function RowHead({ now, row, isChosen }: RowHeadProps) {
  const { commit } = useCommands();
  const { pad, name, family, rows } = row;
  const isMuted = rows.some(({ muted }) => muted);
  const isAlone = rows.some(({ alone }) => alone);
  const set = (label: string, fields: { muted?: boolean; alone?: boolean }) =>
    void commit(
      `${label} ${name}`,
      rowChanged(now.current.view, row, fields, () => crypto.randomUUID()),
    );
  const isRenaming = useStore(renaming) === row.key;
  if (isRenaming) return <Renamed row={row} />;
  return (
    <div
      data-testid="groove-row"
      className={`group relative flex items-center gap-1 border-line border-b pr-2 pl-3 ${isChosen ? 'bg-selection' : ''} ${row.isSubstitute ? 'opacity-55' : ''}`}
      style={{ height: ROW_PX }}
    >
      <button
        type="button"
        className="flex min-w-0 flex-1 items-center gap-2 text-left"
        title={
          row.isSubstitute
            ? pad
              ? `No pad has it: ${pad.name} plays it`
              : 'No pad of this kit plays it'
            : `Hear ${name}`
        }
        onClick={() => {
          const { cell, rows: all, setCell } = now.current;
          setCell({ ...cell, row: all.indexOf(row) });
          if (pad) soundNow()?.engine.strike(pad.position, VELOCITY);
        }}
      >
        <Glyph family={family} size={14} />
        <span className="truncate font-semibold text-[13px]">{name}</span>
        {row.moved !== '' && (
          <span
            role="img"
            className="flex-none font-semibold text-ochre"
            title={`A lane moves ${row.moved}`}
            aria-label={`a lane moves ${row.moved}`}
          >
            ~
          </span>
        )}
        {pad && isHeld(pad) && (
          <span
            className="flex-none text-[11px] text-soft"
            title="It sounds while it is held: a note lasts as long as it is drawn"
          >
            held
          </span>
        )}
      </button>
      <span
        className={`flex flex-none items-center gap-1 ${isMuted || isAlone ? '' : 'absolute right-7 rounded bg-paper opacity-0 focus-within:opacity-100 group-hover:opacity-100'}`}
      >
        <Switch
          label="Mute"
          name={name}
          isOn={isMuted}
          onPress={() => set(isMuted ? 'unmuted' : 'muted', { muted: !isMuted })}
        />
        <Switch
          label="Alone"
          name={name}
          isOn={isAlone}
          onPress={() => set(isAlone ? 'no longer heard alone:' : 'heard alone:', { alone: !isAlone })}
        />
        <RowMenu now={now} row={row} />
      </span>
      <span className="figure w-4 flex-none text-right text-[12px] text-soft">
        {pad && !row.isSubstitute ? capOf(pad.position) : ''}
      </span>
    </div>
  );
});

function Switch({ label, name, isOn, onPress }: { label: string; name: string; isOn: boolean; onPress: () => void }) {
  return (
    <button
      type="button"
      aria-label={`${label} ${name}`}
      aria-pressed={isOn}
      title={label}
      className={`flex-none rounded px-[3px] text-[11px] ${isOn ? 'bg-selection font-semibold text-verdigris' : 'text-soft hover:text-ink'}`}
      onClick={onPress}
    >
      {label.toLowerCase()}
    </button>
  );
}
