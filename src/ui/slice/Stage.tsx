'use client';

import { type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { RecordingView } from '@/contract/views';
import type { Slice } from '@/core/recording/model';
import { beginDrawing, useDrawing, usePalette, useSize } from '../parts/canvas';
import { drawWave } from '../parts/draw-wave';
import type { WaveSource } from '../parts/wave-source';
import { soundNow } from '../sound/sound';
import { COLONNADE_HEIGHT, drawColonnade, drawFeet } from './draw-stage';
import { Keystones, StretchHandle } from './Handles';
import { clampSpan, frameToX, type MarkedStretch, type Span, xToFrame, zoomAt } from './view';

type Edge = 'start' | 'end';

export interface StageProps {
  readonly recording: RecordingView;
  readonly source: WaveSource;
  readonly arrivals: number;
  readonly slices: readonly Stored<Slice>[];
  readonly chosenId: string | null;
  readonly span: Span;
  readonly setSpan: (change: (span: Span) => Span) => void;
  readonly gain: number;
  readonly stretch: MarkedStretch | null;
  readonly setStretch: (stretch: MarkedStretch | null) => void;
  readonly onChoose: (id: string | null) => void;
  readonly onAdd: (frame: number) => void;
  /** An edge under the pointer: shown while it moves, stored when let go. */
  readonly onDragEdge: (id: string, edge: Edge, frame: number, done: boolean) => void;
  readonly widthRef: RefObject<HTMLDivElement | null>;
}

type Gesture =
  | { kind: 'edge'; id: string; edge: Edge; offset: number }
  | { kind: 'mark'; from: number; moved: boolean }
  | null;

/** How near the pointer must be to an edge to take hold of it, in pixels; the chosen slice's are easier to get. */
const NEAR = 5;
const NEAR_CHOSEN = 12;
/** How long the view must be still before its keystones can be taken hold of. */
const REST_MS = 80;

/** The colonnade over the wave. Three thin canvases, so that the moving playhead redraws nothing but itself. */
export function Stage(props: StageProps) {
  const { recording, source, arrivals, slices, chosenId, span, setSpan, gain, stretch, setStretch, widthRef } = props;
  const arches = useRef<HTMLCanvasElement>(null);
  const wave = useRef<HTMLCanvasElement>(null);
  const feet = useRef<HTMLCanvasElement>(null);
  const overlay = useRef<HTMLCanvasElement>(null);
  const { width, height: whole } = useSize(widthRef);
  const height = Math.max(0, whole - COLONNADE_HEIGHT);
  const palette = usePalette();
  const gesture = useRef<Gesture>(null);
  const restedSpan = useRested(span, REST_MS);
  const [cursor, setCursor] = useState('crosshair');
  const model = { slices, chosenId, source, sampleRate: recording.sampleRate };

  useDrawing(() => {
    if (!wave.current || width === 0) return;
    drawWave(beginDrawing(wave.current, width, height), source, { ...span, width, height, gain }, palette('wave'));
  }, [source, arrivals, span, width, height, gain, palette]);
  useDrawing(() => {
    if (!arches.current || !feet.current || width === 0) return;
    drawColonnade(beginDrawing(arches.current, width, COLONNADE_HEIGHT), model, span, width, palette);
    drawFeet(beginDrawing(feet.current, width, height), model, span, width, height, stretch, palette);
  }, [source, arrivals, slices, chosenId, span, width, height, stretch, palette]);
  usePlayhead(overlay, recording.id, span, width, height, palette('madder'));

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
      } else setSpan((s) => zoomAt(s, Math.exp(event.deltaY * 0.0022), x, element.clientWidth, recording.frames));
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
  const sliceAt = (x: number) => {
    const frame = xToFrame(span, x);
    return slices.filter((s) => s.startFrame <= frame && frame < s.endFrame).at(-1)?.id ?? null;
  };

  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0 || (event.target as HTMLElement).closest('button')) return;
    const { x } = place(event);
    event.currentTarget.setPointerCapture(event.pointerId);
    const edge = edgeAt(x);
    if (edge) {
      const slice = slices.find((s) => s.id === edge.id) as Slice;
      const at = frameToX(span, edge.edge === 'start' ? slice.startFrame : slice.endFrame);
      gesture.current = { kind: 'edge', ...edge, offset: at - x };
    } else gesture.current = { kind: 'mark', from: x, moved: false };
  };
  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    const { x } = place(event);
    const g = gesture.current;
    if (!g) setCursor(edgeAt(x) ? 'ew-resize' : 'crosshair');
    else if (g.kind === 'edge') props.onDragEdge(g.id, g.edge, Math.round(xToFrame(span, x + g.offset)), false);
    else if (g.moved || Math.abs(x - g.from) > 4) {
      g.moved = true;
      const [a, b] = [xToFrame(span, g.from), xToFrame(span, x)].sort((p, q) => p - q) as [number, number];
      setStretch({ start: Math.max(0, Math.round(a)), end: Math.min(recording.frames, Math.round(b)) });
    }
  };
  const onPointerUp = (event: PointerEvent<HTMLDivElement>) => {
    const { x } = place(event);
    const g = gesture.current;
    gesture.current = null;
    if (g?.kind === 'edge') props.onDragEdge(g.id, g.edge, Math.round(xToFrame(span, x + g.offset)), true);
    else if (g?.kind === 'mark' && !g.moved) {
      setStretch(null);
      props.onChoose(sliceAt(x));
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
      <canvas ref={feet} aria-hidden className="absolute left-0" style={{ top: COLONNADE_HEIGHT, width, height }} />
      <canvas
        ref={wave}
        aria-label={`Wave of ${recording.title}`}
        className="absolute left-0"
        style={{ top: COLONNADE_HEIGHT, width, height }}
      />
      <canvas
        ref={overlay}
        aria-hidden
        className="pointer-events-none absolute left-0"
        style={{ top: COLONNADE_HEIGHT, width, height }}
      />
      <Keystones
        recording={recording}
        slices={slices}
        source={source}
        arrivals={arrivals}
        span={restedSpan}
        width={width}
        onChoose={props.onChoose}
      />
      {stretch && <StretchHandle recording={recording} stretch={stretch} span={span} />}
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

/** Draws the playhead of what is being auditioned, as long as it sounds. */
function usePlayhead(
  canvas: RefObject<HTMLCanvasElement | null>,
  recordingId: string,
  span: Span,
  width: number,
  height: number,
  colour: string,
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
        ctx.fillStyle = colour;
        ctx.fillRect(frameToX(span, head.frame) - 1, 0, 2, height);
        shown = true;
      }
    };
    draw();
    return () => cancelAnimationFrame(frame);
  }, [canvas, recordingId, span, width, height, colour]);
}
