import { split } from './edits';
import { type Groove, type GrooveNote, TICKS_PER_QUARTER } from './model';
import { grooveTicks } from './time';

type Metered = Pick<Groove, 'bars' | 'meters'>;

/** How far notes can be moved so that none goes before the beginning or behind the end, of what is wanted. */
export function heldMove(notes: readonly GrooveNote[], by: number, groove: Metered): number {
  const ticks = notes.map(({ tick }) => tick);
  return Math.max(-Math.min(...ticks), Math.min(grooveTicks(groove) - 1 - Math.max(...ticks), Math.round(by)));
}

/** Copies of notes, the first of them beginning at a tick; what would begin behind the end is left out. */
export function pasted(notes: readonly GrooveNote[], at: number, groove: Metered, newId: () => string): GrooveNote[] {
  const first = Math.min(...notes.map(({ tick }) => tick));
  const end = grooveTicks(groove);
  return notes.map((note) => ({ ...note, id: newId(), tick: note.tick - first + at })).filter(({ tick }) => tick < end);
}

/** Each note as two of half its length, a roll as its strokes. */
export function splitAll(notes: readonly GrooveNote[], newId: () => string): GrooveNote[] {
  return notes.flatMap((note) => split(note.strokes > 1 ? note : { ...note, strokes: 2 }, newId));
}

/** Ticks of some milliseconds at a tempo, at least one. */
export function ticksOfMs(ms: number, bpm: number): number {
  const ticks = Math.round((ms * bpm * TICKS_PER_QUARTER) / 60_000);
  return ticks === 0 ? Math.sign(ms) : ticks;
}
