'use client';

import { useEffect, useMemo, useRef, useState } from 'react';
import type { RecordingView } from '@/contract/views';
import { drawWave } from '@/picture/wave';
import { WaveSource } from '@/picture/wave-source';
import { beginDrawing, useDrawing, usePalette, useSize } from './canvas';

/** A wave source for a component's life, with a counter that rises as data arrives. */
export function useWaveSource(recording: RecordingView): { source: WaveSource; arrivals: number } {
  const [arrivals, setArrivals] = useState(0);
  const alive = useRef(true);
  useEffect(() => {
    alive.current = true;
    return () => {
      alive.current = false;
    };
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: audio never changes, so the id stands for the recording
  const source = useMemo(
    () => new WaveSource(recording, () => alive.current && setArrivals((n) => n + 1)),
    [recording.id],
  );
  return { source, arrivals };
}

/** A small wave of a stretch, scaled to its own peak. */
export function MiniWave({
  recording,
  start,
  end,
  height,
  width: fixed,
  gain,
}: {
  recording: RecordingView;
  start: number;
  end: number;
  height: number;
  /** In CSS pixels; by default as wide as there is room. */
  width?: number;
  gain?: number;
}) {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width } = useSize(box, fixed);
  const palette = usePalette();
  const { source, arrivals } = useWaveSource(recording);
  useDrawing(() => {
    if (!canvas.current || width === 0) return;
    const ctx = beginDrawing(canvas.current, width, height);
    const framesPerPixel = (end - start) / width;
    const own = gain ?? ownGain(source, start, end, width);
    drawWave(ctx, source, { start, end, framesPerPixel, width, height, gain: own }, palette('wave'));
  }, [width, height, start, end, gain, arrivals, palette, source]);
  return (
    <div ref={box} className="w-full overflow-hidden" style={{ height }}>
      <canvas ref={canvas} aria-hidden style={{ width, height }} />
    </div>
  );
}

function ownGain(source: WaveSource, start: number, end: number, width: number): number {
  const columns = new Float32Array(2 * width);
  source.columns(start, (end - start) / width, width, columns, end);
  let peak = 0;
  for (const value of columns) if (Math.abs(value) > peak) peak = Math.abs(value);
  return peak > 0 ? Math.min(200, 1 / peak) : 1;
}
