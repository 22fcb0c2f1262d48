'use client';

import { type PointerEvent, useRef, useState } from 'react';
import type { RecordingView, StoredHit } from '@/contract/views';
import { isPlain } from '@/core/hit/key';
import { frameToX, type Span } from '@/picture/span';
import { drawColumns, drawWave, stretchPeak } from '@/picture/wave';
import { useCommands } from '../../data/commit';
import { dropDraft, setDraft } from '../../data/drafts';
import { type Edge, trimmed } from '../../hits/edits';
import { beginDrawing, useDrawing, usePalette, useSize } from '../../parts/canvas';
import { length } from '../../parts/figures';
import { loudest, useTreatedWave } from '../../parts/HitMini';
import { useWaveSource } from '../../parts/MiniWave';

/**
 * A hit's wave as it sounds, over the recording around it; its start and end are dragged or typed. An edge being
 * dragged is a draft, which pads, rows and sound follow.
 */
export function HitWave({ hit, recording, height }: { hit: StoredHit; recording: RecordingView; height: number }) {
  const { commit } = useCommands();
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width } = useSize(box);
  const palette = usePalette();
  const { source, arrivals } = useWaveSource(recording);
  const [held, setHeld] = useState<{ edge: Edge; rest: StoredHit } | null>(null);
  // While an edge is dragged the view stays fixed.
  const rest = held?.rest ?? hit;
  const span = spanAround(rest, recording, width);
  const x0 = frameToX(span, hit.startFrame);
  const x1 = frameToX(span, hit.endFrame);
  const plain = isPlain(hit);
  const pairs = useTreatedWave(hit, recording, plain ? 0 : Math.max(0, Math.round(x1 - x0)));
  const peak = pairs && !plain ? loudest(pairs) : stretchPeak(source, rest.startFrame, rest.endFrame);

  useDrawing(() => {
    if (!canvas.current || width === 0) return;
    const ctx = beginDrawing(canvas.current, width, height);
    const gain = peak > 0 ? Math.min(60, 0.95 / peak) : 1;
    ctx.fillStyle = palette('selection');
    ctx.fillRect(x0, 0, x1 - x0, height);
    drawWave(ctx, source, { ...span, width, height, gain }, palette(plain ? 'wave' : 'line'));
    if (pairs && !plain) drawColumns(ctx, pairs, height, gain, palette('wave'), Math.round(x0));
    ctx.fillStyle = palette('madder');
    ctx.fillRect(x0 - 1, 0, 2, height);
    ctx.fillRect(x1 - 1, 0, 2, height);
  }, [source, arrivals, width, height, x0, x1, span.start, span.framesPerPixel, peak, pairs, plain, palette]);

  const frameAt = (event: PointerEvent) => {
    const left = (box.current as HTMLDivElement).getBoundingClientRect().left;
    return Math.round(span.start + (event.clientX - left) * span.framesPerPixel);
  };
  const hold = (edge: Edge, of: StoredHit, frame: number) =>
    setDraft('hit', hit.id, trimmed(of, recording, edge, frame));
  const store = (edge: Edge, of: StoredHit, frame: number) => {
    const set = trimmed(of, recording, edge, frame);
    const moved = edge === 'start' ? set.startFrame !== of.startFrame : set.endFrame !== of.endFrame;
    if (moved) void commit(`trimmed ${hit.name}`, [{ op: 'update', doc: 'hit', id: hit.id, rev: hit.rev, set }]);
    dropDraft('hit', hit.id);
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
          setHeld({ edge, rest: hit });
          hold(edge, hit, frame);
        }}
        onPointerMove={(event) => held && hold(held.edge, held.rest, frameAt(event))}
        onPointerUp={(event) => {
          if (held) store(held.edge, held.rest, frameAt(event));
          setHeld(null);
        }}
        onPointerCancel={() => {
          dropDraft('hit', hit.id);
          setHeld(null);
        }}
      >
        <canvas ref={canvas} aria-label={`Wave of ${hit.name}`} style={{ width, height }} />
      </div>
      <div className="mt-1 flex items-center gap-3 text-[12px] text-soft">
        {EDGES.map(([edge, label]) => (
          <TimeField
            key={edge}
            label={label}
            frame={edge === 'start' ? hit.startFrame : hit.endFrame}
            sampleRate={recording.sampleRate}
            onFrame={(frame) => store(edge, hit, frame)}
          />
        ))}
        <span className="figure whitespace-nowrap">
          {length((hit.endFrame - hit.startFrame) / recording.sampleRate)}
        </span>
      </div>
    </>
  );
}

const EDGES: readonly (readonly [Edge, string])[] = [
  ['start', 'Start'],
  ['end', 'End'],
];

/** The hit with some room on both sides, over a width in CSS pixels. */
function spanAround({ startFrame, endFrame }: StoredHit, { sampleRate, frames }: RecordingView, width: number): Span {
  const room = Math.max(0.02 * sampleRate, (endFrame - startFrame) * 0.2);
  const from = Math.max(0, startFrame - room);
  return { start: from, framesPerPixel: (Math.min(frames, endFrame + room) - from) / Math.max(1, width) };
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
