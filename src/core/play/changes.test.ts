import { VoiceEngine } from './engine';
import { LAYER, layerAt, PAD, type PadSound, PLAIN_LAYER, SILENT } from './program';
import { type Change, MOST_PATCH_FLOATS, SCORE_FLOATS, type Stroke, writeScore } from './score';
import { Transport } from './transport';

const RATE = 48000;
const LAP = 9600;

const HELD: PadSound = {
  ...SILENT,
  velocityPower: 0,
  mode: 1,
  layers: [{ ...PLAIN_LAYER, left: 0, right: 0, start: 0, end: 20_000, ratio: 1 }],
};
const strike = (at: number, offsets?: Stroke['offsets']): Stroke => ({
  ...{ at, pad: 3, velocity: 127, from: -1, to: -1, until: at + 4000, offsets },
});

/** What a score plays on a pad whose sound is constant at 0.5, or a sine of 480 Hz. */
function played(
  strokes: readonly Stroke[],
  changes: readonly Change[],
  block = 480,
  sound: Partial<PadSound> = {},
  memory = new Float32Array(20_000).fill(0.5),
): Float32Array {
  const engine = new VoiceEngine(RATE, memory);
  engine.setPad(3, { ...HELD, ...sound });
  const transport = new Transport();
  const score = new Float64Array(SCORE_FLOATS);
  writeScore(strokes, LAP, score, 0, changes);
  transport.load(score, 0, 0);
  transport.start(0, 0);
  const left = new Float32Array(2 * LAP);
  const right = new Float32Array(2 * LAP);
  for (let at = 0; at < 2 * LAP; at += block) {
    const count = Math.min(block, 2 * LAP - at);
    transport.schedule(engine, count);
    engine.process(left, right, count, at);
  }
  return left;
}
const gain = (value: number) => [PAD.gain, value];

describe('changes of a program within a score', () => {
  const start: Change = { at: 0, place: 3, over: 0, patch: gain(1) };

  test('go in a straight line from one value to the next while a stroke sounds', () => {
    const steps = Array.from({ length: 10 }, (_, i) => ({
      at: 480 * i,
      place: 3,
      over: 480,
      patch: gain(1 - (i + 1) / 20),
    }));
    const out = played([strike(0)], [start, ...steps]);
    for (const frame of [100, 479, 480, 1000, 2111, 3900])
      expect(Math.abs((out[frame] as number) - 0.5 * (1 - (frame - 1) / 9600))).toBeLessThan(1e-4);
    let roughest = 0;
    for (let i = 64; i < 3900; i++)
      roughest = Math.max(roughest, Math.abs((out[i + 1] as number) - 2 * (out[i] as number) + (out[i - 1] as number)));
    // A line has no corners to hear.
    expect(roughest).toBeLessThan(1e-4);
  });

  test('are the same whatever the block length, and the same in every lap', () => {
    const changes = [start, { at: 1000.4, place: 3, over: 300, patch: gain(0.3) }];
    const whole = played([strike(0), strike(4950)], changes, 2 * LAP);
    for (const block of [128, 333, 4096]) expect(played([strike(0), strike(4950)], changes, block)).toEqual(whole);
    expect(whole[7400]).toBeCloseTo(whole[7400 + LAP] as number, 6);
    // The jump at the beginning of the lap comes before the stroke at the same frame.
    expect((whole[LAP + 3000] as number) / (whole[3000] as number)).toBeCloseTo(1, 6);
  });

  test('a score that is taken up in the middle begins with what is changed by then', () => {
    const engine = new VoiceEngine(RATE, new Float32Array(20_000).fill(0.5));
    engine.setPad(3, HELD);
    const transport = new Transport();
    const score = new Float64Array(SCORE_FLOATS);
    writeScore([strike(5000)], LAP, score, 0, [start, { at: 2000, place: 3, over: 100, patch: gain(0.25) }]);
    transport.load(score, 0, 0);
    transport.start(-4000, 0);
    const left = new Float32Array(2000);
    transport.schedule(engine, 2000);
    engine.process(left, new Float32Array(2000), 2000);
    expect(left[1500]).toBeCloseTo(0.125, 3);
    expect([...transport.touched].flatMap((is, place) => (is === 1 ? [place] : []))).toEqual([3]);
  });

  test('patches that come again are stored once, and more than fit are refused', () => {
    const one = gain(0.5);
    const score = new Float64Array(SCORE_FLOATS);
    const many = Array.from({ length: 20_000 }, (_, i) => ({ at: i / 10, place: 3, over: 1, patch: one }));
    expect(() => writeScore([], LAP, score, 0, many)).not.toThrow();
    const long = Array.from({ length: MOST_PATCH_FLOATS + 2 }, () => 1);
    expect(() => writeScore([], LAP, score, 0, [{ at: 0, place: 3, over: 1, patch: long }])).toThrow(/too many values/);
  });
});

describe('a stroke that is off its pad’s program', () => {
  const sine = new Float32Array(20_000).map((_, i) => 0.5 * Math.sin((2 * Math.PI * i) / 100));
  const crossings = (out: Float32Array, from: number, to: number) => {
    let count = 0;
    for (let i = from; i < to; i++) if ((out[i] as number) <= 0 && (out[i + 1] as number) > 0) count++;
    return count;
  };

  test('is louder, higher, aside and later in its sound by what it says; the next one is not', () => {
    const plain = played([strike(0)], []);
    const softer = played([strike(0, { level: -6 }), strike(5000)], []);
    expect((softer[3000] as number) / (plain[3000] as number)).toBeCloseTo(10 ** (-6 / 20), 4);
    expect(softer[8900]).toBeCloseTo(plain[3900] as number, 3);
    const higher = played([strike(0, { tune: 1200 })], [], 480, {}, sine);
    expect(crossings(higher, 500, 3500)).toBe(60);
    const aside = played([strike(0, { pan: 1 })], []);
    expect(Math.abs(aside[3000] as number)).toBeLessThan(1e-6);
    const ramp = new Float32Array(20_000).map((_, i) => i / 20_000);
    const later = played([strike(0, { start: 100 })], [], 480, {}, ramp);
    expect(later[1000]).toBeCloseTo(5800 / 20_000, 3);
  });

  test('moves the cutoff of a filter that is on', () => {
    const sound = { filter: 1, cutoffHz: 120 };
    const level = (out: Float32Array) => Math.max(...out.subarray(2000, 3900));
    const shut = level(played([strike(0)], [], 480, sound, sine));
    const open = level(played([strike(0, { cutoff: 5 })], [], 480, sound, sine));
    expect(open / shut).toBeGreaterThan(5);
  });

  test('a loop by its slices keeps it to its end', () => {
    const layer = { ...(HELD.layers[0] as PadSound['layers'][number]), rate: 1 };
    const sound = { bySlices: 1, loopFrames: 4000, cuts: [0, 1000, 2000, 3000], layers: [layer] };
    const plain = played([strike(0)], [], 480, sound);
    const softer = played([strike(0, { level: -6 })], [], 480, sound);
    expect((softer[3500] as number) / (plain[3500] as number)).toBeCloseTo(10 ** (-6 / 20), 4);
  });
});

test('a patch changes figures of layers too', () => {
  const patch = [layerAt(0) + LAYER.ratio, 2];
  const sine = new Float32Array(20_000).map((_, i) => Math.sin((2 * Math.PI * i) / 100));
  const out = played([strike(10)], [{ at: 0, place: 3, over: 0, patch }], 480, {}, sine);
  let crossings = 0;
  for (let i = 500; i < 3500; i++) if ((out[i] as number) <= 0 && (out[i + 1] as number) > 0) crossings++;
  expect(crossings).toBe(60);
});
