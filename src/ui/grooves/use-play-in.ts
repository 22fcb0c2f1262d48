import { useEffect, useRef, useState } from 'react';
import type { Change } from '@/contract/edits';
import { quantised } from '@/core/groove/edits';
import type { GrooveNote } from '@/core/groove/model';
import { NOTE_INITIAL } from '@/core/groove/parameters';
import { stepAt } from '@/core/groove/time';
import { useCommands } from '../data/commit';
import { followPlaying, type PadStrike } from '../play/door';
import { soundNow } from '../sound/open-sound';
import { deskAtHand } from './desk-now';
import { noteChanges, placed } from './edits';
import { player } from './player';
import type { GrooveDesk } from './use-groove-desk';

/** What is played goes into the groove after a rest of so long, and is heard from the next lap on. */
const REST_MS = 600;
const MOST_MS = 2500;

interface Waiting {
  readonly serial: number;
  readonly strike: PadStrike;
  /** The engine frame it fell on, once that is told. */
  frame: number | null;
}

/**
 * What is played on the pads while the groove runs goes into it, beside what is there. A stroke lies where the player heard
 * the groove when it fell: the output's latency, as the engine reports it, is taken off. One edit for what was played together.
 */
export function usePlayIn(isRunning: boolean): {
  readonly isIn: boolean;
  readonly setIn: (isIn: boolean) => void;
  readonly isQuantised: boolean;
  readonly setQuantised: (isQuantised: boolean) => void;
  /** What is played takes the place of what lies under it, instead of going beside it. */
  readonly replaces: boolean;
  readonly setReplaces: (replaces: boolean) => void;
} {
  const { commit } = useCommands();
  const [isIn, setIn] = useState(false);
  const [isQuantised, setQuantised] = useState(true);
  const [replaces, setReplaces] = useState(false);
  const latest = useRef({ isQuantised, replaces });
  latest.current = { isQuantised, replaces };
  useEffect(() => {
    if (!isIn || !isRunning) return;
    const waiting: Waiting[] = [];
    let rest = 0;
    let since = 0;
    const look = () => {
      const engine = soundNow()?.engine;
      // Told only of the last strokes: asked for before it is forgotten.
      for (const one of waiting) one.frame ??= engine?.fellAt(one.serial) ?? null;
    };
    const store = () => {
      clearTimeout(rest);
      since = 0;
      look();
      const fallen = waiting.splice(0).flatMap(({ strike, frame }) => {
        const tick = frame === null ? null : player.tickHeardAt(frame);
        return tick === null ? [] : [{ strike, tick }];
      });
      if (fallen.length === 0) return;
      const now = deskAtHand();
      const { isQuantised: isExact, replaces: goesOver } = latest.current;
      const { changes: made, count } = playedIn(now, fallen, isExact);
      const changes = goesOver ? [...takenAway(now, fallen), ...made] : made;
      if (count > 0) void commit(count === 1 ? 'played a stroke' : `played ${count} strokes`, changes);
    };
    const stop = followPlaying((played) => {
      if (played.kind !== 'strike') return;
      look();
      waiting.push({ serial: played.serial, strike: played, frame: null });
      const now = performance.now();
      since ||= now;
      clearTimeout(rest);
      rest = window.setTimeout(store, Math.max(0, Math.min(REST_MS, since + MOST_MS - now)));
    });
    return () => {
      stop();
      store();
    };
  }, [isIn, isRunning, commit]);
  return { isIn, setIn, isQuantised, setQuantised, replaces, setReplaces };
}

/** Changes that take away what lies under strokes that were played together: of the pads that were struck, from the first to the last. */
function takenAway(
  { rows, step, starts }: GrooveDesk,
  fallen: readonly { readonly strike: PadStrike; readonly tick: number }[],
): Change[] {
  const ticks = fallen.map(({ tick }) => tick);
  const [first, last] = [Math.min(...ticks), Math.max(...ticks)];
  // Around the end of the loop the stretch is in two pieces.
  const isAround = ticks.some((tick, i) => i > 0 && tick < (ticks[i - 1] as number) - step);
  const [from, to] = isAround ? [ticks[0] as number, ticks.at(-1) as number] : [first, last];
  const isUnder = (tick: number) => {
    const at = stepAt(starts, tick, step);
    const [low, high] = [stepAt(starts, from, step), stepAt(starts, to, step)];
    return isAround ? at >= low || at <= high : at >= low && at <= high;
  };
  const struck = new Set(fallen.map(({ strike }) => strike.pad));
  return rows.flatMap(({ pad, isSubstitute, notes }) =>
    pad && !isSubstitute && struck.has(pad.position)
      ? noteChanges(
          notes.filter(({ tick }) => isUnder(tick)),
          [],
        )
      : [],
  );
}

/** Changes that put strokes into a groove; rows that several of them need are made once. */
function playedIn(
  desk: GrooveDesk,
  fallen: readonly { readonly strike: PadStrike; readonly tick: number }[],
  isQuantised: boolean,
): { readonly changes: Change[]; readonly count: number } {
  const { view, rows, step } = desk;
  const made = new Map<number, string>();
  const changes: Change[] = [];
  let count = 0;
  for (const { strike, tick } of fallen) {
    const row = rows.find(({ pad, isSubstitute }) => pad?.position === strike.pad && !isSubstitute);
    if (!row) continue;
    const velocity = Math.max(1, Math.min(127, Math.round(strike.velocity)));
    const raw: GrooveNote = { id: '', rowId: '', tick: Math.round(tick), length: step, ...NOTE_INITIAL, velocity };
    const [note] = isQuantised ? quantised([raw], view.groove, step, 1) : [raw];
    const { id: _id, rowId: _row, ...value } = note as GrooveNote;
    const known = made.get(strike.pad);
    if (known)
      changes.push({ op: 'create', doc: 'grooveNote', id: crypto.randomUUID(), value: { ...value, rowId: known } });
    else {
      const own = placed(view, row, value, () => crypto.randomUUID());
      const created = own.find(({ doc }) => doc === 'grooveRow');
      made.set(strike.pad, created?.id ?? (row.rows[0]?.id as string));
      changes.push(...own);
    }
    count++;
  }
  return { changes, count };
}
