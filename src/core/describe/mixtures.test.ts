import { playDrummer } from '../drummer/drummer';
import { RHYTHMS } from '../drummer/rhythms';
import type { Family } from '../family';
import { detectOnsets } from '../onset/detect';
import { selectOnsets, slicesFromOnsets } from '../onset/select';
import { SPLIT_INITIAL } from '../onset/split';
import { seededRandom } from '../signal/random';
import { chancesOf } from './chances';
import { COHERENCE_FIGURES } from './coherence';
import { Describer } from './description';
import { hear, type ListenedSlice } from './hearing';
import { beginningOf, explain, type Fit, fitSecond, levelIn, zonesOf } from './mixture-fit';
import { Mixtures } from './mixtures';
import { type Sketch, Sketcher } from './sketch';

const RATE = 44100;
const random = seededRandom(3);
const low = Float32Array.from({ length: RATE / 4 }, (_, i) => {
  const t = i / RATE;
  return Math.sin(2 * Math.PI * (55 * t - 4 * Math.exp(-30 * t))) * Math.exp(-14 * t);
});
/** Differenced noise, which has little power under a kilohertz. */
const high = Float32Array.from({ length: RATE / 4 }, () => random() - 0.5).map(
  (x, i, all) => (x - (all[i - 1] ?? 0)) * Math.exp((-40 * i) / RATE),
);
const sketcher = new Sketcher(RATE);
const begun = (samples: Float32Array) => beginningOf(sketcher.sketch(samples, 0, samples.length));
const sum = (a: number, b: number) => low.map((x, i) => a * x + b * (high[i] as number));

describe('a sound taken for the sum of two', () => {
  test.each([-10, -20, -30])('has its parts, the second %d dB under the whole', (db) => {
    const power = (x: Float32Array) => {
      const { powers } = sketcher.sketch(x, 0, x.length);
      return powers.subarray(0, begun(x).count).reduce((all, v) => all + v, 0);
    };
    const gain = Math.sqrt((power(low) / power(high)) * 10 ** (db / 10));
    const whole = begun(sum(1, gain));
    const { off, offAlone, secondDb, secondOff, missing } = fitSecond(
      explain(whole, begun(low), levelIn(whole, begun(low), 0.3)),
      begun(high),
    );
    expect(off).toBeLessThan(1);
    expect(secondOff).toBeLessThan(1.5);
    expect(offAlone).toBeGreaterThan(3);
    expect(missing).toBe(0);
    expect(Math.abs(secondDb - db)).toBeLessThan(1.5);
  });

  test('that is one of them needs no second', () => {
    const whole = begun(sum(0.3, 0));
    const { off, offAlone, second } = fitSecond(
      explain(whole, begun(low), levelIn(whole, begun(low), 0.3)),
      begun(high),
    );
    expect(offAlone).toBeLessThan(0.1);
    expect(off).toBeLessThanOrEqual(offAlone + 0.1);
    expect(second).toBe(0);
  });

  test('of silence and of a sound as long as a window there are figures too', () => {
    for (const samples of [new Float32Array(RATE / 4), low.subarray(0, 300)]) {
      const whole = begun(samples);
      const fit = fitSecond(explain(whole, begun(low), levelIn(whole, begun(low), 0.3)), begun(high));
      for (const figure of [...Object.values(fit), ...zonesOf(whole, begun(high))])
        expect(Number.isFinite(figure)).toBe(true);
    }
  });

  test('varies by zone of bands only where a second sounds', () => {
    const [lowest, , highest] = zonesOf(begun(sum(1, 0.1)), begun(low));
    expect(lowest).toBeLessThan(0.5);
    expect(highest).toBeGreaterThan(3);
  });
});

test('a slice that a person has given another family than its shelf has does not hold that shelf', () => {
  const [kick, hat] = [sum(1, 0), sum(0, 1)].map((samples) => sketcher.sketch(samples, 0, samples.length)) as [
    Sketch,
    Sketch,
  ];
  const slice = (sketch: Sketch, family: Family, group: number) => ({ sketch, family, group, foreignDb: -40 });
  const mixtures = new Mixtures(
    [slice(kick, 'tom', 0), slice(kick, 'kick', 0), slice(hat, 'closed hat', 1)],
    [
      { group: 0, family: 'kick', members: [0, 1] },
      { group: 1, family: 'closed hat', members: [2] },
    ],
    () => new Float32Array(COHERENCE_FIGURES),
  );
  expect(mixtures.cases(0).map(({ family }) => family)).toEqual(['closed hat']);
  expect(mixtures.cases(1).map(({ family }) => family)).toEqual(['closed hat']);
  expect(mixtures.cases(2).map(({ family, other }) => [family, other])).toEqual([['kick', 0]]);
});

test('levels matter to none of it', () => {
  const fitted = (gain: number) => {
    const whole = begun(sum(gain, 0.1 * gain));
    return fitSecond(explain(whole, begun(low), levelIn(whole, begun(low), 0.3)), begun(high));
  };
  const quiet = fitted(0.01);
  for (const [name, figure] of Object.entries(fitted(1))) expect(quiet[name as keyof Fit]).toBeCloseTo(figure, 4);
});

test('the level of a second drum is told against the slice that stands for it', () => {
  const sketches = [sum(1, 0), sum(0, 1), sum(1, 0.1)].map((samples) => sketcher.sketch(samples, 0, samples.length));
  const families = ['kick', 'closed hat', 'kick'] as const;
  const mixtures = new Mixtures(
    sketches.map((sketch, i) => ({ sketch, family: families[i] as Family, group: i % 2, foreignDb: -40 })),
    [
      { group: 0, family: 'kick', members: [0, 2] },
      { group: 1, family: 'closed hat', members: [1] },
    ],
    () => new Float32Array(COHERENCE_FIGURES),
  );
  const [hat] = mixtures.cases(2);
  expect(hat).toMatchObject({ family: 'closed hat', other: 1, evidence: 'evident' });
  expect(Math.abs((hat?.levelDb ?? 0) + 20)).toBeLessThan(1);
});

/** What is heard in the drummer's third rhythm, its crank at the slowest, and what was struck. */
function drummer() {
  const [rhythm] = RHYTHMS.slice(2);
  if (!rhythm) throw new Error('The drummer has no third rhythm.');
  const { samples, strokes } = playDrummer(rhythm, 0.1, 4, 3, RATE);
  const candidates = detectOnsets(samples, RATE);
  const describer = new Describer(RATE);
  const slices = slicesFromOnsets(selectOnsets(candidates, SPLIT_INITIAL, RATE), samples.length).map(
    (region): ListenedSlice => {
      const figures = describer.describe(samples, region.startFrame, region.endFrame);
      return { ...region, figures, chances: chancesOf(figures), family: null, shelf: null };
    },
  );
  const heard = hear(slices, () => ({ candidates, sampleRate: RATE }));
  return slices.map(({ startFrame }, i) => {
    const struck = strokes.filter(({ frame }) => Math.abs(frame - startFrame) < 0.02 * RATE);
    return { ...heard.slices[i], struck: new Set(struck.map(({ family }) => family)) };
  });
}

test('of the drummer at its slowest most strokes of two drums are told to be so, and hardly any of one', () => {
  const slices = drummer();
  const several = slices.filter(({ struck }) => struck.size > 1);
  const right = several.filter(({ also, family, struck }) => also?.some((f) => f !== family && struck.has(f as never)));
  const single = slices.filter(({ struck }) => struck.size === 1);
  const wrong = single.filter(({ also }) => also?.length);
  expect(several.length).toBeGreaterThan(15);
  expect(single.length).toBeGreaterThan(20);
  expect(right.length).toBeGreaterThan((2 * several.length) / 3);
  expect(wrong.length).toBeLessThanOrEqual(single.length / 20);
  expect(several.every(({ also, family }) => !also?.includes(family as never))).toBe(true);
});
