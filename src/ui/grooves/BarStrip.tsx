import { memo, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { GrooveView } from '@/contract/views';
import type { GrooveNote } from '@/core/groove/model';
import { barOf } from '@/core/groove/time';
import { LookTabs } from './LookTabs';
import { player } from './player';
import type { GrooveDesk } from './use-groove-desk';

/** The bars as arches: the one under work is filled and framed, the one that is heard has a bar over it and is named at the left. */
export function BarStrip({ desk, left, perTick }: { desk: GrooveDesk; left: number; perTick: number }) {
  const { view, starts, bar, lastBar, setBar } = desk;
  const heard = useHeardBar(desk);
  const { follows, isRunning } = desk;
  const latest = useRef({ setBar, bar });
  latest.current = { setBar, bar };
  useEffect(() => {
    if (follows && isRunning && heard !== null) latest.current.setBar(heard);
  }, [follows, isRunning, heard]);
  const choose = useCallback((n: number, upTo: boolean) => {
    const { setBar: set, bar: from } = latest.current;
    if (upTo) set(Math.min(from, n), Math.max(from, n));
    else set(n);
  }, []);
  const known = useRef<readonly KnownBar[]>([]);
  const pictures = useMemo(() => {
    known.current = barPictures(view.notes, starts, perTick, known.current);
    return known.current.map(({ picture }) => picture);
  }, [view.notes, starts, perTick]);
  return (
    <div className="flex h-[44px] flex-none border-line border-b bg-paper" data-testid="bar-strip">
      <LookTabs desk={desk} heard={heard} />
      <fieldset aria-label="Bars" className="relative min-w-0 flex-1 overflow-hidden">
        <div className="absolute inset-0" style={{ transform: `translateX(${-left}px)` }}>
          {pictures.map((picture, n) => (
            <Bar
              // biome-ignore lint/suspicious/noArrayIndexKey: a bar is its number
              key={n}
              n={n}
              x={(starts[n] as number) * perTick}
              width={((starts[n + 1] as number) - (starts[n] as number)) * perTick}
              isUnder={n >= bar && n <= lastBar}
              isHeard={heard === n}
              picture={picture}
              onChoose={choose}
            />
          ))}
        </div>
      </fieldset>
    </div>
  );
}

/** A bar's picture, and what it was made of. */
interface KnownBar {
  readonly notes: GrooveView['notes'];
  readonly wide: number;
  readonly from: number;
  readonly picture: string;
}

/** The strokes of each bar in small, as path data; a bar whose notes are the same keeps its picture. Notes come by time. */
function barPictures(
  notes: GrooveView['notes'],
  starts: readonly number[],
  perTick: number,
  before: readonly KnownBar[],
): KnownBar[] {
  let next = 0;
  return starts.slice(0, -1).map((from, bar): KnownBar => {
    const end = starts[bar + 1] as number;
    const first = next;
    while (next < notes.length && (notes[next] as GrooveNote).tick < end) next++;
    const own = notes.slice(first, next);
    const wide = (end - from) * perTick;
    const known = before[bar];
    const isSame =
      known?.wide === wide &&
      known.from === from &&
      known.notes.length === own.length &&
      own.every((note, i) => note === known.notes[i]);
    if (isSame) return known;
    const picture = own.map(({ tick, velocity }) => {
      const x = 4 + ((tick - from) / (end - from)) * Math.max(0, wide - 12);
      const high = Math.round((14 * velocity) / 127);
      return `M${Math.round(x)} ${34 - high}h3v${high}h-3z`;
    });
    return { notes: own, wide, from, picture: picture.join('') };
  });
}

interface BarProps {
  readonly n: number;
  readonly x: number;
  readonly width: number;
  readonly isUnder: boolean;
  readonly isHeard: boolean;
  /** Its strokes in small, as path data. */
  readonly picture: string;
  readonly onChoose: (n: number, upTo: boolean) => void;
}

/** A bar of the strip; drawn anew where it has changed. */
const Bar = memo(function Bar({ n, x, width, isUnder, isHeard, picture, onChoose }: BarProps) {
  return (
    <button
      type="button"
      aria-pressed={isUnder}
      aria-label={`Bar ${n + 1}${isUnder ? ', under work' : ''}${isHeard ? ', is heard' : ''}`}
      title="Work on this bar; with Shift up to it"
      className={`absolute top-[6px] bottom-0 rounded-t-[12px] border border-b-0 text-left ${isUnder ? 'border-2 border-verdigris bg-selection' : 'border-line bg-sunk/40 hover:border-edge'}`}
      style={{ left: x, width: Math.max(4, width - 2) }}
      onClick={(event) => onChoose(n, event.shiftKey)}
    >
      <span className={`figure absolute top-1 left-[10px] text-[12px] ${isUnder ? 'font-bold text-verdigris' : ''}`}>
        {n + 1}
      </span>
      {isHeard && <span aria-hidden className="absolute inset-x-3 -top-[5px] h-[3px] rounded bg-madder" />}
      <svg aria-hidden className="pointer-events-none absolute inset-0 h-full w-full fill-soft">
        <path d={picture} />
      </svg>
    </button>
  );
});

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
