'use client';

import { useDraggable } from '@dnd-kit/core';
import { Lock, LockOpen } from 'lucide-react';
import { memo, useMemo, useState } from 'react';
import type { KitView, RecordingView } from '@/contract/views';
import type { Family } from '@/core/family';
import { capOf, noteOfPlace } from '@/core/kit/layout';
import type { PadSettings } from '@/core/kit/model';
import { BANK_SIZE } from '@/core/kit/parameters';
import type { Slice } from '@/core/recording/model';
import { hzToNote } from '@/core/signal/units';
import type { WaveReader } from '@/picture/levelled-wave';
import { place, type Time } from '@/picture/time';
import { stretchPeak } from '@/picture/wave';
import { useCommands } from '../data/commit';
import { useKitDesk } from '../pads/kit-context';
import { nameOfStretch } from '../pads/laying';
import { FamilySelect } from '../parts/FamilySelect';
import { decibels, length } from '../parts/figures';
import { Glyph } from '../parts/Glyph';
import { ListHead } from '../parts/ListHead';
import type { SelectMode } from '../parts/listing';
import { arrange, type Order, type Sorters, selectModeOf } from '../parts/listing';
import { nameOfNote } from '../parts/note-names';
import { TextField } from '../parts/TextField';
import { useStable } from '../parts/use-stable';
import { VirtualRows } from '../parts/VirtualRows';
import { reasonOf, wholeness } from '../shelves/reasons';
import type { ShelvedSlice } from '../shelves/use-heard';
import { type ManyActions, ManyBar } from './ManyBar';
import { stretchOf } from './stretches';
import { type HeldEdges, useHeldSlice } from './use-held';
import type { StoredSlice } from './use-marks';

const ROW = 26;
const COLUMNS =
  'grid grid-cols-[26px_minmax(90px,1fr)_104px_70px_52px_66px_30px_26px_24px_24px] items-center gap-[6px] px-3 text-left';

interface TableProps {
  readonly recording: RecordingView;
  readonly slices: readonly StoredSlice[];
  readonly source: WaveReader;
  /** Rises as peaks arrive, from which levels are read. */
  readonly arrivals: number;
  readonly time: Time;
  readonly chosenId: string | null;
  readonly selected: ReadonlySet<string>;
  readonly pad: PadSettings | undefined;
  readonly held: HeldEdges;
  /** Descriptions of slices by their ids, as far as known. */
  readonly heard: ReadonlyMap<string, ShelvedSlice>;
  /** Whether slices are still being analysed. */
  readonly listening: boolean;
  /** `order`: the order of the table, for choosing all between two rows. */
  readonly onChoose: (id: string, how?: SelectMode, order?: readonly string[]) => void;
  /** Actions on several chosen slices. */
  readonly many: ManyActions;
}

/** A slice with its place in time, which sorting does not change. */
interface Entry {
  readonly id: string;
  readonly slice: StoredSlice;
  readonly number: number;
}

/** The slices as a table: the keyboard and screen-reader equivalent of the picture. */
export const SliceTable = memo(function SliceTable(props: TableProps) {
  const { recording, slices, source, arrivals, time, chosenId, selected, pad, held, heard, onChoose } = props;
  const { view } = useKitDesk();
  const [order, setOrder] = useState<Order>({ by: 'start', down: false });
  const pads = useMemo(() => padsBySlice(view), [view]);
  const entries = useMemo(
    (): readonly Entry[] => slices.map((slice, i) => ({ id: slice.id, slice, number: i + 1 })),
    [slices],
  );
  const shown = useMemo(() => {
    if (order.by === 'start' && !order.down) return entries;
    const sorters: Sorters<Entry> = {
      start: (e) => e.slice.startFrame,
      name: (e) => e.slice.name || null,
      family: (e) => e.slice.family ?? heard.get(e.id)?.heard.family ?? null,
      root: (e) => heard.get(e.id)?.levels.rootHz ?? null,
      isolation: (e) => heard.get(e.id)?.heard.isolation.score ?? null,
      length: (e) => e.slice.endFrame - e.slice.startFrame,
      peak: (e) => stretchPeak(source, e.slice.startFrame, e.slice.endFrame),
      pad: (e) => pads.get(e.id) ?? null,
    };
    return arrange(entries, '', () => '', sorters, order);
  }, [entries, order, source, pads, heard]);
  const sortBy = (by: string) => setOrder((old) => ({ by, down: old.by === by && !old.down }));
  const index = shown.findIndex((e) => e.id === chosenId);
  const choose = useStable((id: string, how: SelectMode = 'alone') =>
    onChoose(
      id,
      how,
      shown.map((e) => e.id),
    ),
  );
  return (
    <section
      aria-label="Slices"
      aria-busy={props.listening}
      className="flex min-h-0 min-w-0 flex-1 flex-col border-r border-line bg-sheet"
    >
      {selected.size > 1 && (
        <ManyBar
          chosen={shown.flatMap(({ slice }) => (selected.has(slice.id) ? [slice] : []))}
          stretches={shown.flatMap(({ slice, number }) =>
            selected.has(slice.id) ? [stretchOf(recording, slice, number, pad, heard.get(slice.id))] : [],
          )}
          many={props.many}
        />
      )}
      <div className={`${COLUMNS} h-7 flex-none border-b border-line font-medium text-[12px] text-soft`}>
        <span>#</span>
        <ListHead column="name" label="Name" order={order} onSort={sortBy} />
        <ListHead column="family" label="Family" order={order} onSort={sortBy} />
        <ListHead column="start" label="Start" order={order} onSort={sortBy} right />
        <ListHead column="length" label="Length" order={order} onSort={sortBy} right />
        <ListHead column="peak" label="Peak" order={order} onSort={sortBy} right />
        <ListHead column="root" label="Root" order={order} onSort={sortBy} right />
        <ListHead column="isolation" label="Iso" order={order} onSort={sortBy} right />
        <ListHead column="pad" label="Pad" order={order} onSort={sortBy} />
        <span />
      </div>
      <VirtualRows
        count={shown.length}
        height={ROW}
        index={index}
        keyOf={(i) => (shown[i] as Entry).id}
        nothing={
          <p className="p-4 text-soft">No slices. Split another way, or double-click on the wave to add a mark.</p>
        }
      >
        {(i) => {
          const { slice, number } = shown[i] as Entry;
          return (
            <Row
              recording={recording}
              slice={slice}
              number={number}
              source={source}
              arrivals={arrivals}
              time={time}
              chosen={slice.id === chosenId}
              selected={selected.has(slice.id)}
              where={pads.get(slice.id) ?? ''}
              pad={pad}
              held={held}
              heard={heard.get(slice.id)}
              onChoose={choose}
            />
          );
        }}
      </VirtualRows>
    </section>
  );
});

interface RowProps {
  readonly recording: RecordingView;
  readonly slice: StoredSlice;
  readonly number: number;
  readonly source: WaveReader;
  readonly arrivals: number;
  readonly time: Time;
  readonly chosen: boolean;
  readonly selected: boolean;
  /** Keys of the pads that play it. */
  readonly where: string;
  readonly pad: PadSettings | undefined;
  readonly held: HeldEdges;
  readonly heard: ShelvedSlice | undefined;
  readonly onChoose: (id: string, how?: SelectMode) => void;
}

const Row = memo(function Row(props: RowProps) {
  const { recording, slice, number, source, arrivals, time, chosen, selected, where, pad, heard, onChoose } = props;
  const { commit } = useCommands();
  const stretch = stretchOf(recording, slice, number, pad, heard);
  const { setNodeRef, listeners } = useDraggable({ id: `row-${slice.id}`, data: { stretch } });
  const set = (label: string, fields: Partial<Slice>) =>
    void commit(label, [{ op: 'update', doc: 'slice', id: slice.id, rev: slice.rev, set: fields }]);
  const setFamily = (family: Family | null) => set(`named slice ${number} ${family ?? 'of no family'}`, { family });
  const Padlock = slice.locked ? Lock : LockOpen;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the arrow keys of the page choose rows
    // biome-ignore lint/a11y/noStaticElementInteractions: see above
    <div
      ref={setNodeRef}
      {...listeners}
      onClick={(event) => {
        // Typing into a row's fields neither chooses nor stops anything.
        if (!(event.target as HTMLElement).closest('input, button')) onChoose(slice.id, selectModeOf(event));
      }}
      data-testid="slice-row"
      data-chosen={chosen || undefined}
      className={`${COLUMNS} h-full cursor-grab select-none border-line border-b ${chosen ? 'bg-selection shadow-[inset_3px_0_var(--verdigris)]' : selected ? 'bg-selection' : 'hover:bg-paper'}`}
    >
      <span className="figure text-[12px] text-soft">{number}</span>
      <TextField
        label={`Name of slice ${number}`}
        className="w-full bg-transparent px-1 hover:bg-paper"
        value={slice.name}
        maxLength={120}
        placeholder={nameOfStretch(stretch)}
        mayBeEmpty
        onCommit={(name) =>
          set(name === '' ? `took slice ${number}'s name away` : `named slice ${number} ${name}`, { name })
        }
      />
      <span className="flex min-w-0 items-center gap-1">
        <Glyph family={slice.family ?? heard?.heard.family ?? null} />
        <FamilySelect
          quiet
          label={`Family of slice ${number}`}
          className="min-w-0 flex-1"
          value={slice.family}
          guess={heard && { family: heard.heard.family, confidence: heard.heard.familyConfidence }}
          onChoose={setFamily}
        />
      </span>
      <Figures slice={slice} held={props.held} source={source} arrivals={arrivals} time={time} />
      <span className="figure text-right text-[12px]">
        {heard?.levels.rootHz && nameOfNote(hzToNote(heard.levels.rootHz).note)}
      </span>
      <span className="figure text-right text-[12px]" title={heard && isolationText(heard)}>
        {heard?.heard.isolation.score}
      </span>
      <span className="figure truncate text-[12px] text-soft">{where}</span>
      <button
        type="button"
        aria-label={slice.locked ? `Unlock slice ${number}` : `Lock slice ${number}`}
        aria-pressed={slice.locked}
        title="A locked slice stays when the recording is split anew"
        className={`h-6 w-6 rounded ${slice.locked ? 'text-ink' : 'text-edge hover:text-ink'}`}
        onClick={() => set(slice.locked ? 'unlocked a slice' : 'locked a slice', { locked: !slice.locked })}
      >
        <Padlock size={13} aria-hidden className="mx-auto" />
      </button>
    </div>
  );
});

/** A slice's start, length and level, also while an edge is dragged. */
function Figures({ slice, held, source, time }: Pick<RowProps, 'slice' | 'held' | 'source' | 'arrivals' | 'time'>) {
  const { startFrame, endFrame } = useHeldSlice(slice, held);
  return (
    <>
      <span className="figure truncate text-right text-[12px]">{place(startFrame, time)}</span>
      <span className="figure text-right text-[12px]">{length((endFrame - startFrame) / time.sampleRate)}</span>
      <span className="figure text-right text-[12px]">
        {decibels(20 * Math.log10(stretchPeak(source, startFrame, endFrame)))}
      </span>
    </>
  );
}

/** The isolation score and its reasons. */
function isolationText({ heard: { isolation, cutShortDb }, tail }: ShelvedSlice): string {
  const reasons = isolation.reasons.map((reason) => reasonOf(reason, tail));
  return [
    `Isolation ${isolation.score} of 100: how free it is of other sounds; ${wholeness(cutShortDb)}`,
    ...reasons,
  ].join('\n');
}

/** For each slice, the keys of the pads that play it. */
function padsBySlice(kit: KitView | null): ReadonlyMap<string, string> {
  const found = new Map<string, string>();
  if (!kit) return found;
  const sliceOf = new Map(kit.hits.map((h) => [h.id, h.sliceId]));
  const positionOf = new Map(kit.pads.map((p) => [p.id, p.position]));
  for (const { hitId, padId } of kit.layers) {
    const slice = sliceOf.get(hitId);
    const position = positionOf.get(padId);
    if (!slice || position === undefined) continue;
    const cap = position < BANK_SIZE ? capOf(position) : String(noteOfPlace(position));
    const known = found.get(slice);
    if (!known?.split(' ').includes(cap)) found.set(slice, known ? `${known} ${cap}` : cap);
  }
  return found;
}
