'use client';

import { type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';
import type { RecordingView } from '@/contract/views';
import { SNAPS, type Snap } from '@/core/onset/snap';
import { beginDrawing, useDrawing, usePalette, useSize } from '../parts/canvas';
import { drawWave } from '../parts/draw-wave';
import { minus } from '../parts/figures';
import type { WaveSource } from '../parts/wave-source';
import { place, type Time } from './time';
import { frameToX, type Span } from './view';

interface LoupeProps {
  readonly edge: 'start' | 'end';
  readonly recording: RecordingView;
  readonly source: WaveSource;
  readonly arrivals: number;
  readonly startFrame: number;
  readonly endFrame: number;
  /** The edge where it is stored; while it is dragged the picture stays put under the pointer. */
  readonly restFrame: number;
  readonly time: Time;
  /** To what the edge is drawn that is dragged here, as in the picture above. */
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

/** The chosen slice's start or end, magnified, with a view gain of its own: the edge is dragged or nudged here. */
export function Loupe(props: LoupeProps) {
  const { edge, recording, source, arrivals, startFrame, endFrame, restFrame, time, snap, drawnTo, onMove } = props;
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height } = useSize(box);
  const palette = usePalette();
  const frame = edge === 'start' ? startFrame : endFrame;
  const [shownS, setShownS] = useState<number>(SHOWN[edge]);
  const framesPerPixel = (shownS * recording.sampleRate) / Math.max(1, width);
  useWheel(box, (delta) => setShownS((s) => Math.max(CLOSEST_S, Math.min(WIDEST_S, s * Math.exp(delta * 0.0022)))));
  const span: Span = { start: restFrame - (width / 2) * framesPerPixel, framesPerPixel };
  // What is cut off is what matters at an end: the next sound's attack must not keep a quiet tail from being seen.
  const gain = viewGain(source, span, edge === 'end' ? width / 2 : width);
  const dragging = useRef<number | null>(null);

  useDrawing(() => {
    if (!canvas.current || width === 0) return;
    const ctx = beginDrawing(canvas.current, width, height);
    const x0 = frameToX(span, startFrame);
    const x1 = frameToX(span, endFrame);
    ctx.fillStyle = palette('selection');
    ctx.fillRect(x0, 0, x1 - x0, height);
    ctx.fillStyle = palette('line');
    ctx.fillRect(0, Math.round(height / 2), width, 1);
    drawWave(ctx, source, { ...span, width, height, gain }, palette('wave'));
    const x = frameToX(span, frame);
    ctx.fillStyle = palette('madder');
    ctx.fillRect(x - 1, 0, 2, height);
    ctx.beginPath();
    ctx.moveTo(x - 6, 0);
    ctx.lineTo(x + 6, 0);
    ctx.lineTo(x, 8);
    ctx.fill();
  }, [source, arrivals, width, height, startFrame, endFrame, restFrame, shownS, gain, palette]);

  const at = (event: PointerEvent) => {
    const left = (box.current as HTMLDivElement).getBoundingClientRect().left;
    return Math.round(span.start + (event.clientX - left) * framesPerPixel);
  };
  const level = edge === 'end' ? levelBefore(source, endFrame, recording.sampleRate) : null;
  return (
    <div className="flex min-w-0 flex-1 flex-col" data-testid={`loupe-${edge}`}>
      <div className="flex h-6 items-center gap-4 bg-sheet px-3 text-[12px]">
        <span className="font-semibold text-[13px]">{edge === 'start' ? 'Start' : 'End'}</span>
        <span className="figure text-soft">{place(frame, time)}</span>
        {level !== null && (
          <span className="figure text-soft">
            {level > -120 ? `${minus(level.toFixed(0))} dBFS there` : 'silent there'}
          </span>
        )}
        <span className="figure ml-auto text-soft" title="The wheel over the loupe shows more or less time">
          {shownS < 0.1 ? `${(shownS * 1000).toFixed(1)} ms` : `${shownS.toFixed(2)} s`} shown · view gain +
          {Math.round(20 * Math.log10(gain))} dB
        </span>
      </div>
      <div
        ref={box}
        className="min-h-0 flex-1 cursor-ew-resize touch-none bg-sheet"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          dragging.current = at(event) - frame;
          // Taking hold near the edge moves it from where it is; elsewhere it jumps to the pointer.
          if (Math.abs(dragging.current) > 14 * framesPerPixel) dragging.current = 0;
          onMove(drawnTo(edge, at(event) - dragging.current), false);
        }}
        onPointerMove={(event) =>
          dragging.current !== null && onMove(drawnTo(edge, at(event) - dragging.current), false)
        }
        onPointerUp={(event) => {
          if (dragging.current === null) return;
          const held = dragging.current;
          dragging.current = null;
          onMove(drawnTo(edge, at(event) - held), true);
        }}
        onPointerCancel={() => {
          dragging.current = null;
        }}
      >
        <canvas ref={canvas} aria-hidden style={{ width, height }} />
      </div>
      <div className="flex h-7 items-center gap-1 bg-paper px-3 text-[12px]">
        <span className="mr-1 text-soft">Nudge</span>
        {NUDGES.map(([label, ms, frames]) => (
          <Nudge
            key={label}
            label={label}
            onClick={() => onMove(frame + frames + Math.round((ms / 1000) * recording.sampleRate), true)}
          />
        ))}
        {edge === 'start' ? (
          <label className="ml-auto flex items-center gap-1 whitespace-nowrap">
            <span className="text-soft">Drawn to</span>
            <select value={snap} onChange={(event) => props.setSnap(event.target.value as Snap)}>
              {SNAPS.map((s) => (
                <option key={s} value={s}>
                  {SNAP[s]}
                </option>
              ))}
            </select>
          </label>
        ) : (
          <button
            type="button"
            className="ml-auto h-6 whitespace-nowrap rounded border border-line bg-sheet px-2 hover:border-edge"
            title="Set the end to where the sound has died away, past the next mark if it rings on ( ; )"
            onClick={props.onLetDie}
          >
            Until it dies away
          </button>
        )}
      </div>
    </div>
  );
}

/** A wheel over an element; a listener of React's is passive and cannot keep the page from scrolling. */
function useWheel(element: RefObject<HTMLElement | null>, onWheel: (delta: number) => void): void {
  const latest = useRef(onWheel);
  latest.current = onWheel;
  useEffect(() => {
    const target = element.current;
    const listen = (event: WheelEvent) => {
      event.preventDefault();
      latest.current(event.deltaY);
    };
    target?.addEventListener('wheel', listen, { passive: false });
    return () => target?.removeEventListener('wheel', listen);
  }, [element]);
}

function Nudge({ label, onClick }: { label: string; onClick: () => void }) {
  return (
    <button
      type="button"
      className="figure h-6 min-w-[44px] whitespace-nowrap rounded border border-line bg-sheet px-[5px] hover:border-edge"
      onClick={onClick}
    >
      {label}
    </button>
  );
}

/** Brings what the loupe shows to the picture's height, up to 42 dB; in steps of 6 dB, so that it does not flicker. */
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
