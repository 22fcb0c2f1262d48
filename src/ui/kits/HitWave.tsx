'use client';

import Link from 'next/link';
import { type PointerEvent, useRef, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { RecordingView } from '@/contract/views';
import type { Hit } from '@/core/hit/model';
import { LEAST_FRAMES } from '@/core/onset/marks';
import { frameToX, type Span } from '@/picture/span';
import { drawWave, stretchPeak } from '@/picture/wave';
import { beginDrawing, useDrawing, usePalette, useSize } from '../parts/canvas';
import { length } from '../parts/figures';
import { useWaveSource } from '../parts/MiniWave';
import { useMedia } from '../parts/use-media';

/** How high the wave is, in CSS pixels; higher windows have room for more of it. */
const [HEIGHT_PX, TALL_PX] = [104, 240];

/** A hit's wave with what lies around it in its recording; its start and end are dragged or typed. */
export function HitWave({
  hit,
  recording,
  onTrim,
}: {
  hit: Stored<Hit>;
  recording: RecordingView;
  onTrim: (fields: { startFrame?: number; endFrame?: number }) => void;
}) {
  const height = useMedia('(min-height: 960px)') ? TALL_PX : HEIGHT_PX;
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width } = useSize(box);
  const palette = usePalette();
  const { source, arrivals } = useWaveSource(recording);
  const [held, setHeld] = useState<{ edge: 'start' | 'end'; frame: number } | null>(null);
  const start = held?.edge === 'start' ? held.frame : hit.startFrame;
  const end = held?.edge === 'end' ? held.frame : hit.endFrame;
  const room = Math.max(0.02 * recording.sampleRate, (hit.endFrame - hit.startFrame) * 0.2);
  const from = Math.max(0, hit.startFrame - room);
  const to = Math.min(recording.frames, hit.endFrame + room);
  const span: Span = { start: from, framesPerPixel: (to - from) / Math.max(1, width) };
  const peak = stretchPeak(source, hit.startFrame, hit.endFrame);

  useDrawing(() => {
    if (!canvas.current || width === 0) return;
    const ctx = beginDrawing(canvas.current, width, height);
    const x0 = frameToX(span, start);
    const x1 = frameToX(span, end);
    ctx.fillStyle = palette('selection');
    ctx.fillRect(x0, 0, x1 - x0, height);
    drawWave(ctx, source, { ...span, width, height, gain: peak > 0 ? Math.min(60, 0.95 / peak) : 1 }, palette('wave'));
    ctx.fillStyle = palette('madder');
    ctx.fillRect(x0 - 1, 0, 2, height);
    ctx.fillRect(x1 - 1, 0, 2, height);
  }, [source, arrivals, width, height, start, end, hit.startFrame, hit.endFrame, peak, palette]);

  const frameAt = (event: PointerEvent) => {
    const left = (box.current as HTMLDivElement).getBoundingClientRect().left;
    return Math.round(span.start + (event.clientX - left) * span.framesPerPixel);
  };
  const clip = (edge: 'start' | 'end', frame: number) =>
    edge === 'start'
      ? Math.max(0, Math.min(hit.endFrame - LEAST_FRAMES, frame))
      : Math.min(recording.frames, Math.max(hit.startFrame + LEAST_FRAMES, frame));
  const store = (edge: 'start' | 'end', frame: number) => {
    const wanted = clip(edge, frame);
    if (edge === 'start' && wanted !== hit.startFrame) onTrim({ startFrame: wanted });
    if (edge === 'end' && wanted !== hit.endFrame) onTrim({ endFrame: wanted });
  };

  return (
    <>
      <div
        ref={box}
        className="mt-1 flex-none cursor-ew-resize touch-none border border-line"
        style={{ height }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          const frame = frameAt(event);
          const edge = Math.abs(frame - hit.startFrame) < Math.abs(frame - hit.endFrame) ? 'start' : 'end';
          setHeld({ edge, frame: clip(edge, frame) });
        }}
        onPointerMove={(event) => held && setHeld({ ...held, frame: clip(held.edge, frameAt(event)) })}
        onPointerUp={() => {
          if (held) store(held.edge, held.frame);
          setHeld(null);
        }}
        onPointerCancel={() => setHeld(null)}
      >
        <canvas ref={canvas} aria-label={`Wave of ${hit.name}`} style={{ width, height }} />
      </div>
      <div className="mt-1 flex items-center gap-3 text-[12px] text-soft">
        <TimeField
          label="Start"
          frame={start}
          sampleRate={recording.sampleRate}
          onFrame={(frame) => store('start', frame)}
        />
        <TimeField label="End" frame={end} sampleRate={recording.sampleRate} onFrame={(frame) => store('end', frame)} />
        <span className="figure whitespace-nowrap">{length((end - start) / recording.sampleRate)}</span>
        <Link
          className="ml-auto truncate text-verdigris hover:underline"
          title="Its edges on the whole recording, with the loupes"
          href={`/slice/${recording.id}?hit=${hit.id}`}
        >
          In {recording.title}
        </Link>
      </div>
    </>
  );
}

function TimeField({
  label,
  frame,
  sampleRate,
  onFrame,
}: {
  label: string;
  frame: number;
  sampleRate: number;
  onFrame: (frame: number) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <label className="flex items-center gap-1">
      {label}
      <input
        className="figure w-[84px] rounded-sm border border-transparent px-1 text-ink hover:border-line"
        value={typed ?? `${(frame / sampleRate).toFixed(5)} s`}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => {
          const seconds = Number((typed ?? '').replace(',', '.').replace(/[^0-9.]/g, ''));
          if (typed !== null && typed.trim() !== '' && Number.isFinite(seconds))
            onFrame(Math.round(seconds * sampleRate));
          setTyped(null);
        }}
        onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      />
    </label>
  );
}
