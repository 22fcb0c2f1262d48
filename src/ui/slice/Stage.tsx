'use client';

import { type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { RecordingView } from '@/contract/views';
import type { PadSettings } from '@/core/kit/model';
import type { Slice } from '@/core/recording/model';
import { COLONNADE_HEIGHT, type SliceShown } from '@/picture/colonnade';
import { clampSpan, frameToX, type MarkedStretch, xToFrame, zoomAt } from '@/picture/span';
import type { SplitMarks } from '@/picture/stage';
import type { Time } from '@/picture/time';
import { gainInSight } from '@/picture/wave';
import type { WaveSource } from '@/picture/wave-source';
import { useSize } from '../parts/canvas';
import { mannerOf } from '../parts/listing';
import type { ShelvedSlice } from '../shelves/use-heard';
import { Keystones, StretchHandle } from './Handles';
import { type Pictures, usePicture } from './use-pictures';
import { usePlayhead } from './use-playhead';
import type { Manner } from './use-selection';
import { type SpanDesk, useRestedSpan } from './use-span';

type Edge = 'start' | 'end';

export interface StageProps {
  readonly recording: RecordingView;
  readonly source: WaveSource;
  readonly arrivals: number;
  readonly pictures: Pictures;
  readonly slices: readonly Stored<Slice>[];
  /** The slices as they are stored: what is dragged onto pads, which an edge in hand need not move. */
  readonly stored: readonly Stored<Slice>[];
  readonly chosenId: string | null;
  readonly selected: ReadonlySet<string>;
  readonly time: Time;
  readonly marks: SplitMarks;
  /** The threshold of a split at silence under the pointer, as an amplitude. */
  readonly onThreshold: (amplitude: number, done: boolean) => void;
  /** The first downbeat of a grid under the pointer. */
  readonly onDownbeat: (frame: number, done: boolean) => void;
  readonly spans: SpanDesk;
  /** View gain; 0 for one that follows what is in sight. */
  readonly gain: number;
  readonly stretch: MarkedStretch | null;
  readonly setStretch: (stretch: MarkedStretch | null) => void;
  readonly onChoose: (id: string | null, how?: Manner) => void;
  readonly onAdd: (frame: number) => void;
  /** An edge under the pointer: shown while it moves, stored when let go. */
  readonly onDragEdge: (id: string, edge: Edge, frame: number, done: boolean) => void;
  readonly widthRef: RefObject<HTMLDivElement | null>;
  /** Makes a slice of the marked stretch; null where the chosen slice cannot be told to keep sound up to its end. */
  readonly onSliceStretch: () => void;
  readonly onKeepStretch: (() => void) | null;
  /** What new pads get whose sound comes from here. */
  readonly pad: PadSettings | undefined;
  /** What slices are heard as, by their ids. */
  readonly heard: ReadonlyMap<string, ShelvedSlice>;
}

type Gesture =
  | { kind: 'edge'; id: string; edge: Edge; offset: number }
  | { kind: 'mark'; from: number; moved: boolean }
  | { kind: 'threshold' }
  | { kind: 'downbeat'; offset: number }
  | null;

/** How near the pointer must be to an edge to take hold of it, in pixels; the chosen slice's are easier to get. */
const NEAR = 5;
const NEAR_CHOSEN = 12;
/** How long the view must be still before its keystones can be taken hold of. */
const REST_MS = 80;

/** The colonnade over the wave. A worker draws them; here is what the hand does there. */
export function Stage(props: StageProps) {
  const { recording, source, arrivals, pictures, slices, chosenId, selected, time, marks } = props;
  const { spans, gain, stretch, setStretch, widthRef } = props;
  const setSpan = spans.set;
  const size = useSize(widthRef);
  const { width, height: whole } = size;
  const height = Math.max(0, whole - COLONNADE_HEIGHT);
  const gesture = useRef<Gesture>(null);
  const restedSpan = useRestedSpan(spans, REST_MS);
  const [cursor, setCursor] = useState('crosshair');
  const playhead = useRef<HTMLDivElement>(null);

  usePicture(pictures, 'stage', widthRef, size);
  useEffect(() => pictures.show('stage', { slices: slices.map(shownOf) }), [pictures, slices]);
  useEffect(
    () => pictures.show('stage', { chosenId, selected, time, marks, stretch, gain }),
    [pictures, chosenId, selected, time, marks, stretch, gain],
  );
  useEffect(() => {
    const show = () => pictures.show('stage', { span: spans.get() });
    show();
    return spans.subscribe(show);
  }, [pictures, spans]);
  usePlayhead(playhead, recording, slices, spans, pictures);

  // A wheel listener of React's is passive and cannot keep the page from scrolling or zooming.
  useEffect(() => {
    const element = widthRef.current;
    if (!element) return;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const stageWidth = spans.width();
      const sideways = event.shiftKey ? event.deltaY || event.deltaX : event.deltaX;
      if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
        setSpan((s) => clampSpan({ ...s, start: s.start + sideways * s.framesPerPixel }, stageWidth, recording.frames));
      } else {
        // Two fingers drawn apart come as a wheel with Ctrl held, in smaller steps.
        const x = event.clientX - element.getBoundingClientRect().left;
        const speed = event.ctrlKey ? 0.011 : 0.0022;
        setSpan((s) => zoomAt(s, Math.exp(event.deltaY * speed), x, stageWidth, recording.frames));
      }
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [widthRef, spans, setSpan, recording.frames]);

  const place = (event: PointerEvent) => {
    const box = (widthRef.current as HTMLDivElement).getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const edgeAt = (x: number): { id: string; edge: Edge } | null => {
    let best: { id: string; edge: Edge; distance: number } | null = null;
    const span = spans.get();
    for (const slice of slices) {
      for (const edge of ['start', 'end'] as const) {
        const distance = Math.abs(frameToX(span, edge === 'start' ? slice.startFrame : slice.endFrame) - x);
        const near = slice.id === chosenId ? NEAR_CHOSEN : NEAR;
        // Where an end and a start lie on one another the start is meant: the end follows it.
        const rank = distance + (edge === 'end' ? 0.4 : 0) - (slice.id === chosenId ? 2 : 0);
        if (distance <= near && (!best || rank < best.distance)) best = { id: slice.id, edge, distance: rank };
      }
    }
    return best;
  };
  const gainNow = () => (gain === 0 ? gainInSight(source, spans.get(), width) : gain);
  /** Half the height of the band within which there is silence, in pixels from the middle. */
  const silenceAway = () => Math.min(height / 2 - 1, (marks.threshold ?? 0) * (height / 2 - 2) * gainNow());
  const overThreshold = (y: number) =>
    marks.threshold !== null && Math.abs(Math.abs(y - COLONNADE_HEIGHT - height / 2) - silenceAway()) <= NEAR;
  const amplitudeAt = (y: number) =>
    Math.max(1e-5, Math.min(1, Math.abs(y - COLONNADE_HEIGHT - height / 2) / ((height / 2 - 2) * gainNow())));
  const downbeat = marks.lines[0]?.frame;
  const overDownbeat = (x: number, y: number) =>
    downbeat !== undefined && Math.abs(frameToX(spans.get(), downbeat) - x) <= 12 && y > whole - 24;
  const sliceAt = (x: number) => {
    const frame = xToFrame(spans.get(), x);
    return slices.filter((s) => s.startFrame <= frame && frame < s.endFrame).at(-1)?.id ?? null;
  };

  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0 || (event.target as HTMLElement).closest('button')) return;
    const { x, y } = place(event);
    const span = spans.get();
    event.currentTarget.setPointerCapture(event.pointerId);
    const edge = edgeAt(x);
    if (overDownbeat(x, y)) gesture.current = { kind: 'downbeat', offset: frameToX(span, downbeat as number) - x };
    else if (overThreshold(y)) gesture.current = { kind: 'threshold' };
    else if (edge) {
      const slice = slices.find((s) => s.id === edge.id) as Slice;
      const at = frameToX(span, edge.edge === 'start' ? slice.startFrame : slice.endFrame);
      gesture.current = { kind: 'edge', ...edge, offset: at - x };
    } else gesture.current = { kind: 'mark', from: x, moved: false };
  };
  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    const { x, y } = place(event);
    const span = spans.get();
    const g = gesture.current;
    if (!g)
      setCursor(overDownbeat(x, y) ? 'grab' : overThreshold(y) ? 'ns-resize' : edgeAt(x) ? 'ew-resize' : 'crosshair');
    else if (g.kind === 'threshold') props.onThreshold(amplitudeAt(y), false);
    else if (g.kind === 'downbeat') props.onDownbeat(Math.round(xToFrame(span, x + g.offset)), false);
    else if (g.kind === 'edge') props.onDragEdge(g.id, g.edge, Math.round(xToFrame(span, x + g.offset)), false);
    else if (g.moved || Math.abs(x - g.from) > 4) {
      g.moved = true;
      const [a, b] = [xToFrame(span, g.from), xToFrame(span, x)].sort((p, q) => p - q) as [number, number];
      setStretch({ start: Math.max(0, Math.round(a)), end: Math.min(recording.frames, Math.round(b)) });
    }
  };
  const onPointerUp = (event: PointerEvent<HTMLDivElement>) => {
    const { x, y } = place(event);
    const span = spans.get();
    const g = gesture.current;
    gesture.current = null;
    if (g?.kind === 'threshold') props.onThreshold(amplitudeAt(y), true);
    else if (g?.kind === 'downbeat') props.onDownbeat(Math.round(xToFrame(span, x + g.offset)), true);
    else if (g?.kind === 'edge') props.onDragEdge(g.id, g.edge, Math.round(xToFrame(span, x + g.offset)), true);
    else if (g?.kind === 'mark' && !g.moved) {
      setStretch(null);
      props.onChoose(sliceAt(x), mannerOf(event));
    }
  };

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the table beside it does all of this for keyboard and screen reader
    <div
      ref={widthRef}
      className="relative min-h-0 flex-1 touch-none select-none overflow-hidden bg-sheet"
      style={{ cursor }}
      data-testid="stage"
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={() => {
        gesture.current = null;
      }}
      onDoubleClick={(event) => {
        const box = (widthRef.current as HTMLDivElement).getBoundingClientRect();
        if (!(event.target as HTMLElement).closest('button'))
          props.onAdd(Math.round(xToFrame(spans.get(), event.clientX - box.left)));
      }}
    >
      <div
        ref={playhead}
        className="pointer-events-none absolute bottom-0 left-0 w-[2px] bg-madder will-change-transform"
        style={{ top: COLONNADE_HEIGHT, visibility: 'hidden' }}
      />
      <Keystones
        recording={recording}
        slices={props.stored}
        source={source}
        arrivals={arrivals}
        span={restedSpan}
        width={width}
        pad={props.pad}
        heard={props.heard}
        onChoose={props.onChoose}
      />
      {arrivals === 0 && recording.frames > 0 && (
        <p
          role="status"
          className="pointer-events-none absolute inset-x-0 text-center text-soft"
          style={{ top: COLONNADE_HEIGHT + 40 }}
        >
          Fetching the wave …
        </p>
      )}
      {stretch && (
        <StretchHandle
          recording={recording}
          stretch={stretch}
          spans={spans}
          pad={props.pad}
          onSlice={props.onSliceStretch}
          onKeep={props.onKeepStretch}
        />
      )}
    </div>
  );
}

/** What the picture tells of a slice. */
function shownOf({ id, startFrame, endFrame, family, name, locked }: Stored<Slice>): SliceShown {
  return { id, startFrame, endFrame, family, name, locked };
}
