'use client';

import { useDraggable } from '@dnd-kit/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useEffect, useRef } from 'react';
import { minus } from '../parts/figures';
import { Glyph } from '../parts/Glyph';
import { MiniWave } from '../parts/MiniWave';
import { wholeness } from './reasons';
import { stretchOfShelved } from './shelving';
import type { ShelfOfSlices, ShelvedSlice } from './use-heard';

/** Gap after a card, and free space at either end, in CSS pixels. */
const [GAP_PX, EDGE_PX] = [8, 12];
/** A card's border and padding around its wave, in CSS pixels. */
const FRAME_PX = 2 * 9;
const WAVE_HEIGHT_PX = 38;
/** Maximum number of glyphs for other drums in a slice. */
const MOST_GLYPHS = 3;
/** Card widths, and how many of each fit in a window 1280 wide. */
const [WIDE, MIDDLING, NARROW] = [
  { px: 168, seen: 5 },
  { px: 136, seen: 7 },
  { px: 104, seen: Number.POSITIVE_INFINITY },
] as const;

/**
 * Width of the cards of all shelves, in CSS pixels: the widest at which the longest shelf is fully visible, where there
 * is one.
 */
export function cardWidth(shelves: readonly ShelfOfSlices[]): number {
  const longest = Math.max(0, ...shelves.map(({ slices }) => slices.length));
  return ([WIDE, MIDDLING].find(({ seen }) => longest <= seen) ?? NARROW).px;
}

interface StripProps {
  readonly shelf: ShelfOfSlices;
  /** How wide a card is, in CSS pixels. */
  readonly width: number;
  /** Whether slices of several recordings are shown, so that each names its own. */
  readonly several: boolean;
  readonly chosenId: string | null;
  readonly selected: ReadonlySet<string>;
  readonly onChoose: (id: string, also: boolean) => void;
  readonly onHover: ((entry: ShelvedSlice) => void) | null;
}

/** The slices of a shelf side by side, the barest first; only visible ones are rendered. */
export function CardStrip({ shelf: { slices }, width, several, chosenId, selected, onChoose, onHover }: StripProps) {
  const scroller = useRef<HTMLOListElement>(null);
  const cards = useVirtualizer({
    horizontal: true,
    count: slices.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => width,
    gap: GAP_PX,
    paddingStart: EDGE_PX,
    paddingEnd: EDGE_PX,
    scrollPaddingStart: EDGE_PX,
    scrollPaddingEnd: EDGE_PX,
    overscan: 2,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: all cards are measured anew when they are of another width
  useEffect(() => cards.measure(), [width, cards]);
  const chosenAt = chosenId === null ? -1 : slices.findIndex(({ slice }) => slice.id === chosenId);
  // A card chosen by key, or from a kit's summary, may be out of view.
  useEffect(() => {
    if (chosenAt < 0) return;
    cards.scrollToIndex(chosenAt, { align: 'auto' });
    scroller.current?.scrollIntoView({ block: 'nearest' });
  }, [chosenAt, cards]);
  const shown = cards.getVirtualItems();
  return (
    <ol
      ref={scroller}
      className="relative flex min-w-0 flex-1 items-start overflow-x-auto py-2"
      style={{ gap: GAP_PX }}
      aria-label="Slices, barest first"
    >
      <li aria-hidden className="-mr-2 flex-none self-stretch" style={{ width: shown[0]?.start ?? 0 }} />
      {shown.map(({ index }) => {
        const entry = slices[index];
        if (!entry) return null;
        const { id } = entry.slice;
        return (
          <Card
            key={id}
            several={several}
            width={width}
            entry={entry}
            place={index}
            count={slices.length}
            chosen={id === chosenId}
            selected={selected.has(id)}
            onChoose={onChoose}
            onHover={onHover}
          />
        );
      })}
      <li
        aria-hidden
        className="-ml-2 flex-none self-stretch"
        style={{ width: cards.getTotalSize() - (shown.at(-1)?.end ?? 0) }}
      />
    </ol>
  );
}

interface CardProps {
  readonly width: number;
  /** Whether slices of several recordings are shown, so that each names its own. */
  readonly several: boolean;
  readonly entry: ShelvedSlice;
  /** Its index on the shelf, and the shelf's length. */
  readonly place: number;
  readonly count: number;
  readonly chosen: boolean;
  readonly selected: boolean;
  readonly onChoose: (id: string, also: boolean) => void;
  readonly onHover: ((entry: ShelvedSlice) => void) | null;
}

const Card = memo(function Card(props: CardProps) {
  const { entry, width, several, place, count, chosen, selected, onChoose, onHover } = props;
  const { recording, slice, number, heard } = entry;
  const { setNodeRef, listeners } = useDraggable({
    id: `shelf-${slice.id}`,
    data: { stretch: stretchOfShelved(entry) },
  });
  const { score } = heard.isolation;
  const whole = wholeness(heard.cutShortDb);
  const withOthers = heard.also.length > 0 ? `, with ${heard.also.join(', ')}` : '';
  return (
    <li
      ref={setNodeRef}
      {...listeners}
      aria-setsize={count}
      aria-posinset={place + 1}
      style={{ width }}
      className={`flex-none rounded-md border ${chosen ? 'border-verdigris bg-selection' : selected ? 'border-edge bg-selection' : 'border-line bg-paper hover:border-edge'}`}
    >
      <button
        type="button"
        data-testid="shelf-slice"
        aria-pressed={selected}
        aria-label={`Slice ${number}${several ? ` of ${recording.title}` : ''}${slice.name ? `, ${slice.name}` : ''}, isolation ${score}, ${whole}${withOthers}`}
        className="relative block w-full px-2 pt-1 pb-1 text-left"
        onPointerEnter={() => onHover?.(entry)}
        onClick={(event) => {
          // The arrow keys continue from here, and the pads' keys play.
          event.currentTarget.blur();
          onChoose(slice.id, event.ctrlKey || event.metaKey);
        }}
      >
        <MiniWave
          recording={recording}
          start={slice.startFrame}
          end={slice.endFrame}
          width={width - FRAME_PX}
          height={WAVE_HEIGHT_PX}
        />
        {heard.also.length > 0 && (
          <span
            className="absolute top-1 right-1 flex rounded bg-paper p-[1px]"
            title={`It also holds ${heard.also.join(', ')}`}
          >
            {heard.also.slice(0, MOST_GLYPHS).map((family) => (
              <Glyph key={family} family={family} size={12} />
            ))}
          </span>
        )}
        <span className="flex items-baseline justify-between gap-1 text-[12px]">
          <span className="figure text-soft">{number}</span>
          {heard.cutShortDb !== null && (
            <span
              className="figure whitespace-nowrap text-[11px] text-soft"
              title={`It is ${whole} against its loudest`}
            >
              cut {minus(String(Math.round(heard.cutShortDb)))}
            </span>
          )}
          <span
            className="figure"
            title={`Isolation: how free it is of other sounds, 0 to 100; it ${heard.cutShortDb === null ? '' : 'is '}${whole}`}
          >
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
