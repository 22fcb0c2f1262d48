'use client';

import { useEffect, useRef, useState } from 'react';
import type { RecordingView } from '@/contract/views';
import type { Bookmark } from '@/core/recording/model';
import { clampSpan } from '@/picture/span';
import { drawWave } from '@/picture/wave';
import type { WaveSource } from '@/picture/wave-source';
import { beginDrawing, useDrawing, usePalette, useSize } from '../parts/canvas';
import type { SpanDesk } from '../parts/use-span';
import { drawStrip, STRIP_HEIGHT, type Strip, wordsAt } from './strip';
import { type Pictures, usePicture } from './use-pictures';

const HEIGHT = 28;
const WAVE_HEIGHT = HEIGHT - STRIP_HEIGHT;

/** The whole recording with the visible window, bare stretches and bookmarks; drag to scroll. */
export function Overview({
  recording,
  source,
  arrivals,
  spans,
  pictures,
  strip,
  bookmarks,
}: {
  recording: RecordingView;
  source: WaveSource;
  arrivals: number;
  spans: SpanDesk;
  pictures: Pictures;
  strip: Strip;
  bookmarks: readonly Bookmark[];
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
  usePicture(pictures, 'window', box, { width, height: HEIGHT });
  useEffect(() => {
    const show = () =>
      pictures.show('window', { span: spans.get(), stageWidth: spans.width(), totalFrames: recording.frames });
    show();
    return spans.subscribe(show);
  }, [pictures, spans, recording.frames]);
  const scrollTo = (clientX: number) => {
    const left = (box.current as HTMLDivElement).getBoundingClientRect().left;
    const frame = (clientX - left) * framesPerPixel;
    const stageWidth = spans.width();
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
    </div>
  );
}
