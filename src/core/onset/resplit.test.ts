import fc from 'fast-check';
import type { Candidate } from './detect';
import { applyMarks, type Mark, NO_CHANGES } from './marks';
import { type Heard, resplit, wantedRegions } from './resplit';
import { DEFAULT_SPLIT, type Split } from './split';

const TOTAL = 10000;
const RATE = 44100;
const mark = (id: string, startFrame: number, endFrame: number, more: Partial<Mark> = {}): Mark => ({
  id,
  startFrame,
  endFrame,
  origin: 'found',
  locked: false,
  keepFrame: null,
  ...more,
});
const stroke = (frame: number, strength: number, decay = 1200): Candidate => ({
  frame,
  strength,
  decayEnd: frame + decay,
  peak: 0.5,
  low: strength,
  mid: 0,
  high: 0,
  click: false,
});
const heard = (candidates: readonly Candidate[], more: Partial<Heard> = {}): Heard => ({
  sampleRate: RATE,
  totalFrames: TOTAL,
  candidates,
  levels: null,
  tempo: null,
  fileMarks: [],
  ...more,
});
const marks = [mark('a', 0, 1000), mark('b', 1000, 1800), mark('c', 3000, 4000)];
const candidates = [stroke(0, 0.9), stroke(1000, 0.5), stroke(2000, 0.1), stroke(3000, 0.9)];
const attack = (more: Partial<Split>): Split => ({ ...DEFAULT_SPLIT, spacingMs: 5, ...more });
const make = (m: { startFrame: number; endFrame: number; origin: Mark['origin'] }, i: number) =>
  mark(`new${i}`, m.startFrame, m.endFrame, { origin: m.origin });

test('what is already there keeps its id; what is new is created, what is gone removed', () => {
  const changes = resplit(marks, attack({ sensitivity: 1 }), heard(candidates));
  expect(changes.remove).toEqual([]);
  expect(changes.create.map((c) => c.startFrame)).toEqual([2000]);
  expect(resplit(marks, attack({ sensitivity: 0.05 }), heard(candidates)).remove).toEqual(['b']);
});

test('marks set by hand or locked survive, and found ones near them give way', () => {
  const some = [...marks, mark('h', 2010, 2400, { origin: 'hand' }), mark('l', 2600, 2700, { locked: true })];
  const result = applyMarks(some, resplit(some, attack({ sensitivity: 1 }), heard(candidates)), make);
  expect(result.map((m) => m.id)).toEqual(expect.arrayContaining(['h', 'l']));
  expect(result.filter((m) => Math.abs(m.startFrame - 2000) < 50)).toHaveLength(1);
});

test('a split of a region leaves everything outside of it, and a slice that runs into it ends there', () => {
  const within = { startFrame: 900, endFrame: 2500 };
  const changes = resplit(marks, attack({ sensitivity: 1, preRollMs: 1 }), heard(candidates), within);
  const result = applyMarks(marks, changes, make).map((m) => [m.startFrame, m.endFrame]);
  expect(result).toEqual([
    [0, 956],
    [956, 1956],
    [1956, 2500],
    [3000, 4000],
  ]);
});

test('only the strongest, a band, and a lead before the attack', () => {
  const two = wantedRegions(attack({ sensitivity: 1, strongest: 2 }), heard(candidates));
  expect(two.map((r) => r.startFrame)).toEqual([0, 3000]);
  expect(wantedRegions(attack({ sensitivity: 1, band: 'high' }), heard(candidates))).toEqual([]);
  expect(wantedRegions(attack({ sensitivity: 1, band: 'low' }), heard(candidates))).toHaveLength(4);
  const early = wantedRegions(attack({ sensitivity: 1, preRollMs: 10 }), heard(candidates));
  expect(early.map((r) => r.startFrame)).toEqual([0, 1000 - 441, 2000 - 441, 3000 - 441]);
});

test("a file's regions stay as they are, its points run to the next one or to the end of their sound", () => {
  const fileMarks = [
    { frame: 3000, length: 0 },
    { frame: 1000, length: 5000 },
    { frame: 2000, length: 0 },
  ];
  const wanted = resplit([], attack({ method: 'marks' }), heard(candidates, { fileMarks })).create;
  expect(wanted.map((m) => [m.startFrame, m.endFrame])).toEqual([
    [1000, 6000],
    [2000, 3000],
    [3000, 4200],
  ]);
});

test('splitting twice the same way changes nothing the second time', () => {
  fc.assert(
    fc.property(
      fc.float({ min: 0, max: 1, noNaN: true }),
      fc.array(fc.tuple(fc.integer({ min: 0, max: 9000 }), fc.float({ min: 0, max: 1, noNaN: true })), {
        maxLength: 20,
      }),
      fc.option(fc.tuple(fc.integer({ min: 0, max: 5000 }), fc.integer({ min: 5001, max: 10000 })), { nil: null }),
      (sensitivity, list, region) => {
        const many = heard(
          list.map(([frame, strength]) => stroke(frame, strength, 300)).sort((a, b) => a.frame - b.frame),
        );
        const within = region && { startFrame: region[0], endFrame: region[1] };
        const once = applyMarks(marks, resplit(marks, attack({ sensitivity }), many, within), make);
        expect(resplit(once, attack({ sensitivity }), many, within)).toEqual(NO_CHANGES);
        for (const m of once) expect(m.endFrame).toBeGreaterThan(m.startFrame);
      },
    ),
    { seed: 8 },
  );
});
