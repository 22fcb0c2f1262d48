import { seededRandom } from '../signal/random';
import { energySteps } from './energy';
import { levelByte, levelDb, packLevels, splitBySilence, suggestThreshold } from './silence';
import { type SilenceSplit, SPLIT_INITIAL } from './split';

const RATE = 48000;
const split = (more: Partial<SilenceSplit> = {}): SilenceSplit => ({
  ...SPLIT_INITIAL,
  leadInMs: 0,
  tailMs: 0,
  ...more,
});

/** Bursts of decaying noise at known places over a room tone of known level. */
function take(starts: readonly number[], levelsDb: readonly number[], roomDb: number, seconds: number): Float32Array {
  const random = seededRandom(31);
  const room = 10 ** (roomDb / 20) * Math.sqrt(3);
  const out = Float32Array.from({ length: seconds * RATE }, () => room * (random() * 2 - 1));
  for (const [i, start] of starts.entries()) {
    const level = 10 ** ((levelsDb[i] as number) / 20);
    const at = Math.round(start * RATE);
    for (let k = 0; k < 0.3 * RATE && at + k < out.length; k++)
      out[at + k] = (out[at + k] as number) + level * Math.exp(-k / (0.04 * RATE)) * (random() * 2 - 1);
  }
  return out;
}

const STARTS = [0.5, 1.7, 2.6, 4.1];
const levels = (samples: Float32Array) => packLevels(energySteps(samples, RATE));

test('a byte holds a level to a quarter of a decibel', () => {
  for (const db of [-127.5, -90, -63.3, -12, 0])
    expect(Math.abs(levelDb(levelByte(db)) - db)).toBeLessThanOrEqual(0.25);
});

test('the threshold is suggested over the room tone, and under the sounds', () => {
  for (const roomDb of [-66, -50]) {
    const suggested = suggestThreshold(levels(take(STARTS, [-6, -6, -6, -6], roomDb, 6)));
    expect(suggested).toBeGreaterThan(roomDb + 6);
    expect(suggested).toBeLessThan(roomDb + 15);
  }
  const silent = suggestThreshold(levels(take(STARTS, [-6, -6, -6, -6], -300, 6)));
  // Without a room the tails themselves are what is quietest.
  expect(silent).toBeLessThan(-45);
});

test('single sounds over a 34 dB range are parted where they are', () => {
  const samples = take(STARTS, [-3, -37, -12, -25], -66, 6);
  const regions = splitBySilence(levels(samples), [], split(), RATE, samples.length);
  expect(regions).toHaveLength(4);
  for (const [i, { startFrame, endFrame }] of regions.entries()) {
    expect(Math.abs(startFrame / RATE - (STARTS[i] as number))).toBeLessThan(0.003);
    expect((endFrame - startFrame) / RATE).toBeGreaterThan(0.05);
    expect((endFrame - startFrame) / RATE).toBeLessThan(0.35);
  }
});

test('an attack that was found nearby is where a sound starts, to the sample', () => {
  const samples = take([0.5], [-6], -80, 2);
  const frame = Math.round(0.5 * RATE) + 37;
  const candidate = { frame, strength: 1, decayEnd: frame + 9000, peak: 0.5, low: 0, mid: 0, high: 0, click: false };
  const found = splitBySilence(levels(samples), [candidate], split({ leadInMs: 1 }), RATE, samples.length);
  expect(found[0]?.startFrame).toBe(frame - 48);
});

test('gaps shorter than wanted join, sounds shorter than wanted are left out, lead-in and tail never overlap', () => {
  const samples = take([0.5, 0.9, 2], [-6, -6, -6], -90, 4);
  const at = (more: Partial<SilenceSplit>) =>
    splitBySilence(levels(samples), [], split({ thresholdDb: -40, ...more }), RATE, samples.length);
  expect(at({ shortestGapMs: 50 })).toHaveLength(3);
  expect(at({ shortestGapMs: 400 })).toHaveLength(2);
  expect(at({ shortestSoundMs: 1000, shortestGapMs: 50 })).toHaveLength(0);
  const wide = at({ shortestGapMs: 50, leadInMs: 400, tailMs: 900 });
  expect(wide).toHaveLength(3);
  for (const [i, region] of wide.slice(1).entries())
    expect(region.startFrame).toBeGreaterThanOrEqual(wide[i]?.endFrame as number);
  expect(splitBySilence(levels(new Float32Array(RATE)), [], split(), RATE, RATE)).toEqual([]);
});
