'use client';

import { useRef } from 'react';
import type { RecordingView } from '@/contract/views';
import { beginDrawing, useDrawing, usePalette, useSize } from '../parts/canvas';
import { drawWave } from '../parts/draw-wave';
import type { WaveSource } from '../parts/wave-source';
import { clampSpan, type Span } from './view';

const HEIGHT = 28;

/** The whole recording with the window on it; drag to scroll. */
export function Overview({
  recording,
  source,
  arrivals,
  span,
  setSpan,
  stageWidth,
}: {
  recording: RecordingView;
  source: WaveSource;
  arrivals: number;
  span: Span;
  setSpan: (change: (span: Span) => Span) => void;
  stageWidth: number;
}) {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width } = useSize(box);
  const palette = usePalette();
  const framesPerPixel = recording.frames / Math.max(1, width);
  useDrawing(() => {
    if (!canvas.current || width === 0) return;
    const ctx = beginDrawing(canvas.current, width, HEIGHT);
    drawWave(
      ctx,
      source,
      { start: 0, framesPerPixel, width, height: HEIGHT, gain: 1 / Math.max(0.05, recording.peak) },
      palette('soft'),
    );
    const x = span.start / framesPerPixel;
    const w = Math.max(4, (stageWidth * span.framesPerPixel) / framesPerPixel);
    ctx.strokeStyle = palette('ink');
    ctx.lineWidth = 2;
    ctx.strokeRect(x + 1, 1, Math.min(w, width - x) - 2, HEIGHT - 2);
  }, [source, arrivals, width, span, stageWidth, palette]);
  const scrollTo = (clientX: number) => {
    const left = (box.current as HTMLDivElement).getBoundingClientRect().left;
    const frame = (clientX - left) * framesPerPixel;
    setSpan((s) =>
      clampSpan({ ...s, start: frame - (stageWidth * s.framesPerPixel) / 2 }, stageWidth, recording.frames),
    );
  };
  return (
    <div
      ref={box}
      className="h-7 flex-none touch-none border-line border-b bg-sunk"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        scrollTo(event.clientX);
      }}
      onPointerMove={(event) => event.buttons === 1 && scrollTo(event.clientX)}
    >
      <canvas ref={canvas} aria-hidden style={{ width, height: HEIGHT }} />
    </div>
  );
}
