import fc from 'fast-check';
import type { Candidate } from './detect';
import { applyMarks, type Mark, NO_CHANGES } from './marks';
import { resplit, type SplitBasis, wantedRegions } from './resplit';
import { SPLIT_INITIAL, type Split } from './split';

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
const heard = (candidates: readonly Candidate[], more: Partial<SplitBasis> = {}): SplitBasis => ({
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
const attack = (more: Partial<Split>): Split => ({ ...SPLIT_INITIAL, spacingMs: 5, ...more });
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

test.each([
  ['attack', {}],
  ['silence', {}],
  ['grid', { noteValue: '1/16' }],
  ['marks', {}],
] as const)('a greatest number of slices gives that many by %s, and in a marked stretch too', (method, more) => {
  const levels = { step: 100, values: Uint8Array.from({ length: 100 }, (_, n) => (n % 20 < 6 ? 200 + (n % 7) : 20)) };
  const everything = heard(candidates, {
    levels,
    tempo: { bpm: 1600, beatFrame: 0, confidence: 1 },
    fileMarks: [500, 1500, 2500, 3500, 6000].map((frame) => ({ frame, length: 0 })),
  });
  const split = attack({
    method,
    sensitivity: 1,
    shortestGapMs: 5,
    shortestSoundMs: 2,
    leadInMs: 0,
    tailMs: 0,
    ...more,
  });
  expect(wantedRegions(split, everything).length).toBeGreaterThan(3);
  for (const most of [1, 2, 3]) {
    const regions = wantedRegions({ ...split, strongest: most }, everything);
    expect(regions).toHaveLength(most);
    expect(regions).toEqual([...regions].sort((a, b) => a.startFrame - b.startFrame));
  }
  const within = { startFrame: 400, endFrame: TOTAL };
  expect(resplit([], { ...split, strongest: 2 }, everything, within).create).toHaveLength(2);
});

test('a stretch that begins on a hit has its attack, however its edge was placed, and not that of what follows', () => {
  const ms = RATE / 1000;
  const hits = heard([stroke(2000, 0.9), stroke(6000, 0.9)]);
  for (const offMs of [-3, -0.5, 0, 0.5, 3, 8]) {
    const within = { startFrame: Math.round(2000 + offMs * ms), endFrame: 6000 + 40 };
    expect(resplit([], attack({}), hits, within).create.map((m) => m.startFrame)).toEqual([2000]);
  }
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
