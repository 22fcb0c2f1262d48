'use client';

import { type PointerEvent, type RefObject, useRef, useState } from 'react';
import { frameToX, xToFrame } from '@/picture/span';
import { CURVE_DB, drawTreated, gainToY, RULER, type TreatedScene, yToGain } from '@/picture/treated';
import { beginDrawing, useDrawing, usePalette } from '../parts/canvas';
import { type SpanDesk, useZoomWheel } from '../parts/use-span';
import type { Handle } from './handles';

interface TreatedWaveProps {
  readonly name: string;
  readonly box: RefObject<HTMLDivElement | null>;
  readonly size: { readonly width: number; readonly height: number };
  readonly scene: Omit<TreatedScene, 'handles'>;
  readonly handles: readonly Handle[];
  readonly spans: SpanDesk;
  readonly frames: number;
  /** Values under the pointer: a draft while `done` is false. */
  readonly onHandle: (values: Readonly<Record<string, number>>, label: string, done: boolean) => void;
  readonly children: React.ReactNode;
}

/** How near the pointer must be to take hold of a handle, in pixels. */
const NEAR = 12;

/** The sound before and after on one time axis; the handles of the chosen step are dragged, the wheel zooms. */
export function TreatedWave(props: TreatedWaveProps) {
  const { name, box, size, scene, handles, spans, frames, onHandle, children } = props;
  const { width, height } = size;
  const canvas = useRef<HTMLCanvasElement>(null);
  const palette = usePalette();
  const held = useRef<number | null>(null);
  const [over, setOver] = useState<string | null>(null);
  const { before, after, curve, span, afterFrames, beforeFrames } = scene;
  useDrawing(() => {
    if (!canvas.current || width === 0) return;
    drawTreated(beginDrawing(canvas.current, width, height), { ...scene, handles }, width, height, palette);
  }, [width, height, palette, before, after, curve, span, afterFrames, beforeFrames, handles]);
  useZoomWheel(box, spans, frames);

  const place = (event: PointerEvent) => {
    const { left, top } = (box.current as HTMLDivElement).getBoundingClientRect();
    return { x: event.clientX - left, y: event.clientY - top - RULER };
  };
  const handleAt = ({ x, y }: { x: number; y: number }) => {
    const away = handles.map((handle) =>
      Math.hypot(frameToX(span, handle.frame) - x, gainToY(-CURVE_DB * (1 - handle.height), height - RULER) - y),
    );
    // Where several lie on one place the last one is taken: the earlier ones can be dragged once it has moved.
    const nearest = away.lastIndexOf(Math.min(...away));
    return nearest >= 0 && (away[nearest] as number) <= NEAR ? nearest : null;
  };
  const drag = (event: PointerEvent, done: boolean) => {
    const handle = held.current === null ? undefined : handles[held.current];
    if (!handle) return;
    const { x, y } = place(event);
    onHandle(handle.moved(xToFrame(span, x), yToGain(y, height - RULER)), handle.label, done);
  };
  return (
    <div
      ref={box}
      className={`relative min-h-0 flex-1 touch-none bg-sheet ${over ? 'cursor-grab' : ''}`}
      data-testid="treated-wave"
      title={over ? `Drag: ${over}` : undefined}
      onPointerDown={(event) => {
        held.current = handleAt(place(event));
        if (held.current !== null) event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={(event) => {
        if (held.current === null) setOver(handles[handleAt(place(event)) ?? -1]?.label ?? null);
        drag(event, false);
      }}
      onPointerUp={(event) => {
        drag(event, true);
        held.current = null;
      }}
      onPointerCancel={(event) => {
        // What the pointer had reached stays.
        drag(event, true);
        held.current = null;
      }}
    >
      <canvas ref={canvas} className="absolute inset-0" aria-label={`Wave of ${name}`} style={{ width, height }} />
      {children}
    </div>
  );
}
