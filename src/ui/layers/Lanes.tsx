'use client';

import { type PointerEvent, type RefObject, useRef, useState } from 'react';
import type { HitView, ResolvedMember } from '@/contract/views';
import { heardMembers } from '@/core/hit/key';
import { MEMBER_PARAMETERS } from '@/core/layering/parameters';
import { clip } from '@/core/parameter/values';
import { fromDb } from '@/core/signal/units';
import { fitCanvas } from '@/picture/canvas';
import { type DrawnLanes, drawLanes, LANES_RULER, type LanesScene } from '@/picture/lanes';
import { LAYER_TINTS } from '@/picture/shares';
import { useDrawing, usePalette, useSize } from '../parts/canvas';
import { type SpanDesk, useSpanShown, useZoomWheel } from '../parts/use-span';
import { type Axis, attackOf } from './axis';
import type { LaneSounds } from './use-lanes';

interface LanesProps {
  readonly box: RefObject<HTMLDivElement | null>;
  readonly hit: HitView;
  readonly sounds: LaneSounds | null;
  readonly axis: Axis | null;
  readonly spans: SpanDesk;
  readonly chosen: string | undefined;
  readonly onChoose: (memberId: string) => void;
  readonly onMove: (member: ResolvedMember, offsetFrames: number) => void;
}

/** Height of the sum as a share of a lane's. */
export const SUM_SHARE = 1.3;

/** Room for the sum's figures, in pixels. */
const LEAST_SUM = 60;

/** Heights of the lanes and of the sum under them, in whole pixels. */
export function laneHeights(height: number, count: number): { readonly lane: number; readonly sum: number } {
  const room = height - LANES_RULER;
  const lane = Math.floor(Math.min(room / (count + SUM_SHARE), (room - LEAST_SUM) / count));
  return { lane, sum: height - LANES_RULER - count * lane };
}

/** The waves of the layers, dragged sideways, and their sum. */
export function Lanes({ box, hit, sounds, axis, spans, chosen, onChoose, onMove }: LanesProps) {
  const { width, height } = useSize(box);
  const canvas = useRef<HTMLCanvasElement>(null);
  const palette = usePalette();
  const span = useSpanShown(spans);
  const [held, setHeld] = useState<{ readonly id: string; readonly x: number; readonly by: number } | null>(null);
  const { members } = hit;
  const heights = laneHeights(height, members.length);
  const drawn = scene();
  const before = useRef<DrawnLanes | null>(null);
  useDrawing(() => {
    const ctx = canvas.current?.getContext('2d');
    if (!canvas.current || !ctx || width === 0 || !drawn) return;
    // Setting its size clears a canvas; otherwise what was drawn stays.
    const ratio = window.devicePixelRatio || 1;
    if (canvas.current.width !== Math.round(width * ratio) || canvas.current.height !== Math.round(height * ratio))
      before.current = null;
    fitCanvas(canvas.current, ctx, width, height, ratio);
    before.current = drawLanes(ctx, drawn, width, palette, before.current);
  }, [width, height, palette, span, sounds, axis, hit, chosen, held]);
  useZoomWheel(box, spans, axis?.frames ?? 1);

  function scene(): LanesScene | null {
    if (!sounds || !axis) return null;
    const heard = new Set(heardMembers(members).map(({ id }) => id));
    const lanes = members.flatMap((member, n) => {
      const sound = sounds.lanes.get(member.id);
      if (!sound) return [];
      return {
        ...sound,
        offset: member.offsetFrames + (held?.id === member.id ? held.by : 0) - axis.start,
        gain: fromDb(member.levelDb) * (member.inverted ? -1 : 1),
        tint: LAYER_TINTS[n % LAYER_TINTS.length] as string,
        isHeard: heard.has(member.id),
        isChosen: member.id === chosen,
      };
    });
    const { sampleRate } = sounds;
    return {
      lanes,
      span,
      sampleRate,
      zero: attackOf(hit, sounds) - axis.start,
      laneHeight: heights.lane,
      sumHeight: heights.sum,
    };
  }

  const memberAt = (event: PointerEvent) => {
    const { top } = event.currentTarget.getBoundingClientRect();
    return members[Math.floor((event.clientY - top - LANES_RULER) / heights.lane)];
  };
  const moved = (event: PointerEvent) => Math.round((event.clientX - (held?.x ?? 0)) * span.framesPerPixel);
  const finish = (event: PointerEvent) => {
    const member = members.find(({ id }) => id === held?.id);
    const by = moved(event);
    setHeld(null);
    if (member && by !== 0) onMove(member, clip(MEMBER_PARAMETERS.offsetFrames, member.offsetFrames + by));
  };
  const shift = held && held.by !== 0 ? held.by : null;
  return (
    <div
      ref={box}
      className="relative min-h-0 min-w-0 flex-1 cursor-ew-resize touch-none bg-sheet"
      data-testid="lanes"
      onPointerDown={(event) => {
        const member = event.button === 0 ? memberAt(event) : undefined;
        if (!member) return;
        onChoose(member.id);
        setHeld({ id: member.id, x: event.clientX, by: 0 });
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={(event) => held && setHeld({ ...held, by: moved(event) })}
      onPointerUp={finish}
      onPointerCancel={finish}
    >
      <canvas
        ref={canvas}
        className="absolute inset-0"
        aria-label="Waves of the layers and of their sum"
        style={{ width, height }}
      />
      {shift !== null && sounds && (
        <output className="figure absolute top-0 right-3 rounded bg-ink px-2 text-[12px] text-sheet">
          {shift > 0 ? '+' : '−'}
          {Math.abs(shift)} samples · {((1000 * Math.abs(shift)) / sounds.sampleRate).toFixed(2)} ms
        </output>
      )}
    </div>
  );
}
