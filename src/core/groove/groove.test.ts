import fc from 'fast-check';
import { PAD_INITIAL } from '../kit/parameters';
import { type Barred, lengthened, type Rebarred, withBars, withCopies, withoutBars } from './bars';
import { humanised, nudged, quantised, quantisedTo, split, strokesOf } from './edits';
import type { GrooveNote, GrooveRow, Meter } from './model';
import { NOTE_INITIAL } from './parameters';
import { padOfRow, scoreOf } from './score';
import { barStarts, grooveTicks, placeOf, STEPS, swungTick } from './time';

const FOUR: Meter = { bar: 0, beats: 4, beatUnit: 4 };
const plain = (bars: number, meters: Meter[] = [FOUR]) => ({
  bars,
  meters,
  bpm: 120,
  swing: 0.5,
  swingOf: 16 as const,
});

let made = 0;
const newId = () => `new-${made++}`;

const meters = fc
  .array(fc.record({ beats: fc.integer({ min: 1, max: 32 }), beatUnit: fc.constantFrom(1, 2, 4, 8, 16) }), {
    minLength: 1,
    maxLength: 4,
  })
  .map((all) => all.map((meter, i) => ({ ...meter, bar: 2 * i }) as Meter));
const grooves = fc
  .record({ bars: fc.integer({ min: 1, max: 12 }), meters })
  .map((g) => ({ ...plain(g.bars, g.meters) }));

/** A groove and notes that lie in it. */
const withNotes = grooves.chain((groove) =>
  fc
    .array(
      fc.record({
        tick: fc.integer({ min: 0, max: grooveTicks(groove) - 1 }),
        length: fc.integer({ min: 1, max: 4000 }),
        velocity: fc.integer({ min: 1, max: 127 }),
        strokes: fc.integer({ min: 1, max: 16 }),
        ramp: fc.double({ min: -1, max: 1, noNaN: true }),
      }),
      { maxLength: 40 },
    )
    .map((notes) => ({
      groove,
      notes: notes.map((n, i): GrooveNote => ({ ...NOTE_INITIAL, ...n, id: `note-${i}`, rowId: 'row-1' })),
    })),
);
const steps = fc.constantFrom(...STEPS.map(([ticks]) => ticks));

const again = ({ bars, meters, ...rest }: Rebarred): Barred => ({ groove: { bars, meters: [...meters] }, ...rest });

describe('quantising', () => {
  test('twice is once, none changes nothing, and all lie on lines of their bars afterwards', () => {
    fc.assert(
      fc.property(withNotes, steps, ({ groove, notes }, step) => {
        const once = quantised(notes, groove, step, 1);
        expect(quantised(once, groove, step, 1)).toEqual(once);
        expect(quantised(notes, groove, step, 0)).toEqual(notes);
        const starts = barStarts(groove);
        for (const { tick } of once) {
          const bar = starts.findLast((start) => start <= tick) as number;
          expect((tick - bar) % step).toBe(0);
        }
      }),
    );
  });

  test('goes by the share that is asked for', () => {
    const note: GrooveNote = { id: 'a', rowId: 'r', tick: 250, length: 60, ...NOTE_INITIAL, velocity: 90 };
    expect(quantised([note], plain(1), 240, 0.5)[0]?.tick).toBe(245);
  });

  test('to the times of another groove leaves what is far from them', () => {
    const at = (tick: number): GrooveNote => ({
      id: `n${tick}`,
      rowId: 'r',
      tick,
      length: 60,
      ...NOTE_INITIAL,
    });
    expect(quantisedTo([at(230), at(600)], [250, 1000], 240, 1).map(({ tick }) => tick)).toEqual([250, 600]);
  });
});

describe('swing', () => {
  test('even is nothing; two thirds puts the second of two on the triplet; first ones stay', () => {
    const groove = { ...plain(1), swing: 2 / 3 };
    const starts = barStarts(groove);
    expect(swungTick(240, { ...groove, swing: 0.5 }, starts)).toBe(240);
    expect(swungTick(240, groove, starts)).toBeCloseTo(320);
    expect(swungTick(480, groove, starts)).toBe(480);
  });

  test('keeps the order of notes and every second step in its place', () => {
    fc.assert(
      fc.property(withNotes, fc.double({ min: 0.5, max: 0.75, noNaN: true }), ({ groove, notes }, swing) => {
        const starts = barStarts(groove);
        const ticks = [...new Set(notes.map(({ tick }) => tick))].sort((a, b) => a - b);
        const swung = ticks.map((tick) => swungTick(tick, { ...groove, swing }, starts));
        for (const [i, tick] of swung.entries())
          if (i > 0) expect(tick).toBeGreaterThan((swung[i - 1] as number) - 1e-6);
      }),
    );
  });
});

describe('rolls', () => {
  test('out and back leaves the note; its strokes fill its length; as single notes they sound the same', () => {
    fc.assert(
      fc.property(withNotes, ({ groove, notes }) => {
        for (const note of notes) {
          const strokes = strokesOf(note);
          expect(strokes).toHaveLength(note.strokes);
          expect(Math.max(...strokes.map(({ velocity }) => velocity))).toBeLessThanOrEqual(note.velocity);
          const singles = split(note, newId);
          expect(singles[0]?.id).toBe(note.id);
          const of = (all: GrooveNote[]) =>
            all.flatMap((n) => strokesOf(n).map(({ after, velocity }) => [Math.round(n.tick + after), velocity]));
          expect(of(singles)).toEqual(of([note]));
          // End to end, as long as the note where each has a tick.
          if (note.length >= note.strokes)
            expect(singles.reduce((sum, { length }) => sum + length, 0)).toBe(note.length);
        }
        expect(groove.bars).toBeGreaterThan(0);
      }),
    );
  });
});

describe('bars', () => {
  test('lengthening repeats what is there and loses nothing; cutting it back leaves what was', () => {
    fc.assert(
      fc.property(withNotes, fc.integer({ min: 1, max: 3 }), ({ groove, notes }, times) => {
        const long = lengthened({ groove, notes, lanes: [] }, groove.bars * times, newId);
        expect(long.notes).toHaveLength(notes.length * times);
        const back = lengthened(again(long), groove.bars, newId);
        const byId = (all: readonly GrooveNote[]) => [...all].sort((a, b) => (a.id < b.id ? -1 : 1));
        expect(byId(back.notes)).toEqual(byId(notes));
        expect(barStarts({ bars: back.bars, meters: [...back.meters] })).toEqual(barStarts(groove));
      }),
    );
  });

  test('put in and taken out again, copied and the copy taken away, leave what was', () => {
    fc.assert(
      fc.property(withNotes, fc.nat(11), fc.integer({ min: 1, max: 3 }), ({ groove, notes }, at, count) => {
        const from = Math.min(at, groove.bars - 1);
        const to = Math.min(groove.bars, from + count);
        const byId = (all: readonly GrooveNote[]) => [...all].sort((a, b) => (a.id < b.id ? -1 : 1));
        const wider = withBars({ groove, notes, lanes: [] }, from, count, newId);
        const narrow = withoutBars(again(wider), from, from + count, newId);
        expect(byId(narrow.notes)).toEqual(byId(notes));
        const twice = withCopies({ groove, notes, lanes: [] }, from, to, newId);
        const once = withoutBars(again(twice), to, to + (to - from), newId);
        expect(byId(once.notes)).toEqual(byId(notes));
        expect(barStarts({ bars: once.bars, meters: [...once.meters] })).toEqual(barStarts(groove));
      }),
    );
  });
});

test('nudging keeps distances and stays inside; humanising is seeded', () => {
  fc.assert(
    fc.property(withNotes, fc.integer({ min: -5000, max: 5000 }), ({ groove, notes }, by) => {
      if (notes.length === 0) return;
      const moved = nudged(notes, by, groove);
      expect(Math.min(...moved.map(({ tick }) => tick))).toBeGreaterThanOrEqual(0);
      expect(Math.max(...moved.map(({ tick }) => tick))).toBeLessThan(grooveTicks(groove));
      const apart = moved.map(({ tick }, i) => tick - (notes[i] as GrooveNote).tick);
      expect(new Set(apart).size).toBe(1);
      expect(humanised(notes, 20, 0.1, 7)).toEqual(humanised(notes, 20, 0.1, 7));
      expect(humanised(notes, 0, 0, 7)).toEqual(notes);
    }),
  );
});

test('bars of several signatures are told by bar, beat and sixteenth', () => {
  const groove = plain(4, [FOUR, { bar: 1, beats: 7, beatUnit: 8 }, { bar: 3, beats: 3, beatUnit: 4 }]);
  expect(barStarts(groove)).toEqual([0, 3840, 7200, 10_560, 13_440]);
  expect(placeOf(groove, 3840 + 480 + 240)).toBe('2.2.2');
});

describe('what the engine plays', () => {
  const pad = (name: string, position: number, set = {}) => ({
    ...PAD_INITIAL,
    ...{ id: `pad-${position}`, kitId: 'kit-1', name, family: 'snare' as const, position, ...set },
  });
  const row = (set: Partial<GrooveRow> = {}): GrooveRow => ({
    ...{
      id: 'row-1',
      grooveId: 'groove-1',
      position: 0,
      role: '',
      note: 38,
      family: 'snare',
      muted: false,
      alone: false,
    },
    ...set,
  });
  const note = (tick: number, set: Partial<GrooveNote> = {}): GrooveNote => ({
    ...{ id: `n${tick}`, rowId: 'row-1', tick, length: 240, ...NOTE_INITIAL },
    ...set,
  });

  test('a row finds its role, else its note, else its family', () => {
    const pads = [pad('Sluice', 9), pad('Weir', 8), pad('Trough', 20, { role: 'Gate', family: null })];
    expect(padOfRow(row({ role: 'Gate' }), pads)).toEqual({ pad: pads[2], isSubstitute: false });
    expect(padOfRow(row({ role: 'Nobody' }), pads)).toEqual({ pad: pads[1], isSubstitute: false });
    expect(padOfRow(row({ note: 99 }), pads)).toEqual({ pad: pads[0], isSubstitute: true });
    expect(padOfRow(row({ note: 99, family: 'kick' }), pads)).toBeNull();
  });

  test('notes of a stretch are frames from its beginning; rolls are strokes; held pads are let go', () => {
    const groove = plain(2);
    const pads = [pad('Weir', 8, { mode: 'held' })];
    const { strokes, length } = scoreOf(
      groove,
      [row()],
      [note(0), note(3840 + 960, { strokes: 2 })],
      pads,
      { from: 3840, to: 7680 },
      48_000,
    );
    expect(length).toBe(96_000);
    expect(strokes.map(({ at, until }) => [at, until])).toEqual([
      [24_000, 27_000],
      [27_000, 30_000],
    ]);
    expect(scoreOf(groove, [row({ muted: true })], [note(0)], pads, { from: 0, to: 3840 }, 48_000).strokes).toEqual([]);
  });
});
