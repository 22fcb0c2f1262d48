import { noteOf } from '../kit/layout';
import { generalMidiLayout } from '../kit/layouts';
import type { WholeGroove } from './midi';
import { type GrooveNote, type GrooveRow, type Meter, TICKS_PER_QUARTER } from './model';
import { NOTE_INITIAL } from './parameters';
import { barTicks } from './time';

/** A groove of our own to begin from: for each note of General MIDI its steps; "." rests, 1 to 9 is how hard it is struck. */
interface Starter {
  readonly name: string;
  readonly bpm: number;
  readonly meter?: Pick<Meter, 'beats' | 'beatUnit'>;
  /** Steps of a quarter note. */
  readonly perQuarter?: number;
  readonly swing?: number;
  readonly rows: Readonly<Record<number, string>>;
}

const FOUR = { beats: 4, beatUnit: 4 } as const;
const ROLES = new Map(generalMidiLayout().map((place) => [noteOf(place), place]));

export const STARTERS: readonly Starter[] = [
  {
    name: 'Night watch',
    bpm: 94,
    swing: 0.54,
    rows: {
      36: '9.......7.9.....9.......7..7....9.......7.9.....9..7....7..7....',
      38: '....9..2....9.2.....9..2....9..2....9..2....9.2.....9..2....9.57',
      42: '7.4.7.4.7.4.7.4.7.4.7.4.7.4.7...7.4.7.4.7.4.7.4.7.4.7.4.7.4.....',
      46: '..............................7.............................7...',
    },
  },
  {
    name: 'Plain walk',
    bpm: 100,
    rows: { 36: '9.......9.......', 38: '....9.......9...', 42: '7.5.7.5.7.5.7.5.' },
  },
  {
    name: 'Mill wheel',
    bpm: 122,
    rows: { 36: '9...9...9...9...', 39: '....8.......8...', 42: '..6...6...6...6.', 46: '..............4.' },
  },
  {
    name: 'Headrace',
    bpm: 168,
    rows: {
      36: '9..9......9.....9..9......9.....',
      38: '....9..2.2..9..2....9..2.2..9.22',
      42: '7.7.7.7.7.7.7.7.7.7.7.7.7.7.7.7.',
    },
  },
  {
    name: 'Half light',
    bpm: 140,
    rows: { 36: '9.....7.........', 38: '........9.......', 42: '7.4.7.4.7.4.7.4.', 37: '......3...3...3.' },
  },
  {
    name: 'Lock-keeper’s waltz',
    bpm: 116,
    meter: { beats: 3, beatUnit: 4 },
    rows: { 36: '9...........', 38: '....6...6...', 51: '7...5...5.3.' },
  },
  {
    name: 'Ferry in six',
    bpm: 76,
    meter: { beats: 6, beatUnit: 8 },
    rows: { 36: '9.....7.....', 38: '......9.....', 42: '7.5.5.7.5.5.' },
  },
  {
    name: 'Seven planks',
    bpm: 126,
    meter: { beats: 7, beatUnit: 8 },
    rows: { 36: '9.....7.......', 38: '....9.....9...', 42: '7.5.7.5.7.7.5.' },
  },
  {
    name: 'Loose shuffle',
    bpm: 88,
    perQuarter: 3,
    rows: { 36: '9....79.....', 38: '...9.....9..', 42: '7.57.57.57.5' },
  },
  {
    name: 'Stone floor',
    bpm: 90,
    rows: { 36: '9..7..7...9.....', 38: '....9.......9..2', 42: '7777777777777777', 54: '..5...5...5...5.' },
  },
  {
    name: 'Hand drums',
    bpm: 104,
    rows: { 61: '9..6..6.9..6..6.', 60: '..7..7....7.77..', 69: '6.4.6.4.6.4.6.4.', 75: '9..7..7...7.7...' },
  },
  {
    name: 'Tin roof',
    bpm: 132,
    rows: { 36: '9.......9.7.....', 38: '....9.......9...', 51: '7...7.5.7...7.5.', 44: '....5.......5...' },
  },
];

/** A starter as a groove of roles, with as many whole bars as its longest row has steps. */
export function starterGroove(
  { name, bpm, meter = FOUR, perQuarter = 4, swing = 0.5, rows }: Starter,
  newId: () => string,
): WholeGroove {
  const step = TICKS_PER_QUARTER / perQuarter;
  const longest = Math.max(...Object.values(rows).map((steps) => steps.length));
  const bars = Math.max(1, Math.round((longest * step) / barTicks(meter)));
  const made: GrooveRow[] = [];
  const notes: GrooveNote[] = [];
  for (const [i, [key, steps]] of Object.entries(rows).entries()) {
    const note = Number(key);
    const place = ROLES.get(note);
    const id = newId();
    made.push({
      ...{ id, grooveId: '', position: i, role: place?.role ?? '', note, family: place?.family ?? null },
      ...{ muted: false, alone: false },
    });
    // A shorter row goes on from its beginning.
    const count = Math.round((bars * barTicks(meter)) / step);
    for (let n = 0; n < count; n++) {
      const hard = Number(steps[n % steps.length]);
      if (!(hard > 0)) continue;
      const velocity = Math.round((hard / 9) * 120);
      notes.push({ id: newId(), rowId: id, tick: n * step, length: step, ...NOTE_INITIAL, velocity });
    }
  }
  return {
    groove: { name, bars, meters: [{ bar: 0, ...meter }], bpm, swing, swingOf: 16 },
    rows: made,
    notes,
    lanes: [],
  };
}
