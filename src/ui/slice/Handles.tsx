'use client';

import { useDraggable } from '@dnd-kit/core';
import type { Stored } from '@/contract/documents';
import type { RecordingView } from '@/contract/views';
import type { Family } from '@/core/hit/model';
import type { Slice } from '@/core/recording/model';
import type { Stretch } from '../pads/laying';
import { Glyph } from '../parts/Glyph';
import type { WaveSource } from '../parts/wave-source';
import { archHeight, COLONNADE_HEIGHT, KEYSTONE_FROM, stretchPeak, visibleSlices } from './draw-stage';
import type { MarkedStretch } from './Stage';
import { frameToX, type Span } from './view';

/** Most keystones that are shown at once; with more, arches are too narrow to take hold of anyway. */
const MOST = 150;

export function stretchOf(recording: RecordingView, slices: readonly Stored<Slice>[], slice: Stored<Slice>): Stretch {
  const { startFrame, endFrame, id, family } = slice;
  return {
    recording,
    startFrame,
    endFrame,
    sliceId: id,
    family: family as Family | null,
    number: slices.indexOf(slice) + 1,
  };
}

interface KeystonesProps {
  readonly recording: RecordingView;
  readonly slices: readonly Stored<Slice>[];
  readonly source: WaveSource;
  readonly span: Span;
  readonly width: number;
  readonly chosenId: string | null;
  readonly onChoose: (id: string) => void;
}

/** The keystones: handles in the arches that bear the family's glyph and are dragged onto pads. */
export function Keystones({ recording, slices, source, span, width, chosenId, onChoose }: KeystonesProps) {
  const wide = visibleSlices(slices, span, width).filter(
    (s) => (s.endFrame - s.startFrame) / span.framesPerPixel >= KEYSTONE_FROM,
  );
  return wide.slice(0, MOST).map((slice) => {
    const x = frameToX(
      span,
      (Math.max(slice.startFrame, span.start) + Math.min(slice.endFrame, span.start + width * span.framesPerPixel)) / 2,
    );
    const top = COLONNADE_HEIGHT - archHeight(stretchPeak(source, slice.startFrame, slice.endFrame));
    return (
      <Keystone
        key={slice.id}
        stretch={stretchOf(recording, slices, slice)}
        x={x}
        top={Math.max(0, top - 3)}
        chosen={slice.id === chosenId}
        onChoose={() => onChoose(slice.id)}
      />
    );
  });
}

function Keystone({
  stretch,
  x,
  top,
  chosen,
  onChoose,
}: {
  stretch: Stretch;
  x: number;
  top: number;
  chosen: boolean;
  onChoose: () => void;
}) {
  const { setNodeRef, listeners, attributes } = useDraggable({ id: `slice-${stretch.sliceId}`, data: { stretch } });
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...attributes}
      {...listeners}
      tabIndex={-1}
      aria-label={`Slice ${stretch.number}: drag it onto a pad`}
      data-keystone={stretch.number}
      className="absolute flex h-6 w-6 touch-none items-center justify-center"
      style={{ left: x - 12, top }}
      onClick={onChoose}
    >
      <span
        className={`flex h-[18px] w-[18px] items-center justify-center rounded-full bg-sheet ${chosen ? 'ring-2 ring-madder' : ''}`}
      >
        <Glyph family={stretch.family} size={13} />
      </span>
    </button>
  );
}

/** What a stretch marked on the wave is dragged by. */
export function StretchHandle({
  recording,
  stretch,
  span,
}: {
  recording: RecordingView;
  stretch: MarkedStretch;
  span: Span;
}) {
  const whole: Stretch = {
    recording,
    startFrame: stretch.start,
    endFrame: stretch.end,
    sliceId: null,
    family: null,
    number: 1,
  };
  const { setNodeRef, listeners, attributes } = useDraggable({ id: 'stretch', data: { stretch: whole } });
  const x = frameToX(span, (stretch.start + stretch.end) / 2);
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...attributes}
      {...listeners}
      aria-label="Marked stretch: drag it onto a pad"
      data-testid="stretch-handle"
      className="absolute flex h-7 touch-none items-center whitespace-nowrap rounded-md border border-verdigris bg-sheet px-2 text-[12px]"
      style={{ left: x, top: COLONNADE_HEIGHT + 6, transform: 'translateX(-50%)' }}
    >
      drag to a pad · {Math.round(((stretch.end - stretch.start) / recording.sampleRate) * 1000)} ms
    </button>
  );
}
