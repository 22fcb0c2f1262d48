'use client';

import { useRef, useState } from 'react';
import type { RecordingView } from '@/contract/views';
import type { Bookmark } from '@/core/recording/model';
import { beginDrawing, useDrawing, usePalette, useSize } from '../parts/canvas';
import { drawWave } from '../parts/draw-wave';
import type { WaveSource } from '../parts/wave-source';
import { drawStrip, STRIP_HEIGHT, type Strip, wordsAt } from './strip';
import { type SpanDesk, useSpanShown } from './use-span';
import { clampSpan } from './view';

const HEIGHT = 28;
const WAVE_HEIGHT = HEIGHT - STRIP_HEIGHT;

/** The whole recording with the window on it, where it is bare, and its bookmarks; drag to scroll. */
export function Overview({
  recording,
  source,
  arrivals,
  spans,
  strip,
  bookmarks,
}: {
  recording: RecordingView;
  source: WaveSource;
  arrivals: number;
  spans: SpanDesk;
  strip: Strip;
  bookmarks: readonly Bookmark[];
}) {
  const span = useSpanShown(spans);
  const stageWidth = spans.width();
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
      { start: 0, framesPerPixel, width, height: WAVE_HEIGHT, gain: 1 / Math.max(0.05, recording.peak) },
      palette('soft'),
    );
    const pixelsPerSecond = recording.sampleRate / framesPerPixel;
    drawStrip(ctx, strip, WAVE_HEIGHT, pixelsPerSecond, palette);
    ctx.fillStyle = palette('madder');
    for (const { frame } of bookmarks) {
      const at = Math.round(frame / framesPerPixel);
      ctx.fillRect(at, 0, 1, HEIGHT);
      ctx.fillRect(at, 0, 6, 5);
    }
  }, [source, arrivals, width, palette, strip, bookmarks]);
  const [words, setWords] = useState('');
  const x = span.start / framesPerPixel;
  const shown = Math.min(Math.max(4, (stageWidth * span.framesPerPixel) / framesPerPixel), width - x);
  const scrollTo = (clientX: number) => {
    const left = (box.current as HTMLDivElement).getBoundingClientRect().left;
    const frame = (clientX - left) * framesPerPixel;
    spans.set((s) =>
      clampSpan({ ...s, start: frame - (stageWidth * s.framesPerPixel) / 2 }, stageWidth, recording.frames),
    );
  };
  return (
    <div
      ref={box}
      className="relative h-7 min-w-0 flex-1 touch-none overflow-hidden border-line border-b bg-sunk"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        scrollTo(event.clientX);
      }}
      title={words}
      onPointerMove={(event) => {
        if (event.buttons === 1) scrollTo(event.clientX);
        const left = event.currentTarget.getBoundingClientRect().left;
        setWords(wordsAt(strip, ((event.clientX - left) * framesPerPixel) / recording.sampleRate));
      }}
    >
      <canvas ref={canvas} aria-hidden style={{ width, height: HEIGHT }} />
      <div
        className="pointer-events-none absolute top-0 left-0 h-full border-2 border-ink"
        style={{ width: shown, transform: `translateX(${x}px)` }}
      />
    </div>
  );
}
