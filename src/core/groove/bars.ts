import {
  type BeatUnit,
  type Groove,
  type GrooveLane,
  type GrooveNote,
  LAST_TICK,
  type LanePoint,
  type Meter,
} from './model';
import { barOf, barStarts, barTicks, meterAt } from './time';

type Metered = Pick<Groove, 'bars' | 'meters'>;

/** A groove with what lies in its bars. */
export interface Barred {
  readonly groove: Metered;
  readonly notes: readonly GrooveNote[];
  readonly lanes: readonly GrooveLane[];
}

/** A groove's bars, notes and lanes after an edit of its bars. */
export interface Rebarred {
  readonly bars: number;
  readonly meters: readonly Meter[];
  readonly notes: readonly GrooveNote[];
  readonly lanes: readonly GrooveLane[];
}

/** A new bar: a copy of an old one, by its number, or (null) an empty one; with another signature where it has one. */
interface NewBar {
  readonly old: number | null;
  readonly meter?: Pick<Meter, 'beats' | 'beatUnit'>;
}

/** Builds a new list of bars. An empty bar gets the signature of the one before it; notes behind the end of a shortened bar are dropped. */
function rebarred({ groove, notes, lanes }: Barred, from: readonly NewBar[], newId: () => string): Rebarred {
  const starts = barStarts(groove);
  const byBar = new Map<number, GrooveNote[]>();
  for (const note of notes) {
    const bar = barOf(starts, note.tick);
    byBar.set(bar, [...(byBar.get(bar) ?? []), note]);
  }
  const meters: Meter[] = [];
  const placed: GrooveNote[] = [];
  const points = lanes.map((): LanePoint[] => []);
  const used = new Set<number>();
  let start = 0;
  let last: Pick<Meter, 'beats' | 'beatUnit'> = meterAt(groove, 0);
  for (const [bar, { old, meter }] of from.entries()) {
    if (meter) last = meter;
    else if (old !== null) last = meterAt(groove, old);
    const before = meters.at(-1);
    const { beats, beatUnit } = last;
    if (before?.beats !== beats || before.beatUnit !== beatUnit) meters.push({ bar, beats, beatUnit });
    const length = barTicks(last);
    if (old !== null) {
      const by = start - (starts[old] as number);
      // The first copy keeps the notes' ids: what was is what it was.
      const isFirst = !used.has(old);
      used.add(old);
      for (const note of byBar.get(old) ?? [])
        if (note.tick + by < start + length)
          placed.push({ ...note, id: isFirst ? note.id : newId(), tick: note.tick + by });
      const end = Math.min(starts[old + 1] as number, (starts[old] as number) + length);
      for (const [i, lane] of lanes.entries())
        for (const { tick, value } of stretchOf(lane, starts[old] as number, end))
          points[i]?.push({ tick: tick + by, value });
    }
    start += length;
  }
  return {
    bars: from.length,
    meters,
    notes: placed.filter(({ tick }) => tick < LAST_TICK),
    lanes: lanes.map((lane, i) => ({ ...lane, points: withoutRepeats(points[i] as LanePoint[]) })),
  };
}

/** The points of a lane over a stretch, with its values at both ends where it has any. */
function stretchOf({ points, holds }: GrooveLane, from: number, to: number): LanePoint[] {
  const inside = points.filter(({ tick }) => tick >= from && tick <= to);
  const before = points.findLast(({ tick }) => tick < from);
  const after = points.find(({ tick }) => tick > to);
  const at = (tick: number, a: LanePoint | undefined, b: LanePoint | undefined): LanePoint[] => {
    if (!a || !b) return a || b ? [{ tick, value: (a ?? (b as LanePoint)).value }] : [];
    if (holds || a.tick === b.tick) return [{ tick, value: a.value }];
    return [{ tick, value: a.value + ((tick - a.tick) / (b.tick - a.tick)) * (b.value - a.value) }];
  };
  const starts = inside[0]?.tick === from ? [] : at(from, before, inside[0] ?? after);
  const ends = inside.at(-1)?.tick === to ? [] : at(to, inside.at(-1) ?? before, after);
  return [...starts, ...inside, ...ends];
}

/** Points without those amid equal ones. */
function withoutRepeats(points: readonly LanePoint[]): LanePoint[] {
  return points.filter(({ tick, value }, i) => {
    const [before, after] = [points[i - 1], points[i + 1]];
    if (before?.tick === tick && before.value === value) return false;
    return before?.value !== value || after?.value !== value;
  });
}

const range = (from: number, to: number) => Array.from({ length: to - from }, (_, i): NewBar => ({ old: from + i }));

/** Sets the number of bars: a longer groove repeats its bars from the first on, a shorter one keeps its first bars. */
export function lengthened(whole: Barred, bars: number, newId: () => string): Rebarred {
  const from = range(0, bars).map(({ old }) => ({ old: (old as number) % whole.groove.bars }));
  return rebarred(whole, from, newId);
}

/** Inserts empty bars before bar `at`, with the signature of the bar before them. */
export function withBars(whole: Barred, at: number, count: number, newId: () => string): Rebarred {
  const empty = Array.from({ length: count }, (): NewBar => ({ old: null }));
  return rebarred(whole, [...range(0, at), ...empty, ...range(at, whole.groove.bars)], newId);
}

/** Copies the bars `from` to before `to` and inserts the copies right after them. */
export function withCopies(whole: Barred, from: number, to: number, newId: () => string): Rebarred {
  return rebarred(whole, [...range(0, to), ...range(from, whole.groove.bars)], newId);
}

/** Removes the bars `from` to before `to`; one bar is always left. */
export function withoutBars(whole: Barred, from: number, to: number, newId: () => string): Rebarred {
  const kept = [...range(0, from), ...range(to, whole.groove.bars)];
  return rebarred(whole, kept.length > 0 ? kept : [{ old: null }], newId);
}

/** The bars `from` to before `to` with another signature; what lies behind the end of a shorter bar is left out. */
export function withSignature(
  whole: Barred,
  from: number,
  to: number,
  meter: { readonly beats: number; readonly beatUnit: BeatUnit },
  newId: () => string,
): Rebarred {
  const bars = range(0, whole.groove.bars).map((bar, n) => (n >= from && n < to ? { ...bar, meter } : bar));
  return rebarred(whole, bars, newId);
}
