import { seededRandom } from '../signal/random';
import type { Groove, GrooveNote } from './model';
import { barOf, barStarts, grooveTicks } from './time';

/** A note while it is worked on. */
export type Note = GrooveNote;
type Metered = Pick<Groove, 'bars' | 'meters'>;

/** The nearest line of a grid of a tick; its lines begin anew with each bar. */
export function nearestLine(starts: readonly number[], tick: number, step: number): number {
  const bar = barOf(starts, tick);
  const [start, end] = [starts[bar] as number, starts[bar + 1] as number];
  const line = start + Math.round((tick - start) / step) * step;
  // Past the last line of a bar the next bar begins.
  return Math.min(line, end);
}

/**
 * Notes pulled towards a grid by a share, 0 to 1: all the way a second time changes nothing, none changes nothing. The last
 * line of the groove is its first: what lies nearest to it goes to the line before.
 */
export function quantised(notes: readonly Note[], groove: Metered, step: number, strength: number): Note[] {
  const starts = barStarts(groove);
  const end = starts[groove.bars] as number;
  const bar = starts[groove.bars - 1] as number;
  const last = bar + Math.floor((end - bar - 1) / step) * step;
  return notes.map((note) => {
    const to = Math.min(last, nearestLine(starts, note.tick, step));
    return { ...note, tick: Math.max(0, Math.round(note.tick + strength * (to - note.tick))) };
  });
}

/** Notes pulled towards the nearest of other notes' times by a share, where one lies within half a step. */
export function quantisedTo(notes: readonly Note[], times: readonly number[], step: number, strength: number): Note[] {
  const lines = [...times].sort((a, b) => a - b);
  return notes.map((note) => {
    let best = Number.POSITIVE_INFINITY;
    for (const line of lines) if (Math.abs(line - note.tick) < Math.abs(best - note.tick)) best = line;
    if (Math.abs(best - note.tick) > step / 2) return note;
    return { ...note, tick: Math.round(note.tick + strength * (best - note.tick)) };
  });
}

/** Times and velocities scattered by chance: at most `ticks` to either side and a share of the velocity. */
export function humanised(notes: readonly Note[], ticks: number, velocityShare: number, seed: number): Note[] {
  const random = seededRandom(seed);
  return notes.map((note) => {
    const tick = Math.round(note.tick + ticks * (2 * random() - 1));
    const velocity = Math.round(note.velocity * (1 + velocityShare * (2 * random() - 1)));
    return { ...note, tick: Math.max(0, tick), velocity: Math.max(1, Math.min(127, velocity)) };
  });
}

/** Notes moved by ticks, all by as many; none goes before the beginning or behind the end. */
export function nudged(notes: readonly Note[], by: number, groove: Metered): Note[] {
  const first = Math.min(...notes.map(({ tick }) => tick));
  const last = Math.max(...notes.map(({ tick }) => tick));
  const held = Math.max(-first, Math.min(grooveTicks(groove) - 1 - last, by));
  return notes.map((note) => ({ ...note, tick: note.tick + held }));
}

/** The strokes of a note: when each begins, in ticks after it, and its velocity. */
export function strokesOf({
  length,
  strokes,
  ramp,
  velocity,
}: Note): { readonly after: number; readonly velocity: number }[] {
  return Array.from({ length: strokes }, (_, n) => {
    // A ramp makes one end softer, never the other one harder.
    const share = strokes === 1 ? 1 : n / (strokes - 1);
    const less = ramp >= 0 ? ramp * (1 - share) : -ramp * share;
    const own = Math.max(1, Math.round(velocity * (1 - less)));
    return { after: (n * length) / strokes, velocity: own };
  });
}

/** A roll as single notes, each a stroke of it. */
export function split(note: Note, newId: () => string): Note[] {
  return strokesOf(note).map(({ after, velocity }, n) => {
    const tick = note.tick + Math.round(after);
    const end = note.tick + Math.round(((n + 1) * note.length) / note.strokes);
    const id = n === 0 ? note.id : newId();
    return { ...note, id, tick, length: Math.max(1, end - tick), velocity, strokes: 1, ramp: 0 };
  });
}
