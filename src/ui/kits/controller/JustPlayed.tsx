'use client';

import { type PointerEvent, useRef, useState } from 'react';
import type { KitView } from '@/contract/views';
import { velocityShare } from '@/picture/played';
import { beginDrawing, useDrawing, usePalette, useSize } from '../../parts/canvas';
import { clock, length } from '../../parts/figures';
import { tell } from '../../parts/notice';
import { useStore } from '../../parts/store';
import { keptPlaying, keptStrokes } from '../../play/kept';
import { useKeepPlaying } from '../../play/use-keep-playing';
import { KeptPerformances } from './KeptPerformances';

const HEIGHT_PX = 96;
/** Room around the strokes, in ms. */
const ROOM_MS = 300;

interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** What was played since the page opened, as strokes over time; any part of it is kept. */
export function JustPlayed({ view }: { view: KitView }) {
  const keepPlaying = useKeepPlaying();
  const kept = useStore(keptPlaying);
  const [chosen, setChosen] = useState<Stretch | null>(null);
  const stretch = chosen ?? { from: kept.fromMs - 1, to: kept.toMs + 60_000 };
  const keep = async () => {
    const isKept = await keepPlaying(view, { fromMs: stretch.from, toMs: stretch.to }, view.kit.name);
    if (!isKept) {
      tell('Nothing was played there on pads of this kit.');
      return;
    }
    setChosen(null);
  };
  return (
    <>
      <header className="flex items-center gap-2">
        <h2 className="font-semibold text-[12px] text-soft">Just played</h2>
        <span className="figure text-[12px] text-soft" data-testid="just-played">
          {kept.strokes === 0
            ? 'nothing yet'
            : `${kept.strokes} strokes in ${length((kept.toMs - kept.fromMs) / 1000)}`}
        </span>
        <button
          type="button"
          className="ml-auto rounded px-1 text-[12px] text-verdigris hover:underline disabled:text-soft disabled:no-underline"
          disabled={kept.strokes === 0}
          onClick={() => void keep()}
        >
          {chosen ? 'Keep the marked part' : 'Keep it as a take'}
        </button>
      </header>
      <Timeline stretch={chosen} onStretch={setChosen} />
      <KeptPerformances />
    </>
  );
}

/** Strokes over time, taller where harder; a stretch of them is marked by dragging. */
function Timeline({ stretch, onStretch }: { stretch: Stretch | null; onStretch: (stretch: Stretch | null) => void }) {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width } = useSize(box);
  const palette = usePalette();
  const kept = useStore(keptPlaying);
  const [from, setFrom] = useState<number | null>(null);
  const begin = kept.fromMs - ROOM_MS;
  const span = Math.max(4000, kept.toMs - kept.fromMs + 2 * ROOM_MS);
  const xOf = (ms: number) => ((ms - begin) / span) * width;
  const msAt = (event: PointerEvent) =>
    begin + ((event.clientX - (box.current as HTMLDivElement).getBoundingClientRect().left) / width) * span;
  useDrawing(() => {
    if (!canvas.current || width === 0) return;
    const ctx = beginDrawing(canvas.current, width, HEIGHT_PX);
    if (stretch) {
      ctx.fillStyle = palette('selection');
      ctx.fillRect(xOf(stretch.from), 0, xOf(stretch.to) - xOf(stretch.from), HEIGHT_PX);
    }
    ctx.fillStyle = palette('wave');
    for (const { timeMs, velocity } of keptStrokes()) {
      const height = velocityShare(velocity) * (HEIGHT_PX - 6);
      ctx.fillRect(xOf(timeMs), HEIGHT_PX - height, 2, height);
    }
  }, [width, kept, stretch, palette, begin, span]);
  return (
    <div
      ref={box}
      className="mt-1 flex-none cursor-crosshair touch-none border border-line"
      style={{ height: HEIGHT_PX }}
      title={kept.strokes > 0 ? `From ${clock(kept.fromMs / 1000)} on this page; drag to mark a part` : undefined}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        setFrom(msAt(event));
        onStretch(null);
      }}
      onPointerMove={(event) => {
        if (from === null) return;
        const to = msAt(event);
        if (Math.abs(xOf(to) - xOf(from)) > 3) onStretch({ from: Math.min(from, to), to: Math.max(from, to) });
      }}
      onPointerUp={() => setFrom(null)}
      onPointerCancel={() => setFrom(null)}
    >
      <canvas ref={canvas} role="img" aria-label={`${kept.strokes} strokes`} style={{ width, height: HEIGHT_PX }} />
    </div>
  );
}
