'use client';

import { type PointerEvent, useRef, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { RecordingView } from '@/contract/views';
import type { TreatedHit } from '@/core/hit/key';
import type { Pad } from '@/core/kit/model';
import { type EnvelopeName, STAGES } from '@/core/kit/moving';
import { PAD_PARAMETERS } from '@/core/kit/parameters';
import { prefixedKey } from '@/core/parameter/prefixed';
import { clip } from '@/core/parameter/values';
import { pitchRatio } from '@/core/signal/units';
import {
  draggedStage,
  drawEnvelope,
  drawHandle,
  type EnvelopeView,
  envelopeHandles,
  type Stages,
} from '@/picture/envelope';
import { drawColumns } from '@/picture/wave';
import { beginDrawing, useDrawing, usePalette, useSize } from '../../parts/canvas';
import { loudest, useTreatedWave } from '../../parts/HitMini';
import { type Foot, feetOf, footDragged } from './feet';
import type { PadEdits } from './use-pad-edits';

/** What of a pad is shaped on its wave: which part of the sample is played, or one of its envelopes. */
export type Shaped = 'sample' | EnvelopeName;

interface PadWaveProps {
  readonly pad: Stored<Pad>;
  readonly hit: TreatedHit;
  readonly recording: RecordingView;
  /** Length of the hit as it is treated, in seconds at its own rate. */
  readonly seconds: number;
  readonly shaped: Shaped;
  readonly height: number;
  readonly edits: PadEdits;
}

/** How near a pointer takes hold of a handle, in CSS pixels. */
const REACH_PX = 16;
/** Room after the sound, as a share of it: a pad that is let go may ring on. */
const ROOM = 1.12;

export function stagesOf(pad: Pad, name: EnvelopeName): Stages {
  return Object.fromEntries(
    Object.keys(STAGES).map((stage) => [stage, pad[prefixedKey(name, stage as keyof typeof STAGES)]]),
  ) as unknown as Stages;
}

/** A pad's sound as it is played, in its own time, with what shapes it: feet and loop, or an envelope to be dragged. */
export function PadWave({ pad, hit, recording, seconds, shaped, height, edits }: PadWaveProps) {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width } = useSize(box);
  const palette = usePalette();
  // Tuned up a sound is shorter.
  const playedMs = (1000 * seconds) / pitchRatio(pad.semitones, pad.cents);
  const perMs = width / Math.max(1, playedMs * ROOM);
  const shown = Math.round(playedMs * perMs);
  const pairs = useTreatedWave(hit, recording, shown);
  const [held, setHeld] = useState<string | null>(null);
  const feet = feetOf(pad, playedMs);
  const view: EnvelopeView = {
    left: feet.start * perMs,
    perMs,
    width,
    height,
    releases: pad.mode !== 'one-shot',
  };
  const envelope = shaped === 'sample' ? null : stagesOf(pad, shaped);

  useDrawing(() => {
    if (!canvas.current || width === 0) return;
    const ctx = beginDrawing(canvas.current, width, height);
    ctx.fillStyle = palette('selection');
    ctx.fillRect(feet.start * perMs, 0, (feet.end - feet.start) * perMs, height);
    if (pairs) {
      const gain = 0.95 / Math.max(1e-6, loudest(pairs));
      drawColumns(ctx, pad.reversed ? backwards(pairs) : pairs, height, gain, palette('wave'));
    }
    ctx.fillStyle = palette('madder');
    for (const foot of [feet.start, feet.end]) ctx.fillRect(Math.round(foot * perMs) - 1, 0, 2, height);
    if (envelope) drawEnvelope(ctx, envelope, view, palette, held as never);
    else drawFeet(ctx, feet.handles, perMs, height, palette, held);
  }, [pairs, width, height, pad, perMs, shaped, held, palette]);

  const placeOf = (event: PointerEvent) => {
    const rect = (box.current as HTMLDivElement).getBoundingClientRect();
    return { x: event.clientX - rect.left, y: event.clientY - rect.top };
  };
  /** What is nearest to a pointer; null where nothing is near. */
  const nearest = ({ x, y }: { x: number; y: number }) => {
    const handles = envelope
      ? envelopeHandles(envelope, view).map((h) => ({ name: h.stage as string, away: Math.hypot(h.x - x, h.y - y) }))
      : feet.handles.map((h) => ({ name: h.foot as string, away: Math.abs(h.ms * perMs - x) }));
    const [first] = handles.sort((a, b) => a.away - b.away);
    return first && first.away <= REACH_PX ? first.name : null;
  };
  const fieldsAt = (name: string, { x, y }: { x: number; y: number }): Partial<Pad> => {
    if (!envelope) return footDragged(pad, playedMs, name as Foot, x / perMs);
    const set = draggedStage(envelope, view, name as never, x, y);
    return Object.fromEntries(
      Object.entries(set).map(([stage, value]) => [
        prefixedKey(shaped as EnvelopeName, stage as keyof typeof STAGES),
        value === null ? null : clip(STAGES[stage as keyof typeof STAGES], value, stage === 'sustain' ? 0.01 : 0.1),
      ]),
    );
  };
  const said = () => (envelope ? `${shaped} envelope` : held ? (PAD_PARAMETERS[held as Foot].said as string) : '');

  return (
    <div
      ref={box}
      className="flex-none cursor-ew-resize touch-none border border-line"
      style={{ height }}
      onPointerDown={(event) => {
        const name = nearest(placeOf(event));
        if (!name) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        setHeld(name);
      }}
      onPointerMove={(event) => held && edits.turn(fieldsAt(held, placeOf(event)))}
      onPointerUp={(event) => {
        if (held) edits.set(said(), fieldsAt(held, placeOf(event)));
        setHeld(null);
      }}
      onPointerCancel={() => {
        edits.turn(null);
        setHeld(null);
      }}
    >
      <canvas ref={canvas} aria-label={`Sound of ${pad.name}`} style={{ width, height }} />
    </div>
  );
}

function backwards(pairs: Float32Array): Float32Array {
  const turned = new Float32Array(pairs.length);
  const count = pairs.length / 2;
  for (let i = 0; i < count; i++) turned.set(pairs.subarray(2 * i, 2 * i + 2), 2 * (count - 1 - i));
  return turned;
}

function drawFeet(
  ctx: CanvasRenderingContext2D,
  handles: ReturnType<typeof feetOf>['handles'],
  perMs: number,
  height: number,
  palette: (token: string) => string,
  held: string | null,
): void {
  for (const { foot, ms } of handles) {
    const x = ms * perMs;
    if (foot === 'loopStartMs' || foot === 'loopEndMs') {
      ctx.fillStyle = palette('slate');
      ctx.fillRect(x - 1, 0, 2, height);
      ctx.fillRect(foot === 'loopStartMs' ? x : x - 10, 0, 10, 2);
    }
    drawHandle(ctx, x, height - 9, palette, held === foot);
  }
}
