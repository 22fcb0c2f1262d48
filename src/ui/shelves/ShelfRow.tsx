'use client';

import { memo, useRef } from 'react';
import { likelyDrum } from '@/core/describe/family';
import { useCommands } from '../data/commit';
import { Choice } from '../parts/Choice';
import { FamilySelect } from '../parts/FamilySelect';
import { sureness } from '../parts/figures';
import { Glyph } from '../parts/Glyph';
import { useNear } from '../parts/use-near';
import { CardStrip } from './CardStrip';
import { nameShelf, shelfOptions } from './shelving';
import type { ShelfOfSlices, ShelvedSlice } from './use-heard';

interface RowProps {
  readonly several: boolean;
  /** How wide a card is, in CSS pixels. */
  readonly cardWidth: number;
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

/** One shelf: its drum, and its slices from the barest on. */
export const ShelfRow = memo(function ShelfRow(props: RowProps) {
  const { shelf, number, shelves, chosenId, selected, hovers } = props;
  const { commit } = useCommands();
  const said = shelf.slices.some(({ slice }) => slice.family !== null);
  const section = useRef<HTMLElement>(null);
  const near = useNear(section);
  return (
    <section
      ref={section}
      aria-label={`Shelf ${number}: ${shelf.family}, ${shelf.slices.length === 1 ? '1 slice' : `${shelf.slices.length} slices`}`}
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
          title={shelf.also.length > 0 ? `It also holds ${shelf.also.join(', ')}` : ''}
        >
          {shelf.slices.length} · {said ? 'as you said' : guessedText(shelf)}
          {shelf.also.length > 0 && `; with ${shelf.also.join(', ')}`}
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
            <Choice
              label={`Put shelf ${number} together with`}
              className="h-6 flex-1 text-soft"
              value={undefined}
              shown="join …"
              options={shelfOptions(shelves, shelf)}
              onChoose={(into) => props.onMerge(shelf, shelves[into] as ShelfOfSlices)}
            />
          )}
        </span>
      </header>
      {(near || shelf.slices.some(({ slice }) => slice.id === chosenId)) && (
        <CardStrip
          shelf={shelf}
          width={props.cardWidth}
          several={props.several}
          chosenId={chosenId}
          selected={selected}
          onChoose={props.onChoose}
          onHover={hovers ? props.onHover : null}
        />
      )}
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

/** Confidence of a shelf's family, in words that fit its header. */
function guessedText(shelf: ShelfOfSlices): string {
  if (!likelyDrum(shelf)) return `likely no drum, ${sureness(1 - shelf.drum)} sure`;
  return `guessed, ${sureness(shelf.confidence)} sure`;
}
