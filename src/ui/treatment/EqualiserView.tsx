'use client';

import { type PointerEvent, useRef } from 'react';
import type { RecordingView } from '@/contract/views';
import { responseDb } from '@/core/filter/biquad';
import { initialValues } from '@/core/parameter/values';
import { POINT, type Point } from '@/core/treatment/equaliser';
import { sectionsOf } from '@/core/treatment/process/equaliser';
import { dbToY, drawEqualiser, yToDb } from '@/picture/equaliser';
import { hzToX, xToHz } from '@/picture/frequency';
import { beginDrawing, useDrawing, usePalette, useSize } from '../parts/canvas';
import { useWheel } from '../parts/use-wheel';

interface EqualiserViewProps {
  readonly recording: Pick<RecordingView, 'sampleRate'>;
  readonly before: Float32Array | null;
  readonly after: Float32Array | null;
  /** The points of the equaliser that is chosen; null where another step is. */
  readonly points: readonly Point[] | null;
  /** Most points it may have. */
  readonly most?: number;
  readonly chosen: number;
  readonly onChoose: (index: number) => void;
  /** Points as they would be: a draft while `done` is false. */
  readonly onPoints: (points: readonly Point[], said: string, done: boolean) => void;
}

const MOST_POINTS = 48;
/** How near the pointer must be to take hold of a point, in pixels. */
const NEAR = 14;
/** A wheel that has not turned for so long has come to rest, in ms. */
const WHEEL_REST_MS = 350;
/** Kinds whose height in the picture is not set by the pointer. */
const FLAT = new Set<Point['kind']>(['high-pass', 'low-pass', 'notch', 'band']);

/** The hit's spectrum before and after; over it the equaliser that is chosen, whose points are dragged. */
export function EqualiserView(props: EqualiserViewProps) {
  const { recording, before, after, points, most = MOST_POINTS, chosen, onChoose, onPoints } = props;
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height } = useSize(box);
  const palette = usePalette();
  const held = useRef<number | null>(null);

  useDrawing(() => {
    if (!canvas.current || width === 0) return;
    const ctx = beginDrawing(canvas.current, width, height);
    const shown = points?.map((point, n) => ({ ...point, gainDb: heightOf(point), chosen: n === chosen })) ?? [];
    const response = points && responseAcross(points, width, recording.sampleRate);
    drawEqualiser(ctx, { before, after, response, points: shown }, width, height, palette);
  }, [before, after, points, chosen, width, height, palette, recording.sampleRate]);

  const place = (event: { clientX: number; clientY: number }) => {
    const { left, top } = (box.current as HTMLDivElement).getBoundingClientRect();
    return { x: event.clientX - left, y: event.clientY - top };
  };
  const pointAt = (x: number, y: number) => {
    const distances = (points ?? []).map((p) =>
      Math.hypot(hzToX(p.frequencyHz, width) - x, dbToY(heightOf(p), height) - y),
    );
    const nearest = distances.indexOf(Math.min(...distances));
    return nearest >= 0 && (distances[nearest] as number) <= NEAR ? nearest : -1;
  };
  const moved = (index: number, x: number, y: number) =>
    (points ?? []).map((point, n) =>
      n !== index
        ? point
        : {
            ...point,
            frequencyHz: Math.round(Math.max(POINT.frequencyHz.low, xToHz(x, width)) * 10) / 10,
            gainDb: FLAT.has(point.kind) ? point.gainDb : Math.round(yToDb(y, height) * 10) / 10,
          },
    );
  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    const { x, y } = place(event);
    const index = pointAt(x, y);
    if (index < 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    held.current = index;
    onChoose(index);
  };
  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    if (held.current === null) return;
    const { x, y } = place(event);
    onPoints(moved(held.current, x, y), 'points', false);
  };
  const onPointerUp = (event: PointerEvent<HTMLDivElement>) => {
    if (held.current === null) return;
    const { x, y } = place(event);
    onPoints(moved(held.current, x, y), 'points', true);
    held.current = null;
  };
  // The wheel's turns come many to a gesture: a draft while it turns, one edit when it rests.
  const rest = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const latest = useRef({ points, onPoints });
  latest.current = { points, onPoints };
  useWheel(box, ({ deltaY }) => {
    const { low, high } = POINT.widthOct;
    const point = points?.[chosen];
    if (!points || !point) return;
    const widthOct = Math.max(low, Math.min(high, point.widthOct * Math.exp(deltaY * 0.001)));
    onPoints(
      points.map((p, n) => (n === chosen ? { ...p, widthOct } : p)),
      'width',
      false,
    );
    clearTimeout(rest.current);
    rest.current = setTimeout(() => {
      const { points: last, onPoints: commit } = latest.current;
      if (last) commit(last, 'width', true);
    }, WHEEL_REST_MS);
  });
  const add = (event: React.MouseEvent) => {
    if (!points || points.length >= most) return;
    const { x, y } = place(event);
    if (pointAt(x, y) >= 0) return;
    const made: Point = {
      ...initialValues(POINT),
      frequencyHz: Math.round(xToHz(x, width)),
      gainDb: Math.round(yToDb(y, height) * 10) / 10,
    };
    onPoints([...points, made], 'points', true);
    onChoose(points.length);
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the rows beside it set all of this by keyboard
    <div
      ref={box}
      data-testid="equaliser"
      className={`h-full w-full touch-none ${points ? 'cursor-crosshair' : ''}`}
      title={
        points ? 'Drag a point; double click adds one; the wheel makes the chosen one wider or narrower' : undefined
      }
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={() => {
        // What the pointer had reached stays.
        if (held.current !== null && points) onPoints(points, 'points', true);
        held.current = null;
      }}
      onDoubleClick={add}
    >
      <canvas ref={canvas} aria-label="Spectrum before and after" style={{ width, height }} />
    </div>
  );
}

/** Where a point is drawn: those without a gain of their own on the middle line. */
function heightOf(point: Point): number {
  return FLAT.has(point.kind) ? 0 : point.gainDb;
}

function responseAcross(points: readonly Point[], width: number, sampleRate: number): Float32Array {
  const sections = points.flatMap((point) => sectionsOf(point, sampleRate));
  return Float32Array.from({ length: Math.ceil(width) }, (_, x) => {
    const hz = xToHz(x, width);
    return hz < sampleRate / 2 ? responseDb(sections, hz, sampleRate) : -60;
  });
}
