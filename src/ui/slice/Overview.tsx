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
  }, [source, arrivals, width, palette]);
  const x = span.start / framesPerPixel;
  const shown = Math.min(Math.max(4, (stageWidth * span.framesPerPixel) / framesPerPixel), width - x);
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
      className="relative h-7 flex-none touch-none overflow-hidden border-line border-b bg-sunk"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        scrollTo(event.clientX);
      }}
      onPointerMove={(event) => event.buttons === 1 && scrollTo(event.clientX)}
    >
      <canvas ref={canvas} aria-hidden style={{ width, height: HEIGHT }} />
      <div
        className="pointer-events-none absolute top-0 left-0 h-full border-2 border-ink"
        style={{ width: shown, transform: `translateX(${x}px)` }}
      />
    </div>
  );
}
