import type { Family } from '../family';
import { seededRandom } from '../signal/random';
import { type Groove, type GrooveNote, type GrooveRow, TICKS_PER_QUARTER } from './model';
import { NOTE_INITIAL } from './parameters';
import { barStarts, meterAt } from './time';

/** A bar played otherwise: what it is called, and all notes of the groove with those of the bar in it. */
export interface Variation {
  readonly name: string;
  readonly notes: readonly GrooveNote[];
}

interface Bar {
  readonly from: number;
  readonly to: number;
  readonly beat: number;
  /** A quarter of a beat: the finest that a variation adds. */
  readonly step: number;
  readonly notes: readonly GrooveNote[];
  readonly rows: readonly Pick<GrooveRow, 'id' | 'family'>[];
  readonly random: () => number;
  readonly newId: () => string;
}

type Way = (bar: Bar) => readonly GrooveNote[];

const isOnBeat = ({ tick }: GrooveNote, { from, beat }: Bar) => (tick - from) % beat === 0;
const soft = (note: GrooveNote, share: number): GrooveNote => ({
  ...note,
  velocity: Math.max(1, Math.round(note.velocity * share)),
});

/** Whether nothing of a row begins within half a step of a tick. */
function isFree({ step }: Bar, notes: readonly GrooveNote[], rowId: string, tick: number): boolean {
  return !notes.some((note) => note.rowId === rowId && Math.abs(note.tick - tick) < step / 2);
}

function struck({ step, newId }: Bar, rowId: string, tick: number, velocity: number): GrooveNote {
  return {
    id: newId(),
    rowId,
    tick: Math.round(tick),
    length: Math.max(1, Math.round(step)),
    ...NOTE_INITIAL,
    velocity,
  };
}

const fewer: Way = (bar) => bar.notes.filter((note) => isOnBeat(note, bar) || bar.random() < 0.5);

const more: Way = (bar) => {
  const made = [...bar.notes];
  for (const note of bar.notes) {
    const tick = note.tick + bar.step;
    if (bar.random() < 0.4 && tick < bar.to && isFree(bar, made, note.rowId, tick))
      made.push({ ...soft(note, 0.55), id: bar.newId(), tick, strokes: 1 });
  }
  return made;
};

const accents: Way = (bar) => {
  const lines = Math.max(1, Math.round((bar.to - bar.from) / (bar.beat / 2)));
  const isHard = Array.from({ length: lines }, (_, n) => bar.random() < (n % 2 === 0 ? 0.4 : 0.5));
  return bar.notes.map((note) => {
    const line = Math.min(lines - 1, Math.floor((note.tick - bar.from) / (bar.beat / 2)));
    return {
      ...note,
      velocity: isHard[line] ? Math.min(127, Math.round(note.velocity * 1.2)) : soft(note, 0.7).velocity,
    };
  });
};

/** What does not lie on the first beat goes half a beat on, around the end of the bar. */
const shifted: Way = (bar) => {
  const length = bar.to - bar.from;
  const by = bar.random() < 0.5 ? bar.beat / 2 : bar.step;
  return bar.notes.map((note) =>
    isOnBeat(note, bar) ? note : { ...note, tick: bar.from + ((note.tick - bar.from + by) % length) },
  );
};

const ghosts: Way = (bar) => {
  const snare = rowOf(bar, ['snare', 'rim', 'closed hat', 'percussion']);
  if (snare === null) return more(bar);
  const made = [...bar.notes];
  for (let tick = bar.from + bar.step; tick < bar.to; tick += bar.step)
    if (bar.random() < 0.3 && isFree(bar, made, snare, tick))
      made.push(struck(bar, snare, tick, 18 + Math.round(22 * bar.random())));
  return made;
};

/** The two halves of the bar change places. */
const turned: Way = (bar) => {
  const half = Math.round((bar.to - bar.from) / 2 / bar.step) * bar.step;
  const length = bar.to - bar.from;
  return bar.notes.map((note) => ({ ...note, tick: bar.from + ((note.tick - bar.from + half) % length) }));
};

function rowOf({ rows }: Bar, families: readonly Family[]): string | null {
  for (const family of families) {
    const found = rows.find((row) => row.family === family);
    if (found) return found.id;
  }
  return null;
}

/** A fill over the last `beats` beats: strokes of some drums, getting harder, over what the kick plays. */
function fill(beats: number, families: readonly Family[], perBeat: number): Way {
  return (bar) => {
    const from = Math.max(bar.from, bar.to - beats * bar.beat);
    const drums = bar.rows.filter(({ family }) => family !== null && families.includes(family)).map(({ id }) => id);
    const kick = rowOf(bar, ['kick']);
    const made = bar.notes.filter(({ tick, rowId }) => tick < from || rowId === kick);
    if (drums.length === 0) return made;
    const count = Math.round(((bar.to - from) / bar.beat) * perBeat);
    for (let n = 0; n < count; n++) {
      const isAccent = n % perBeat === 0;
      if (!isAccent && bar.random() < 0.25) continue;
      // From the first drum to the last, each for a while.
      const drum = drums[Math.min(drums.length - 1, Math.floor((n / count) * drums.length))] as string;
      const velocity = Math.round(70 + (50 * n) / count - (isAccent ? 0 : 22));
      made.push(struck(bar, drum, from + (n * bar.beat) / perBeat, Math.max(20, velocity)));
    }
    return made;
  };
}

const WAYS: readonly (readonly [name: string, way: Way])[] = [
  ['Fewer strokes', fewer],
  ['More strokes', more],
  ['Other accents', accents],
  ['Soft strokes between', ghosts],
  ['Shifted', shifted],
  ['Halves the other way round', turned],
  ['Fill of one beat', fill(1, ['snare'], 4)],
  ['Fill of two beats', fill(2, ['snare', 'tom'], 4)],
  ['Fill in threes', fill(2, ['tom', 'snare', 'percussion'], 3)],
  ['Fill of the whole bar', fill(32, ['snare', 'tom', 'percussion'], 4)],
];

/**
 * Ways to play a bar otherwise, fills last; the same seed gives the same ones. `rows` are those that fills may strike, in the
 * order in which they do.
 */
export function variationsOf(
  groove: Pick<Groove, 'bars' | 'meters'>,
  rows: readonly Pick<GrooveRow, 'id' | 'family'>[],
  notes: readonly GrooveNote[],
  bar: number,
  seed: number,
  newId: () => string,
): Variation[] {
  const starts = barStarts(groove);
  const [from, to] = [starts[bar] as number, starts[bar + 1] as number];
  const beat = (4 * TICKS_PER_QUARTER) / meterAt(groove, bar).beatUnit;
  const isOwn = ({ tick }: GrooveNote) => tick >= from && tick < to;
  const others = notes.filter((note) => !isOwn(note));
  return WAYS.map(([name, way], n) => {
    const random = seededRandom(seed * WAYS.length + n + 1);
    const own = way({ from, to, beat, step: beat / 4, notes: notes.filter(isOwn), rows, random, newId });
    return { name, notes: [...others, ...own] };
  });
}
