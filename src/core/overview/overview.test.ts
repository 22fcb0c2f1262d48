import fc from 'fast-check';
import { waxCylinder } from '../../demo/archive';
import { demoRecordings } from '../../demo/scenario';
import { isClick } from '../onset/clicks';
import { detectOnsets } from '../onset/detect';
import { selectOnsets } from '../onset/select';
import { SPLIT_INITIAL } from '../onset/split';
import { peakOf, toMono } from '../signal/audio';
import { overviewOf, STEP_SECONDS } from './overview';
import { overviewLong, overviewStep, overviewSteps, spansOf } from './pack';
import { medianFilter, RunningMedians } from './running-median';

const middle = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1] as number;

describe('running medians', () => {
  const series = fc.array(fc.float({ noNaN: true, noDefaultInfinity: true }), { minLength: 1, maxLength: 40 });

  test('along a series, the same as sorting each window', () => {
    fc.assert(
      fc.property(series, fc.constantFrom(1, 3, 7), (list, size) => {
        const values = Float32Array.from(list);
        const out = new Float32Array(values.length);
        medianFilter(values, size, out);
        const at = (i: number) => values[Math.max(0, Math.min(values.length - 1, i))] as number;
        const reach = (size - 1) / 2;
        const wanted = list.map((_, n) => middle(Array.from({ length: size }, (_, k) => at(n + k - reach))));
        // Zero and minus zero are one value to a median.
        expect([...out].map((x) => x + 0)).toEqual(wanted.map((x) => Math.fround(x) + 0));
      }),
      { seed: 3 },
    );
  });

  test('of many series as they come, the same as sorting the last values', () => {
    fc.assert(
      fc.property(series, (list) => {
        const medians = new RunningMedians(2, 5);
        const out = new Float32Array(2);
        const seen: number[] = [0, 0, 0, 0, 0];
        for (const value of Float32Array.from(list)) {
          seen.push(value);
          medians.push(Float32Array.of(value, -value), out);
          expect((out[0] as number) + 0).toBe(Math.fround(middle(seen.slice(-5))) + 0);
        }
      }),
      { seed: 4 },
    );
  });
});

describe('clicks', () => {
  test('those laid over the worn cylinder are told from its strikes', () => {
    const { audio, clicks } = waxCylinder();
    const samples = audio.channels[0] as Float32Array;
    const beat = 60 / 112;
    const strikes = Array.from({ length: 24 }, (_, n) => Math.round((0.3 + n * beat) * audio.sampleRate));
    const far = (frame: number) => strikes.every((s) => Math.abs(s - frame) > 0.08 * audio.sampleRate);
    const alone = clicks.filter(far);
    expect(alone.length).toBeGreaterThan(10);
    const told = alone.filter((frame) => isClick(samples, audio.sampleRate, frame));
    // Clicks hardly over the cylinder's own noise are no matter.
    expect(told.length / alone.length).toBeGreaterThan(0.6);
    expect(strikes.filter((frame) => isClick(samples, audio.sampleRate, frame))).toEqual([]);
  });

  test('no strike of the demo loops is taken for one', () => {
    for (const { audio, truth } of demoRecordings().slice(0, 2)) {
      const samples = toMono(audio);
      expect(truth.filter((t) => isClick(samples, audio.sampleRate, t.frame))).toEqual([]);
    }
  });
});

describe('the overview', () => {
  const waltz = demoRecordings()[3];
  if (!waltz) throw new Error('no waltz');
  const samples = toMono(waltz.audio);
  const { sampleRate } = waltz.audio;
  const marks = selectOnsets(detectOnsets(samples, sampleRate), SPLIT_INITIAL, sampleRate, true);
  const peak = peakOf([samples]);
  const bar = (3 * 60) / 116;

  test("finds the waltz's four bare bars, and no other", () => {
    const { kind } = overviewOf(samples, sampleRate, marks, peak);
    const inBar = (n: number) => {
      const from = Math.ceil((0.1 + (n - 1) * bar + 0.25) / STEP_SECONDS);
      const to = Math.floor((0.1 + n * bar - 0.25) / STEP_SECONDS);
      return kind.slice(from, to).filter((k) => k === 'bare').length / (to - from);
    };
    // In the first of them the last chord before it is still heard.
    for (const n of [9, 10, 11, 12]) expect(inBar(n)).toBeGreaterThan(n === 9 ? 0.5 : 0.8);
    for (const n of [2, 5, 6, 7, 13, 14, 15, 16, 17]) expect(inBar(n)).toBeLessThan(0.3);
  });

  test('packed in parts it is as in one, whatever the seams', () => {
    const read = (start: number, end: number) => samples.subarray(start, end);
    const packed = overviewLong(read, samples.length, sampleRate, marks, peak);
    const whole = overviewOf(samples, sampleRate, marks, peak);
    expect(overviewSteps(packed)).toBe(whole.kind.length);
    const same = whole.kind.filter((kind, s) => overviewStep(packed, s).kind === kind).length;
    expect(same / whole.kind.length).toBeGreaterThan(0.99);
    for (const s of [3, 60, 150, 151]) {
      expect(Math.abs(overviewStep(packed, s).levelDb - (whole.levelDb[s] as number))).toBeLessThan(0.3);
    }
    const spans = spansOf(packed);
    expect(spans[0]?.start).toBe(0);
    expect(spans.every((s, i) => i === 0 || s.start === spans[i - 1]?.end)).toBe(true);
    const longest = spans.filter((s) => s.kind === 'bare').sort((a, b) => b.end - b.start - (a.end - a.start))[0];
    expect(Math.abs((longest?.start ?? 0) - (0.1 + 8 * bar))).toBeLessThan(1);
    expect(Math.abs((longest?.end ?? 0) - (0.1 + 12 * bar))).toBeLessThan(0.7);
  });

  test('silence is quiet, a held chord is tones', () => {
    const rate = 22050;
    const chord = Float32Array.from({ length: rate * 4 }, (_, i) =>
      [220, 277, 330].reduce((sum, hz) => sum + 0.2 * Math.sin((2 * Math.PI * hz * i) / rate), 0),
    );
    expect(new Set(overviewOf(new Float32Array(rate * 3), rate, [], 1).kind)).toEqual(new Set(['quiet']));
    expect(overviewOf(chord, rate, [], 0.6).kind.filter((k) => k === 'tones').length).toBeGreaterThan(15);
  });
});
