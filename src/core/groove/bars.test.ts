import { PAD_PARAMETERS } from '../kit/parameters';
import { type Barred, lengthened, type Rebarred, withBars, withoutBars, withSignature } from './bars';
import { chained } from './chain';
import { laneValue } from './lanes';
import type { WholeGroove } from './midi';
import type { GrooveLane, GrooveNote } from './model';
import { NOTE_INITIAL } from './parameters';
import { heldMove, pasted, splitAll, ticksOfMs } from './selection';
import { STARTERS, starterGroove } from './starters';
import { barStarts, grooveTicks } from './time';
import { variationsOf } from './variations';

let made = 0;
const newId = () => `made-${made++}`;
const FOUR = { bar: 0, beats: 4, beatUnit: 4 as const };
const note = (tick: number, rowId = 'row-1'): GrooveNote => ({
  ...{ id: `note-${rowId}-${tick}`, rowId, tick, length: 240, ...NOTE_INITIAL },
});
const lane: GrooveLane = {
  ...{ id: 'lane-1', grooveId: 'g', rowId: 'row-1', bus: '', step: '', parameter: 'pan', holds: false },
  points: [
    { tick: 0, value: -1 },
    { tick: 7680, value: 1 },
  ],
};
const two: Barred = {
  groove: { bars: 2, meters: [FOUR] },
  notes: [note(0), note(3600), note(3840), note(7200)],
  lanes: [lane],
};
const pan = ({ lanes }: Pick<Rebarred, 'lanes'>, tick: number) =>
  laneValue(lanes[0] as GrooveLane, PAD_PARAMETERS.pan, tick);

describe('lanes go with their bars', () => {
  test('repeated, inserted before and taken out, a bar keeps the values it had', () => {
    const long = lengthened(two, 4, newId);
    for (const tick of [100, 3000, 5000, 7000]) {
      expect(pan(long, tick)).toBeCloseTo(pan({ lanes: [lane] }, tick) as number, 6);
      expect(pan(long, tick + 7680)).toBeCloseTo(pan({ lanes: [lane] }, tick) as number, 6);
    }
    const wider = withBars(two, 1, 1, newId);
    expect(pan(wider, 3840 + 5000)).toBeCloseTo(pan({ lanes: [lane] }, 5000) as number, 6);
    const narrow = withoutBars(two, 0, 1, newId);
    expect(pan(narrow, 1160)).toBeCloseTo(pan({ lanes: [lane] }, 5000) as number, 6);
    expect(lengthened({ ...two, lanes: [{ ...lane, points: [] }] }, 4, newId).lanes[0]?.points).toEqual([]);
  });
});

describe('the signature of a bar', () => {
  test('shorter it leaves out what lies behind its end, longer it moves what follows; other bars keep theirs', () => {
    const short = withSignature(two, 0, 1, { beats: 3, beatUnit: 4 }, newId);
    expect(short.meters).toEqual([
      { bar: 0, beats: 3, beatUnit: 4 },
      { bar: 1, beats: 4, beatUnit: 4 },
    ]);
    expect(short.notes.map(({ tick }) => tick)).toEqual([0, 2880, 6240]);
    const long = withSignature(two, 0, 1, { beats: 7, beatUnit: 8 }, newId);
    expect(barStarts({ bars: long.bars, meters: [...long.meters] })).toEqual([0, 3360, 7200]);
    const same = withSignature(two, 0, 2, { beats: 4, beatUnit: 4 }, newId);
    expect(same.notes).toEqual(two.notes);
    expect(same.meters).toEqual([FOUR]);
  });
});

describe('a bar played otherwise', () => {
  const starter = starterGroove(STARTERS[0] as (typeof STARTERS)[number], newId);
  const rows = [...starter.rows, { id: 'tom-row', family: 'tom' as const }];
  const of = (bar: number, seed: number) => variationsOf(starter.groove, rows, starter.notes, bar, seed, newId);

  test('changes that bar alone, stays inside it, and is the same for the same seed', () => {
    const starts = barStarts(starter.groove);
    for (const bar of [0, 2, 3]) {
      const [from, to] = [starts[bar] as number, starts[bar + 1] as number];
      const outside = (all: readonly GrooveNote[]) => all.filter(({ tick }) => tick < from || tick >= to);
      for (const { name, notes } of of(bar, 5)) {
        expect([name, outside(notes).length]).toEqual([name, outside(starter.notes).length]);
        for (const { velocity, tick } of notes) {
          expect(velocity).toBeGreaterThanOrEqual(1);
          expect(velocity).toBeLessThanOrEqual(127);
          expect(Number.isInteger(tick)).toBe(true);
        }
      }
    }
    const told = (seed: number) =>
      of(1, seed).map(({ notes }) => notes.map(({ tick, velocity, rowId }) => [tick, velocity, rowId]));
    expect(told(3)).toEqual(told(3));
    expect(told(3)).not.toEqual(told(4));
  });

  test('a fill strikes toms and snare and leaves the kick; every way differs from what was', () => {
    const fill = of(0, 1).find(({ name }) => name === 'Fill of the whole bar');
    const struck = new Set(fill?.notes.filter(({ tick }) => tick < 3840).map(({ rowId }) => rowId));
    expect(struck).toContain('tom-row');
    const kick = starter.rows.find(({ family }) => family === 'kick')?.id;
    const kicks = (all: readonly GrooveNote[]) => all.filter(({ rowId, tick }) => rowId === kick && tick < 3840).length;
    expect(kicks(fill?.notes ?? [])).toBe(kicks(starter.notes));
    const plain = JSON.stringify(starter.notes.map(({ id: _id, ...value }) => value).sort((a, b) => a.tick - b.tick));
    for (const { name, notes } of of(0, 1))
      expect([
        name,
        JSON.stringify(notes.map(({ id: _id, ...value }) => value).sort((a, b) => a.tick - b.tick)) === plain,
      ]).toEqual([name, false]);
  });

  test('of an empty bar, and in any signature, makes sense too', () => {
    const meters = [{ bar: 0, beats: 5, beatUnit: 8 as const }];
    for (const { notes } of variationsOf({ bars: 1, meters }, rows, [], 0, 1, newId))
      for (const { tick } of notes) expect(tick).toBeLessThan(5 * 480);
  });
});

describe('grooves in a chain', () => {
  const whole = (n: number): WholeGroove => starterGroove(STARTERS[n] as (typeof STARTERS)[number], newId);

  test('follow one another at the first one’s tempo, rows of the same role being one', () => {
    const [a, b] = [whole(0), whole(1)] as [WholeGroove, WholeGroove];
    const withLane = { ...b, lanes: [{ ...lane, rowId: b.rows[0]?.id ?? null }] };
    const chain = chained([a, withLane, a], 'All', newId) as WholeGroove;
    const { groove, rows, notes, lanes } = chain;
    expect(groove).toMatchObject({ name: 'All', bars: 2 * a.groove.bars + b.groove.bars, bpm: a.groove.bpm });
    expect(notes).toHaveLength(2 * a.notes.length + b.notes.length);
    expect(rows).toHaveLength(new Set([...a.rows, ...b.rows].map(({ note: key, role }) => `${role} ${key}`)).size);
    const second = notes.filter(({ tick }) => tick >= grooveTicks(a.groove));
    expect(second).toHaveLength(a.notes.length + b.notes.length);
    expect(new Set(notes.map(({ id }) => id)).size).toBe(notes.length);
    expect(lanes[0]?.points[0]?.tick).toBe(grooveTicks(a.groove));
    expect(rows.some(({ id }) => id === lanes[0]?.rowId)).toBe(true);
  });

  test('end where a groove would be too long, and none is none', () => {
    const many = Array.from({ length: 40 }, () => whole(0));
    expect(chained(many, 'Long', newId)?.groove.bars).toBeLessThanOrEqual(64);
    expect(chained([], 'None', newId)).toBeNull();
  });
});

describe('several notes', () => {
  const groove = { bars: 2, meters: [FOUR] };

  test('are held inside when they are moved, and pasted at a tick as far from one another', () => {
    const notes = [note(100), note(700)];
    expect(heldMove(notes, -500, groove)).toBe(-100);
    expect(heldMove(notes, 99_999, groove)).toBe(7680 - 1 - 700);
    expect(pasted(notes, 3840, groove, newId).map(({ tick }) => tick)).toEqual([3840, 4440]);
    expect(pasted(notes, 7400, groove, newId).map(({ tick }) => tick)).toEqual([7400]);
    expect(new Set([...notes, ...pasted(notes, 0, groove, newId)].map(({ id }) => id)).size).toBe(4);
  });

  test('are split in two, a roll into its strokes: together as long as before', () => {
    const roll = { ...note(0), length: 960, strokes: 4, ramp: 0.5 };
    const parts = splitAll([note(960), roll], newId);
    expect(parts.map(({ tick, length, strokes }) => [tick, length, strokes])).toEqual([
      [960, 120, 1],
      [1080, 120, 1],
      [0, 240, 1],
      [240, 240, 1],
      [480, 240, 1],
      [720, 240, 1],
    ]);
    expect(parts[0]?.id).toBe(note(960).id);
  });

  test('a millisecond is so many ticks of a tempo, and never none', () => {
    expect(ticksOfMs(10, 125)).toBe(20);
    expect(ticksOfMs(-1, 20)).toBe(-1);
    expect(ticksOfMs(0, 120)).toBe(0);
  });
});
