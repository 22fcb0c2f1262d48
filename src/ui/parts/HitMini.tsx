'use client';

import { useEffect, useRef, useState } from 'react';
import type { RecordingView } from '@/contract/views';
import { contentKey, isPlain, type TreatedHit } from '@/core/hit/key';
import { drawColumns } from '@/picture/wave';
import { openSound } from '../sound/open-sound';
import { beginDrawing, useDrawing, usePalette, useSize } from './canvas';
import { MiniWave } from './MiniWave';

interface HitMiniProps {
  readonly hit: TreatedHit;
  readonly recording: RecordingView;
  readonly height: number;
}

/** A small wave of a hit as it sounds, scaled to its own peak. */
export function HitMini({ hit, recording, height }: HitMiniProps) {
  // Each wave is scaled to its peak, so a gain does not show.
  if (isPlain(hit)) return <MiniWave recording={recording} start={hit.startFrame} end={hit.endFrame} height={height} />;
  return <TreatedMini hit={hit} recording={recording} height={height} />;
}

function TreatedMini({ hit, recording, height }: HitMiniProps) {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width } = useSize(box);
  const palette = usePalette();
  const pairs = useTreatedWave(hit, recording, width);
  useDrawing(() => {
    if (!canvas.current || width === 0) return;
    const ctx = beginDrawing(canvas.current, width, height);
    if (pairs) drawColumns(ctx, pairs, height, 1 / Math.max(1e-6, loudest(pairs)), palette('wave'));
  }, [width, height, pairs, palette]);
  return (
    <div ref={box} className="w-full overflow-hidden" style={{ height }}>
      <canvas ref={canvas} aria-hidden style={{ width, height }} />
    </div>
  );
}

/** Lowest and highest sample of each column of a hit as it sounds; null until it is rendered, and for no columns. */
export function useTreatedWave(hit: TreatedHit, recording: RecordingView, columns: number): Float32Array | null {
  const [pairs, setPairs] = useState<Float32Array | null>(null);
  const key = contentKey(hit);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key stands for the hit and its recording
  useEffect(() => {
    if (columns === 0) return;
    let wanted = true;
    openSound()
      .then((sound) => sound.samples.wave(hit, recording, { columns }))
      .then(
        (found) => wanted && setPairs(found),
        () => {
          // The error is shown where it is played.
        },
      );
    return () => {
      wanted = false;
    };
  }, [key, columns]);
  return pairs;
}

/** The largest absolute sample in a wave's columns. */
export function loudest(pairs: Float32Array): number {
  return pairs.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
}
