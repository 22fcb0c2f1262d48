'use client';

import { useDraggable } from '@dnd-kit/core';
import { memo } from 'react';
import type { Stored } from '@/contract/documents';
import type { KitView, RecordingView } from '@/contract/views';
import type { Family } from '@/core/hit/model';
import { positionOfKey, ROWS } from '@/core/kit/layout';
import type { Slice } from '@/core/recording/model';
import { useCommands } from '../data/commit';
import { useKitDesk } from '../pads/kit-context';
import { FamilySelect } from '../parts/FamilySelect';
import { decibels, length } from '../parts/figures';
import { Glyph } from '../parts/Glyph';
import { VirtualRows } from '../parts/VirtualRows';
import type { WaveSource } from '../parts/wave-source';
import { stretchPeak } from './draw-stage';
import { stretchOf } from './Handles';

const ROW = 26;
const COLUMNS = 'grid grid-cols-[40px_minmax(110px,1fr)_92px_76px_84px_72px] items-center gap-2 px-3';

interface TableProps {
  readonly recording: RecordingView;
  readonly slices: readonly Stored<Slice>[];
  readonly source: WaveSource;
  readonly chosenId: string | null;
  readonly onChoose: (id: string) => void;
}

/** The slices as a table: the picture's twin, and the way to them without a pointer. */
export const SliceTable = memo(function SliceTable({ recording, slices, source, chosenId, onChoose }: TableProps) {
  const { view } = useKitDesk();
  const chosenIndex = slices.findIndex((s) => s.id === chosenId);
  return (
    <section aria-label="Slices" className="flex min-h-0 min-w-0 flex-1 flex-col border-r border-line bg-sheet">
      <div className={`${COLUMNS} h-7 flex-none border-b border-line text-[12px] font-medium text-soft`}>
        <span>#</span>
        <span>Family</span>
        <span className="text-right">Start</span>
        <span className="text-right">Length</span>
        <span className="text-right">Peak</span>
        <span>Pad</span>
      </div>
      <VirtualRows
        count={slices.length}
        height={ROW}
        index={chosenIndex}
        keyOf={(i) => (slices[i] as Stored<Slice>).id}
        nothing={
          <p className="p-4 text-soft">No slices. Raise the sensitivity, or double-click on the wave to add a mark.</p>
        }
      >
        {(index) => {
          const slice = slices[index] as Stored<Slice>;
          return (
            <Row
              recording={recording}
              slices={slices}
              slice={slice}
              index={index}
              source={source}
              chosen={index === chosenIndex}
              kit={view}
              onChoose={() => onChoose(slice.id)}
            />
          );
        }}
      </VirtualRows>
    </section>
  );
});

interface RowProps {
  readonly recording: RecordingView;
  readonly slices: readonly Stored<Slice>[];
  readonly slice: Stored<Slice>;
  readonly index: number;
  readonly source: WaveSource;
  readonly chosen: boolean;
  readonly kit: KitView | null;
  readonly onChoose: () => void;
}

function Row({ recording, slices, slice, index, source, chosen, kit, onChoose }: RowProps) {
  const { commit } = useCommands();
  const { setNodeRef, listeners } = useDraggable({
    id: `row-${slice.id}`,
    data: { stretch: stretchOf(recording, slices, slice) },
  });
  const setFamily = (family: Family | null) =>
    void commit(`named slice ${index + 1} ${family ?? 'of no family'}`, [
      { op: 'update', doc: 'slice', id: slice.id, rev: slice.rev, set: { family } },
    ]);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the arrow keys of the page choose rows
    // biome-ignore lint/a11y/noStaticElementInteractions: see above
    <div
      ref={setNodeRef}
      {...listeners}
      onClick={onChoose}
      data-testid="slice-row"
      data-chosen={chosen || undefined}
      className={`${COLUMNS} h-full cursor-grab border-b border-line ${chosen ? 'bg-selection' : 'hover:bg-paper'}`}
    >
      <span className="figure text-[12px] text-soft">{index + 1}</span>
      <span className="flex min-w-0 items-center gap-2">
        <Glyph family={slice.family} />
        <FamilySelect
          label={`Family of slice ${index + 1}`}
          className="min-w-0 flex-1"
          value={slice.family}
          onChoose={setFamily}
        />
      </span>
      <span className="figure text-right text-[12px]">{(slice.startFrame / recording.sampleRate).toFixed(4)} s</span>
      <span className="figure text-right text-[12px]">
        {length((slice.endFrame - slice.startFrame) / recording.sampleRate)}
      </span>
      <span className="figure text-right text-[12px]">
        {decibels(20 * Math.log10(stretchPeak(source, slice.startFrame, slice.endFrame)))}
      </span>
      <span className="figure truncate text-[12px] text-soft">{padsOf(kit, slice)}</span>
    </div>
  );
}

/** Keys of the pads that play what was taken from a slice. */
function padsOf(kit: KitView | null, slice: Slice): string {
  if (!kit) return '';
  const hits = new Set(kit.hits.filter((h) => h.sliceId === slice.id).map((h) => h.id));
  if (hits.size === 0) return '';
  const pads = new Set(kit.layers.filter((l) => hits.has(l.hitId)).map((l) => l.padId));
  const positions = new Set(kit.pads.filter((p) => pads.has(p.id)).map((p) => p.position));
  return ROWS.flatMap((row) =>
    row.codes.map((code, i) => (positions.has(positionOfKey(code) ?? -1) ? (row.caps[i] ?? '') : '')),
  )
    .filter(Boolean)
    .join(' ');
}
