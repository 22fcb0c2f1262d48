import { seededRandom } from '../signal/random';
import type { Candidate } from './detect';
import { type ExactGrid, exactGrid, gridLines, gridRegions, quartersOf } from './grid';
import { SPLIT_INITIAL } from './split';
import { estimateTempo, inOctaveOf } from './tempo';

const RATE = 44100;
const stroke = (seconds: number, strength = 0.6): Candidate => {
  const frame = Math.round(seconds * RATE);
  return { frame, strength, decayEnd: frame + 4000, peak: 0.5, low: 0, mid: 0, high: 0, click: false };
};
const grid = (more: Partial<ExactGrid>): ExactGrid => ({ ...SPLIT_INITIAL, tempoBpm: 120, downbeatFrame: 0, ...more });
const linesOf = (g: ExactGrid, strokes: readonly Candidate[], seconds: number) =>
  gridLines(g, strokes, RATE, Math.round(seconds * RATE));

test('two bars of 3/4 in eighths are twelve slices that cover the loop', () => {
  const seconds = (6 * 60) / 97;
  const total = Math.round(seconds * RATE);
  const g = grid({ tempoBpm: 97, beats: 3, noteValue: '1/8' });
  const lines = linesOf(g, [], seconds);
  const regions = gridRegions(lines, (30 / 97) * RATE, total);
  expect(regions).toHaveLength(12);
  expect(regions[0]?.startFrame).toBe(0);
  expect(regions.at(-1)?.endFrame).toBe(total);
  for (const [i, region] of regions.slice(1).entries()) expect(region.startFrame).toBe(regions[i]?.endFrame);
  expect(lines.filter((l) => l.bar).map((l) => l.step)).toEqual([0, 6]);
  expect(lines.filter((l) => l.beat)).toHaveLength(6);
});

test.each([
  ['bar', 4, 4, 4],
  ['bar', 6, 8, 3],
  ['1/2', 4, 4, 2],
  ['1/8', 4, 4, 0.5],
  ['1/8T', 4, 4, 1 / 3],
  ['1/16T', 4, 4, 1 / 6],
  ['1/32', 4, 4, 0.125],
] as const)('a %s of %d/%d is %d quarters', (value, beats, unit, quarters) => {
  expect(quartersOf(value, beats, unit)).toBeCloseTo(quarters, 12);
});

test('nothing known of the tempo is no grid; what a person says goes before what was estimated', () => {
  expect(exactGrid(SPLIT_INITIAL, null)).toBeNull();
  const guess = { bpm: 94, beatFrame: 100, confidence: 0.8 };
  expect(exactGrid(SPLIT_INITIAL, guess)).toMatchObject({ tempoBpm: 94, downbeatFrame: 100 });
  expect(exactGrid({ ...SPLIT_INITIAL, tempoBpm: 90, downbeatFrame: 5 }, guess)).toMatchObject({
    tempoBpm: 90,
    downbeatFrame: 5,
  });
});

/** Eighths of a player who drifts from 100 to 112 beats a minute and is up to 8 ms off, with some left out. */
function drifting(seed: number): { strokes: Candidate[]; beats: number[] } {
  const random = seededRandom(seed);
  const strokes: Candidate[] = [];
  const beats: number[] = [];
  let at = 0;
  for (let eighth = 0; at < 40; eighth++) {
    const off = (random() - 0.5) * 0.016;
    const onBeat = eighth % 2 === 0;
    if (onBeat) beats.push(at);
    if (eighth === 0 || random() < (onBeat ? 0.85 : 0.6))
      strokes.push(stroke(Math.max(0, at + off), onBeat ? 0.8 : 0.4));
    at += 30 / (100 + (12 * at) / 40);
  }
  return { strokes, beats };
}

test.each([1, 2, 3])('lines that are pulled follow a drifting player, where a clock loses him (player %d)', (seed) => {
  const { strokes, beats } = drifting(seed);
  const g = grid({ tempoBpm: 100, noteValue: '1/4' });
  const off = (lines: readonly { frame: number }[]) =>
    beats.slice(0, 60).map((b, i) => Math.abs((lines[i]?.frame ?? 0) / RATE - b));
  const clock = off(linesOf(g, strokes, 40));
  const pulled = off(linesOf({ ...g, pull: 1 }, strokes, 40));
  expect(Math.max(...clock)).toBeGreaterThan(1);
  expect(Math.max(...pulled)).toBeLessThan(0.06);
  expect(pulled.toSorted((a, b) => a - b)[30]).toBeLessThan(0.008);
});

test('half a pull goes half the way', () => {
  const strokes = [stroke(0), stroke(0.52), stroke(1)];
  const at = (pull: number) => linesOf(grid({ noteValue: '1/4', pull }), strokes, 2)[1]?.frame as number;
  expect(at(0)).toBe(0.5 * RATE);
  expect(at(1)).toBe(0.52 * RATE);
  expect(at(0.5)).toBeGreaterThan(0.504 * RATE);
  expect(at(0.5)).toBeLessThan(0.516 * RATE);
});

test.each([62, 78, 94, 113, 128, 141, 168])('the tempo of an even beat with eighths between, %d', (bpm) => {
  const random = seededRandom(bpm);
  const beat = 60 / bpm;
  const strokes: Candidate[] = [];
  for (let i = 0; i < 48; i++) {
    const strength = i % 2 === 0 ? 0.8 : 0.4;
    if (random() < 0.85) strokes.push(stroke(0.5 + i * (beat / 2) + (random() - 0.5) * 0.008, strength));
  }
  const guess = estimateTempo(strokes, RATE, 60 * RATE);
  const ratio = (guess?.bpm ?? 0) / bpm;
  expect([0.5, 1, 2].some((octave) => Math.abs(ratio / octave - 1) < 0.005)).toBe(true);
});

test('a trimmed loop has the tempo of its length, to the frame', () => {
  const seconds = (8 * 60) / 94;
  const strokes = Array.from({ length: 16 }, (_, i) =>
    stroke((i * seconds) / 16 + (i === 0 ? 0 : 0.002), i % 2 ? 0.4 : 0.8),
  );
  const guess = estimateTempo(strokes, RATE, Math.round(seconds * RATE));
  expect(guess?.bpm).toBeCloseTo(94, 2);
  expect(guess?.beatFrame).toBe(0);
});

test('a guess is taken for its half or double where that is what is known, and else left', () => {
  const guess = { bpm: 188.7, beatFrame: 5, confidence: 0.1 };
  expect(inOctaveOf(guess, 94)).toEqual({ ...guess, bpm: 94.35 });
  expect(inOctaveOf(guess, 188)).toEqual(guess);
  expect(inOctaveOf(guess, 120)).toEqual(guess);
});

test('what rings on after the last bar is no step of its own, unless something is struck there', () => {
  const total = Math.round(4.4 * RATE);
  const eighths = (strokes: readonly Candidate[]) =>
    gridRegions(linesOf(grid({ noteValue: '1/8' }), strokes, 4.4), 0.25 * RATE, total);
  const played = Array.from({ length: 8 }, (_, i) => stroke(i * 0.5));
  expect(eighths(played)).toHaveLength(16);
  expect(eighths([...played, stroke(4.05)])).toHaveLength(18);
});

test('fewer than four strokes have no tempo', () => {
  expect(estimateTempo([stroke(0), stroke(1), stroke(2)], RATE, 3 * RATE)).toBeNull();
});
