'use client';

import { type PointerEvent, useEffect, useRef, useState } from 'react';
import type { RecordingView } from '@/contract/views';
import { SNAPS, type Snap } from '@/core/onset/snap';
import type { Span } from '@/picture/span';
import { place, type Time } from '@/picture/time';
import type { WaveSource } from '@/picture/wave-source';
import { Choice } from '../parts/Choice';
import { useSize } from '../parts/canvas';
import { minus } from '../parts/figures';
import { useWheel } from '../parts/use-wheel';
import { type HeldEdges, useHeldSlice } from './use-held';
import { type Pictures, usePicture } from './use-pictures';

export interface LoupeProps {
  readonly edge: 'start' | 'end';
  readonly recording: RecordingView;
  readonly source: WaveSource;
  readonly pictures: Pictures;
  /** The stored slice. */
  readonly slice: { readonly id: string; readonly startFrame: number; readonly endFrame: number };
  readonly held: HeldEdges;
  /** The stored edge; while it is dragged the view stays fixed around it. */
  readonly restFrame: number;
  readonly time: Time;
  /** What dragged edges snap to, as on the stage. */
  readonly snap: Snap;
  readonly setSnap: (snap: Snap) => void;
  readonly drawnTo: (edge: 'start' | 'end', frame: number) => number;
  readonly onMove: (frame: number, done: boolean) => void;
  readonly onLetDie: () => void;
}

/** Time a loupe shows at first, in seconds; the wheel changes it within these bounds. */
const SHOWN = { start: 0.024, end: 0.12 } as const;
const CLOSEST_S = 0.0006;
const WIDEST_S = 2;
const SNAP: Readonly<Record<Snap, string>> = { attack: 'attack', zero: 'zero crossing', free: 'nothing' };
const NUDGES: readonly (readonly [label: string, ms: number, frames: number])[] = [
  ['−10 ms', -10, 0],
  ['−1 ms', -1, 0],
  ['−1 sample', 0, -1],
  ['+1 sample', 0, 1],
  ['+1 ms', 1, 0],
  ['+10 ms', 10, 0],
];

/** The chosen slice's start or end, magnified, with its own view gain: the edge is dragged or nudged here. */
export function Loupe(props: LoupeProps) {
  const { edge, recording, source, pictures, restFrame, time, snap, drawnTo, onMove } = props;
  const { slice, held } = props;
  const box = useRef<HTMLDivElement>(null);
  const size = useSize(box);
  const { width } = size;
  usePicture(pictures, edge, box, size);
  const [shownS, setShownS] = useState<number>(SHOWN[edge]);
  const framesPerPixel = (shownS * recording.sampleRate) / Math.max(1, width);
  useWheel(box, ({ deltaY }) =>
    setShownS((s) => Math.max(CLOSEST_S, Math.min(WIDEST_S, s * Math.exp(deltaY * 0.0022)))),
  );
  const span: Span = { start: restFrame - (width / 2) * framesPerPixel, framesPerPixel };
  // At an end the view gain follows the sound before it: the next attack must not hide a quiet tail.
  const gain = viewGain(source, span, edge === 'end' ? width / 2 : width);
  const dragging = useRef<number | null>(null);

  useEffect(
    () =>
      pictures.show(edge, {
        span: { start: restFrame - (width / 2) * framesPerPixel, framesPerPixel },
        slice: { id: slice.id, startFrame: slice.startFrame, endFrame: slice.endFrame },
        gain,
      }),
    [pictures, edge, restFrame, width, framesPerPixel, slice.id, slice.startFrame, slice.endFrame, gain],
  );

  const at = (event: PointerEvent) => {
    const left = (box.current as HTMLDivElement).getBoundingClientRect().left;
    return Math.round(span.start + (event.clientX - left) * framesPerPixel);
  };
  return (
    <div className="@container flex min-w-0 flex-1 flex-col" data-testid={`loupe-${edge}`}>
      <div className="flex h-6 items-center gap-4 overflow-hidden whitespace-nowrap bg-sheet px-3 text-[12px]">
        <span className="font-semibold text-[13px]">{edge === 'start' ? 'Start' : 'End'}</span>
        <Figures edge={edge} slice={slice} held={held} source={source} time={time} />
        <span className="figure ml-auto text-soft" title="The wheel over the loupe shows more or less time">
          {shownS < 0.1 ? `${(shownS * 1000).toFixed(1)} ms` : `${shownS.toFixed(2)} s`} shown · view gain +
          {Math.round(20 * Math.log10(gain))} dB
        </span>
      </div>
      <div
        ref={box}
        className="relative min-h-0 flex-1 cursor-ew-resize touch-none bg-sheet"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          dragging.current = at(event) - edgeOf(slice, edge);
          // A press near the edge keeps the offset; elsewhere the edge jumps to the pointer.
          if (Math.abs(dragging.current) > 14 * framesPerPixel) dragging.current = 0;
          onMove(drawnTo(edge, at(event) - dragging.current), false);
        }}
        onPointerMove={(event) =>
          dragging.current !== null && onMove(drawnTo(edge, at(event) - dragging.current), false)
        }
        onPointerUp={(event) => {
          if (dragging.current === null) return;
          const offset = dragging.current;
          dragging.current = null;
          onMove(drawnTo(edge, at(event) - offset), true);
        }}
        onPointerCancel={() => {
          dragging.current = null;
        }}
      />
      <div className="flex h-7 items-center gap-1 bg-paper px-3 text-[12px] @max-[600px]:px-1">
        <span className="mr-1 text-soft @max-[600px]:hidden">Nudge</span>
        {NUDGES.map(([label, ms, frames]) => (
          <Nudge
            key={label}
            label={label}
            onClick={() => onMove(edgeOf(slice, edge) + frames + Math.round((ms / 1000) * recording.sampleRate), true)}
          />
        ))}
        {edge === 'start' ? (
          <span className="ml-auto flex items-center gap-1 whitespace-nowrap">
            <span className="text-soft @max-[600px]:hidden">Drawn to</span>
            <Choice
              label="Drawn to"
              className="@max-[600px]:w-[80px]"
              value={snap}
              options={SNAPS.map((s) => [s, SNAP[s]] as const)}
              onChoose={props.setSnap}
            />
          </span>
        ) : (
          <button
            type="button"
            className="ml-auto h-6 whitespace-nowrap rounded border border-line bg-sheet px-2 hover:border-edge"
            title="Set the end to where the sound has died away, at the next start at the latest ( ; )"
            onClick={props.onLetDie}
          >
            <span className="@max-[600px]:hidden">Until it dies away</span>
            <span className="hidden @max-[600px]:inline">Dies away</span>
          </button>
        )}
      </div>
    </div>
  );
}

function edgeOf({ startFrame, endFrame }: LoupeProps['slice'], edge: LoupeProps['edge']): number {
  return edge === 'start' ? startFrame : endFrame;
}

/** Position of the edge, also while it is dragged; at an end also the level there. */
function Figures(props: Pick<LoupeProps, 'edge' | 'slice' | 'held' | 'source' | 'time'>) {
  const { edge, source, time } = props;
  const frame = edgeOf(useHeldSlice(props.slice, props.held), edge);
  const level = edge === 'end' ? levelBefore(source, frame, time.sampleRate) : null;
  return (
    <>
      <span className="figure text-soft">{place(frame, time)}</span>
      {level !== null && (
        <span className="figure text-soft">
          {level > -120 ? `${minus(level.toFixed(0))} dBFS there` : 'silent there'}
        </span>
      )}
    </>
  );
}

function Nudge({ label, onClick }: { label: string; onClick: () => void }) {
  return (
    <button
      type="button"
      className="figure h-6 min-w-[44px] whitespace-nowrap rounded border border-line bg-sheet px-[5px] hover:border-edge @max-[600px]:min-w-0 @max-[600px]:px-[3px] @max-[600px]:text-[11px]"
      onClick={onClick}
    >
      {label}
    </button>
  );
}

/** Scales what the loupe shows to its height, up to 42 dB, in steps of 6 dB to avoid flicker. */
function viewGain(source: WaveSource, span: Span, width: number): number {
  let peak = 0;
  for (let x = 0; x < width; x += 2) {
    const value = Math.abs(source.sample(Math.round(span.start + x * span.framesPerPixel)));
    if (value > peak) peak = value;
  }
  if (!(peak > 0)) return 1;
  return 2 ** Math.max(0, Math.min(7, Math.floor(Math.log2(0.95 / peak))));
}

/** Level of the 5 ms before the end, in dBFS: how much is cut off there. */
function levelBefore(source: WaveSource, endFrame: number, sampleRate: number): number {
  let sum = 0;
  const frames = Math.round(0.005 * sampleRate);
  for (let i = 1; i <= frames; i++) {
    const value = source.sample(endFrame - i);
    if (!Number.isNaN(value)) sum += value * value;
  }
  return 10 * Math.log10(sum / frames + 1e-20);
}
