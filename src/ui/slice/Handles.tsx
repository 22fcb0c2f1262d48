'use client';

import { useDraggable } from '@dnd-kit/core';
import { memo } from 'react';
import type { Stored } from '@/contract/documents';
import type { RecordingView } from '@/contract/views';
import type { Family } from '@/core/hit/model';
import type { Slice } from '@/core/recording/model';
import type { Stretch } from '../pads/laying';
import type { WaveSource } from '../parts/wave-source';
import { archHeight, COLONNADE_HEIGHT, KEYSTONE_FROM, keystoneAt, stretchPeak, visibleSlices } from './draw-stage';
import { frameToX, type MarkedStretch, type Span } from './view';

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

/** A stretch marked on the wave, on its way to a pad. */
export function markedStretchOf(recording: RecordingView, { start, end }: MarkedStretch): Stretch {
  return { recording, startFrame: start, endFrame: end, sliceId: null, family: null, number: 1 };
}

interface KeystonesProps {
  readonly recording: RecordingView;
  readonly slices: readonly Stored<Slice>[];
  readonly source: WaveSource;
  readonly span: Span;
  readonly width: number;
  /** Rises as peaks arrive, which arches take their height from. */
  readonly arrivals: number;
  readonly onChoose: (id: string) => void;
}

/**
 * The keystones as handles: what is dragged onto pads. They are drawn with the arches; these lie over them unseen, and
 * only where the view has come to rest, so that panning moves nothing but pictures.
 */
export const Keystones = memo(function Keystones({ recording, slices, source, span, width, onChoose }: KeystonesProps) {
  const wide = visibleSlices(slices, span, width).filter(
    (s) => (s.endFrame - s.startFrame) / span.framesPerPixel >= KEYSTONE_FROM,
  );
  return wide.slice(0, MOST).map((slice) => {
    const height = archHeight(stretchPeak(source, slice.startFrame, slice.endFrame));
    return (
      <Keystone
        key={slice.id}
        stretch={stretchOf(recording, slices, slice)}
        {...keystoneAt(slice, height, span, width)}
        onChoose={() => onChoose(slice.id)}
      />
    );
  });
});

function Keystone({ stretch, x, y, onChoose }: { stretch: Stretch; x: number; y: number; onChoose: () => void }) {
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
      className="absolute top-0 left-0 h-6 w-6 cursor-grab touch-none rounded-full hover:ring-2 hover:ring-verdigris"
      style={{ transform: `translate(${x - 12}px, ${y - 12}px)` }}
      onClick={onChoose}
    />
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
  const whole = markedStretchOf(recording, stretch);
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
