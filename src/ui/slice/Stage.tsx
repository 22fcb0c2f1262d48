'use client';

import { type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { RecordingView } from '@/contract/views';
import type { PadSettings } from '@/core/kit/model';
import type { Slice } from '@/core/recording/model';
import { beginDrawing, type Palette, useDrawing, usePalette, useSize } from '../parts/canvas';
import { drawWave } from '../parts/draw-wave';
import { mannerOf } from '../parts/listing';
import type { WaveSource } from '../parts/wave-source';
import { soundNow } from '../sound/sound';
import {
  COLONNADE_HEIGHT,
  drawColonnade,
  drawFeet,
  drawSounding,
  drawSplitMarks,
  gainInSight,
  type SplitMarks,
} from './draw-stage';
import { Keystones, StretchHandle } from './Handles';
import type { Time } from './time';
import type { Manner } from './use-selection';
import { type SpanDesk, useSpanShown } from './use-span';
import { clampSpan, frameToX, type MarkedStretch, type Span, xToFrame, zoomAt } from './view';

type Edge = 'start' | 'end';

export interface StageProps {
  readonly recording: RecordingView;
  readonly source: WaveSource;
  readonly arrivals: number;
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

/** The colonnade over the wave. Three canvases, so that the moving playhead redraws nothing but itself. */
export function Stage(props: StageProps) {
  const { recording, source, arrivals, slices, chosenId, selected, time, marks } = props;
  const { spans, stretch, setStretch, widthRef } = props;
  const span = useSpanShown(spans);
  const setSpan = spans.set;
  const arches = useRef<HTMLCanvasElement>(null);
  const wave = useRef<HTMLCanvasElement>(null);
  const overlay = useRef<HTMLCanvasElement>(null);
  const { width, height: whole } = useSize(widthRef);
  const height = Math.max(0, whole - COLONNADE_HEIGHT);
  const gain = props.gain === 0 ? gainInSight(source, span, width) : props.gain;
  const palette = usePalette();
  const gesture = useRef<Gesture>(null);
  const restedSpan = useRested(span, REST_MS);
  const [cursor, setCursor] = useState('crosshair');
  const model = { slices, chosenId, selected, source, time };

  // Feet and wave share a canvas: each one costs the browser more to put on the screen than all that is drawn on it.
  useDrawing(() => {
    if (!wave.current || width === 0) return;
    const ctx = beginDrawing(wave.current, width, height);
    drawFeet(ctx, model, span, width, height, stretch, palette);
    drawWave(ctx, source, { ...span, width, height, gain }, palette('wave'));
    drawSplitMarks(ctx, marks, span, width, height, gain, palette);
  }, [source, arrivals, slices, selected, span, width, height, gain, stretch, marks, palette]);
  useDrawing(() => {
    if (!arches.current || width === 0) return;
    drawColonnade(beginDrawing(arches.current, width, COLONNADE_HEIGHT), model, span, width, palette);
  }, [source, arrivals, slices, selected, time, span, width, palette]);
  usePlayhead(overlay, recording.id, slices, span, width, whole, palette);

  // A wheel listener of React's is passive and cannot keep the page from scrolling or zooming.
  useEffect(() => {
    const element = widthRef.current;
    if (!element) return;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const x = event.clientX - element.getBoundingClientRect().left;
      const sideways = event.shiftKey ? event.deltaY || event.deltaX : event.deltaX;
      if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
        setSpan((s) =>
          clampSpan({ ...s, start: s.start + sideways * s.framesPerPixel }, element.clientWidth, recording.frames),
        );
      } else {
        // Two fingers drawn apart come as a wheel with Ctrl held, in smaller steps.
        const speed = event.ctrlKey ? 0.011 : 0.0022;
        setSpan((s) => zoomAt(s, Math.exp(event.deltaY * speed), x, element.clientWidth, recording.frames));
      }
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [widthRef, setSpan, recording.frames]);

  const place = (event: PointerEvent) => {
    const box = (widthRef.current as HTMLDivElement).getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const edgeAt = (x: number): { id: string; edge: Edge } | null => {
    let best: { id: string; edge: Edge; distance: number } | null = null;
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
  /** Half the height of the band within which there is silence, in pixels from the middle. */
  const silenceAway = () => Math.min(height / 2 - 1, (marks.threshold ?? 0) * (height / 2 - 2) * gain);
  const overThreshold = (y: number) =>
    marks.threshold !== null && Math.abs(Math.abs(y - COLONNADE_HEIGHT - height / 2) - silenceAway()) <= NEAR;
  const amplitudeAt = (y: number) =>
    Math.max(1e-5, Math.min(1, Math.abs(y - COLONNADE_HEIGHT - height / 2) / ((height / 2 - 2) * gain)));
  const downbeat = marks.lines[0]?.frame;
  const overDownbeat = (x: number, y: number) =>
    downbeat !== undefined && Math.abs(frameToX(span, downbeat) - x) <= 12 && y > whole - 24;
  const sliceAt = (x: number) => {
    const frame = xToFrame(span, x);
    return slices.filter((s) => s.startFrame <= frame && frame < s.endFrame).at(-1)?.id ?? null;
  };

  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0 || (event.target as HTMLElement).closest('button')) return;
    const { x, y } = place(event);
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
          props.onAdd(Math.round(xToFrame(span, event.clientX - box.left)));
      }}
    >
      <div className="absolute inset-x-0 top-0 bg-paper" style={{ height: COLONNADE_HEIGHT }} />
      <canvas ref={arches} aria-hidden className="absolute top-0 left-0" style={{ width, height: COLONNADE_HEIGHT }} />
      <canvas
        ref={wave}
        aria-label={`Wave of ${recording.title}`}
        className="absolute left-0"
        style={{ top: COLONNADE_HEIGHT, width, height }}
      />
      <canvas
        ref={overlay}
        aria-hidden
        className="pointer-events-none absolute top-0 left-0"
        style={{ width, height: whole }}
      />
      {downbeat !== undefined && (
        <span
          className="pointer-events-none absolute bottom-0 whitespace-nowrap rounded-t bg-verdigris px-1 text-[11px] text-sheet"
          style={{ left: Math.max(24, frameToX(span, downbeat)), transform: 'translateX(-50%)' }}
        >
          1st bar
        </span>
      )}
      <Keystones
        recording={recording}
        slices={props.stored}
        source={source}
        arrivals={arrivals}
        span={restedSpan}
        width={width}
        pad={props.pad}
        onChoose={props.onChoose}
      />
      {stretch && (
        <StretchHandle
          recording={recording}
          stretch={stretch}
          span={span}
          pad={props.pad}
          onSlice={props.onSliceStretch}
          onKeep={props.onKeepStretch}
        />
      )}
    </div>
  );
}

/** A value once it has stayed the same for a while. */
function useRested<T>(value: T, ms: number): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return rested;
}

/** Draws the playhead of what is being auditioned, as long as it sounds, and lights the slices that it is in. */
function usePlayhead(
  canvas: RefObject<HTMLCanvasElement | null>,
  recordingId: string,
  slices: readonly Slice[],
  span: Span,
  width: number,
  height: number,
  palette: Palette,
): void {
  useEffect(() => {
    let frame = 0;
    let shown = false;
    const draw = () => {
      frame = requestAnimationFrame(draw);
      const head = soundNow()?.playhead();
      if ((!head || head.recordingId !== recordingId) && !shown) return;
      if (!canvas.current || width === 0) return;
      const ctx = beginDrawing(canvas.current, width, height);
      shown = false;
      if (head?.recordingId === recordingId) {
        drawSounding(ctx, slices, head.frame, span, width, palette);
        ctx.fillStyle = palette('madder');
        ctx.fillRect(frameToX(span, head.frame) - 1, COLONNADE_HEIGHT, 2, height - COLONNADE_HEIGHT);
        shown = true;
      }
    };
    draw();
    return () => cancelAnimationFrame(frame);
  }, [canvas, recordingId, slices, span, width, height, palette]);
}
