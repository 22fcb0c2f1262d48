'use client';

import { useDraggable } from '@dnd-kit/core';
import { memo, useEffect, useRef } from 'react';
import { useCommands } from '../data/commit';
import { FamilySelect } from '../parts/FamilySelect';
import { Glyph } from '../parts/Glyph';
import { MiniWave } from '../parts/MiniWave';
import { MOST_SHOWN, nameShelf, stretchOfShelved } from './shelving';
import type { ShelfOfSlices, ShelvedSlice } from './use-heard';

interface RowProps {
  readonly several: boolean;
  readonly shelf: ShelfOfSlices;
  readonly number: number;
  readonly shelves: readonly ShelfOfSlices[];
  readonly chosenId: string | null;
  readonly selected: ReadonlySet<string>;
  readonly hovers: boolean;
  readonly onChoose: (id: string, also: boolean) => void;
  readonly onHover: (entry: ShelvedSlice) => void;
  readonly onMerge: (shelf: ShelfOfSlices, into: ShelfOfSlices) => void;
  readonly muted: boolean;
  readonly solo: boolean;
  readonly onMute: (shelf: ShelfOfSlices) => void;
  readonly onSolo: (shelf: ShelfOfSlices) => void;
}

/** One drum: what it is, and its slices from the barest on. */
export const ShelfRow = memo(function ShelfRow(props: RowProps) {
  const { shelf, number, shelves, chosenId, selected, hovers } = props;
  const { commit } = useCommands();
  const said = shelf.slices.some(({ slice }) => slice.family !== null);
  const also = shelf.contains.filter((family) => family !== shelf.family);
  return (
    <section
      aria-label={`Shelf ${number}: ${shelf.family}`}
      data-testid="shelf"
      className="flex border-line border-b last:border-b-0"
    >
      <header className="flex w-[208px] flex-none flex-col gap-1 border-line border-r px-4 py-2">
        <span className="flex items-center gap-2">
          <Glyph family={shelf.family} />
          <FamilySelect
            label={`Family of shelf ${number}`}
            className="min-w-0 flex-1 font-semibold"
            value={shelf.family}
            onChoose={(family) => void commit(`named a shelf ${family ?? 'of no family'}`, nameShelf(shelf, family))}
          />
        </span>
        <span
          className="truncate text-[12px] text-soft"
          title={also.length > 0 ? `It also holds ${also.join(', ')}` : ''}
        >
          {shelf.slices.length} · {said ? 'as you said' : `guessed, ${Math.round(shelf.confidence * 100)} % sure`}
          {also.length > 0 && `; with ${also.join(', ')}`}
        </span>
        <span className="flex items-center gap-1 text-[12px]">
          <Toggle label={`Mute shelf ${number}`} text="mute" on={props.muted} onToggle={() => props.onMute(shelf)} />
          <Toggle
            label={`Hear shelf ${number} alone`}
            text="alone"
            on={props.solo}
            onToggle={() => props.onSolo(shelf)}
          />
          {shelves.length > 1 && (
            <select
              aria-label={`Put shelf ${number} together with`}
              className="h-6 min-w-0 flex-1 text-soft"
              value=""
              onChange={(event) => {
                const into = shelves[Number(event.target.value)];
                if (into) props.onMerge(shelf, into);
              }}
            >
              <option value="">join …</option>
              {shelves.map((other, i) =>
                other === shelf ? null : (
                  <option key={other.key} value={i}>
                    {i + 1}: {other.family}, {other.slices.length}
                  </option>
                ),
              )}
            </select>
          )}
        </span>
      </header>
      <ol className="flex min-w-0 flex-1 items-start gap-2 overflow-x-auto px-3 py-2" aria-label="Slices, barest first">
        {shelf.slices.slice(0, MOST_SHOWN).map((entry) => (
          <Card
            key={entry.slice.id}
            several={props.several}
            entry={entry}
            chosen={entry.slice.id === chosenId}
            selected={selected.has(entry.slice.id)}
            onChoose={props.onChoose}
            onHover={hovers ? props.onHover : null}
          />
        ))}
        {shelf.slices.length > MOST_SHOWN && (
          <li className="self-center whitespace-nowrap px-2 text-[12px] text-soft">
            and {shelf.slices.length - MOST_SHOWN} less bare
          </li>
        )}
      </ol>
    </section>
  );
});

function Toggle({ label, text, on, onToggle }: { label: string; text: string; on: boolean; onToggle: () => void }) {
  return (
    <button
      type="button"
      aria-label={label}
      aria-pressed={on}
      title={`${label}, when it is played by its own rhythm`}
      className={`h-6 rounded border px-2 ${on ? 'border-ink bg-ink text-on-ink' : 'border-line hover:border-edge'}`}
      onClick={onToggle}
    >
      {text}
    </button>
  );
}

interface CardProps {
  /** Whether slices of several recordings stand here, so that each tells which it is of. */
  readonly several: boolean;
  readonly entry: ShelvedSlice;
  readonly chosen: boolean;
  readonly selected: boolean;
  readonly onChoose: (id: string, also: boolean) => void;
  readonly onHover: ((entry: ShelvedSlice) => void) | null;
}

const Card = memo(function Card({ entry, several, chosen, selected, onChoose, onHover }: CardProps) {
  const { recording, slice, number, heard } = entry;
  const { setNodeRef, listeners } = useDraggable({
    id: `shelf-${slice.id}`,
    data: { stretch: stretchOfShelved(entry) },
  });
  const { score } = heard.isolation;
  const button = useRef<HTMLButtonElement>(null);
  // Chosen by a key, or from a kit's summary, it may lie out of sight.
  useEffect(() => {
    if (chosen) button.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [chosen]);
  return (
    <li
      ref={setNodeRef}
      {...listeners}
      className={`w-[104px] flex-none rounded-md border ${chosen ? 'border-verdigris bg-selection' : selected ? 'border-edge bg-selection' : 'border-line bg-paper hover:border-edge'}`}
    >
      <button
        ref={button}
        type="button"
        data-testid="shelf-slice"
        aria-pressed={selected}
        aria-label={`Slice ${number}${several ? ` of ${recording.title}` : ''}${slice.name ? `, ${slice.name}` : ''}, isolation ${score}`}
        className="block w-full px-2 pt-1 pb-1 text-left"
        onPointerEnter={() => onHover?.(entry)}
        onClick={(event) => {
          // The arrow keys go on from here by themselves, and the pads' keys play.
          event.currentTarget.blur();
          onChoose(slice.id, event.ctrlKey || event.metaKey);
        }}
      >
        <MiniWave recording={recording} start={slice.startFrame} end={slice.endFrame} height={34} />
        <span className="flex items-baseline justify-between text-[12px]">
          <span className="figure text-soft">{number}</span>
          <span className="figure" title="Isolation: how free it is of other sounds, 0 to 100">
            {score}
          </span>
        </span>
        {several && (
          <span className="block truncate text-[11px] text-soft" title={recording.title}>
            {recording.title}
          </span>
        )}
        <span aria-hidden className="block h-[3px] bg-sunk">
          <span className="block h-full bg-verdigris" style={{ width: `${score}%` }} />
        </span>
      </button>
    </li>
  );
});
