'use client';

import { useDraggable } from '@dnd-kit/core';
import { memo } from 'react';
import type { Stored } from '@/contract/documents';
import type { RecordingView } from '@/contract/views';
import type { PadSettings } from '@/core/kit/model';
import type { Slice } from '@/core/recording/model';
import { archHeight, COLONNADE_HEIGHT, KEYSTONE_FROM, keystoneAt, visibleSlices } from '@/picture/colonnade';
import type { WaveReader } from '@/picture/levelled-wave';
import { frameToX, type MarkedStretch, type Span } from '@/picture/span';
import { stretchPeak } from '@/picture/wave';
import type { Stretch } from '../pads/laying';
import type { SelectMode } from '../parts/listing';
import { selectModeOf } from '../parts/listing';
import { type SpanDesk, useSpanShown } from '../parts/use-span';
import type { ShelvedSlice } from '../shelves/use-heard';
import { markedStretchOf, stretchOf } from './stretches';

/** Most keystones shown at once; with more, arches are too narrow to grasp. */
const MOST = 150;

interface KeystonesProps {
  readonly recording: RecordingView;
  readonly slices: readonly Stored<Slice>[];
  readonly source: WaveReader;
  readonly span: Span;
  readonly width: number;
  /** Rises as peaks arrive, which give arches their height. */
  readonly arrivals: number;
  readonly pad: PadSettings | undefined;
  /** Descriptions of slices, by their ids. */
  readonly heard: ReadonlyMap<string, ShelvedSlice>;
  readonly onChoose: (id: string, how?: SelectMode) => void;
}

/**
 * The keystones as drag handles for pads. The worker draws them with the arches; these lie over them invisibly, and
 * only where the view is at rest, so that panning moves nothing but pictures.
 */
export const Keystones = memo(function Keystones(props: KeystonesProps) {
  const { recording, slices, source, span, width, pad, heard, onChoose } = props;
  const wide = visibleSlices(slices, span, width).filter(
    (s) => (s.endFrame - s.startFrame) / span.framesPerPixel >= KEYSTONE_FROM,
  );
  const numbers = new Map(slices.map((s, i) => [s.id, i + 1]));
  return wide.slice(0, MOST).map((slice) => {
    const height = archHeight(stretchPeak(source, slice.startFrame, slice.endFrame));
    return (
      <Keystone
        key={slice.id}
        stretch={stretchOf(recording, slice, numbers.get(slice.id) ?? 1, pad, heard.get(slice.id))}
        {...keystoneAt(slice, height, span, width)}
        onChoose={(how) => onChoose(slice.id, how)}
      />
    );
  });
});

function Keystone({
  stretch,
  x,
  y,
  onChoose,
}: {
  stretch: Stretch;
  x: number;
  y: number;
  onChoose: (how: SelectMode) => void;
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
      className="absolute top-0 left-0 h-6 w-6 cursor-grab touch-none rounded-full hover:ring-2 hover:ring-verdigris"
      style={{ transform: `translate(${x - 12}px, ${y - 12}px)` }}
      onClick={(event) => onChoose(selectModeOf(event))}
    />
  );
}

/** The handle of a marked stretch, to drag it and for other actions on it. */
export function StretchHandle({
  recording,
  stretch,
  spans,
  pad,
  onSlice,
  onKeep,
}: {
  recording: RecordingView;
  stretch: MarkedStretch;
  spans: SpanDesk;
  pad: PadSettings | undefined;
  onSlice: () => void;
  onKeep: (() => void) | null;
}) {
  const whole = markedStretchOf(recording, stretch, pad);
  const { setNodeRef, listeners, attributes } = useDraggable({ id: 'stretch', data: { stretch: whole } });
  const x = frameToX(useSpanShown(spans), (stretch.start + stretch.end) / 2);
  const button = 'h-full whitespace-nowrap border-line border-l px-2 hover:text-verdigris';
  return (
    <div
      className="absolute flex h-7 items-center overflow-hidden rounded-md border border-verdigris bg-sheet text-[12px]"
      style={{ left: x, top: COLONNADE_HEIGHT + 6, transform: 'translateX(-50%)' }}
    >
      <button
        ref={setNodeRef}
        type="button"
        {...attributes}
        {...listeners}
        aria-label="Marked stretch: drag it onto a pad"
        data-testid="stretch-handle"
        className="h-full touch-none whitespace-nowrap px-2"
      >
        drag to a pad · {Math.round(((stretch.end - stretch.start) / recording.sampleRate) * 1000)} ms
      </button>
      <button type="button" className={button} title="Make a slice of it ( . )" onClick={onSlice}>
        a slice
      </button>
      {onKeep && (
        <button
          type="button"
          className={button}
          title="The chosen slice keeps its sound up to the end of the stretch (Shift ;)"
          onClick={onKeep}
        >
          keep up to here
        </button>
      )}
    </div>
  );
}
