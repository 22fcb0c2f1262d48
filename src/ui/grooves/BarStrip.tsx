import { useEffect, useMemo, useRef, useState } from 'react';
import { barOf } from '@/core/groove/time';
import { NAMES_PX } from './measures';
import { player } from './player';
import type { GrooveDesk } from './use-groove-desk';

/** The bars as arches: the one under work is filled and framed, the one that is heard has a bar over it and is named at the left. */
export function BarStrip({ desk, left, perTick }: { desk: GrooveDesk; left: number; perTick: number }) {
  const { view, starts, bar, lastBar, setBar } = desk;
  const heard = useHeardBar(desk);
  const { follows, isRunning } = desk;
  const latest = useRef(setBar);
  latest.current = setBar;
  useEffect(() => {
    if (follows && isRunning && heard !== null) latest.current(heard);
  }, [follows, isRunning, heard]);
  const strokes = useMemo(() => {
    const byBar: { at: number; high: number }[][] = Array.from({ length: view.groove.bars }, () => []);
    for (const { tick, velocity } of view.notes) {
      const of = barOf(starts, tick);
      const [from, to] = [starts[of] as number, starts[of + 1] as number];
      byBar[of]?.push({ at: (tick - from) / (to - from), high: velocity / 127 });
    }
    return byBar;
  }, [view.notes, view.groove.bars, starts]);
  return (
    <div className="flex h-[44px] flex-none border-line border-b bg-paper" data-testid="bar-strip">
      <span
        className={`flex-none self-center pl-4 font-semibold text-[12px] ${heard === null ? 'text-soft' : 'text-madder'}`}
        style={{ width: NAMES_PX }}
      >
        {heard === null ? `${view.notes.length} strokes` : `plays bar ${heard + 1}`}
      </span>
      <fieldset aria-label="Bars" className="relative min-w-0 flex-1 overflow-hidden">
        {strokes.map((own, n) => {
          const from = (starts[n] as number) * perTick - left;
          const wide = ((starts[n + 1] as number) - (starts[n] as number)) * perTick;
          const isUnder = n >= bar && n <= lastBar;
          return (
            <button
              // biome-ignore lint/suspicious/noArrayIndexKey: a bar is its number
              key={n}
              type="button"
              aria-pressed={isUnder}
              aria-label={`Bar ${n + 1}${isUnder ? ', under work' : ''}${heard === n ? ', is heard' : ''}`}
              title="Work on this bar; with Shift up to it"
              className={`absolute top-[6px] bottom-0 rounded-t-[12px] border border-b-0 text-left ${isUnder ? 'border-2 border-verdigris bg-selection' : 'border-line bg-sunk/40 hover:border-edge'}`}
              style={{ left: from, width: Math.max(4, wide - 2) }}
              onClick={(event) => (event.shiftKey ? setBar(Math.min(bar, n), Math.max(bar, n)) : setBar(n))}
            >
              <span
                className={`figure absolute top-1 left-[10px] text-[12px] ${isUnder ? 'font-bold text-verdigris' : ''}`}
              >
                {n + 1}
              </span>
              {heard === n && <span aria-hidden className="absolute inset-x-3 -top-[5px] h-[3px] rounded bg-madder" />}
              <Strokes own={own} wide={wide} />
            </button>
          );
        })}
      </fieldset>
    </div>
  );
}

/** A bar's strokes in small. */
function Strokes({ own, wide }: { own: readonly { at: number; high: number }[]; wide: number }) {
  return (
    <svg aria-hidden className="pointer-events-none absolute inset-0 h-full w-full fill-soft">
      {own.map(({ at, high }, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: strokes of a picture
        <rect key={i} x={4 + at * Math.max(0, wide - 12)} y={34 - 14 * high} width={3} height={14 * high} />
      ))}
    </svg>
  );
}

/** The bar that is heard; null while nothing is. */
function useHeardBar({ isRunning, starts }: GrooveDesk): number | null {
  const [bar, setBar] = useState<number | null>(null);
  useEffect(() => {
    if (!isRunning) {
      setBar(null);
      return;
    }
    let frame = 0;
    const look = () => {
      const tick = player.heardTick();
      setBar(tick === null ? null : barOf(starts, tick));
      frame = requestAnimationFrame(look);
    };
    look();
    return () => cancelAnimationFrame(frame);
  }, [isRunning, starts]);
  return bar;
}
