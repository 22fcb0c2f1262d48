import { HIT_INITIAL } from '../hit/initial';
import { audioKey, contentKey, isPlain, type TreatedHit } from '../hit/key';
import { Renderer, renderHit } from '../hit/render';
import { measured } from '../loudness/measured';
import type { Parameter } from '../parameter/parameter';
import { firstSet, initialValues } from '../parameter/values';
import { type Audio, frameCount, peakOf } from '../signal/audio';
import { fromDb, toDb } from '../signal/units';
import { processorContract } from './contract';
import { processOf } from './process/processes';
import { PROCESSOR_NAMES, PROCESSORS, type ProcessorName, processorOf } from './processors';
import { newStep, type Step } from './step';

for (const name of PROCESSOR_NAMES) processorContract(name);

const RATE = 48000;
const audio = (...channels: number[][]): Audio => ({
  sampleRate: RATE,
  channels: channels.map((c) => Float32Array.from(c)),
});
const processed = (name: ProcessorName, on: Audio, values: object): Audio => {
  const { parameters } = processorOf(name);
  return processOf(name)(on, { ...initialValues(parameters), ...values }, measured);
};
const done = (name: ProcessorName, on: Audio, values: object) =>
  processed(name, on, values).channels.map((channel) => [...channel]);

test('start and end cut at frames, and leave a frame at least', () => {
  const frames = Array.from({ length: 96 }, (_, i) => i);
  expect(done('trim', audio(frames), { fromMs: 0.5, toMs: 1 })).toEqual([frames.slice(24, 48)]);
  expect(done('trim', audio(frames), { fromMs: 9 })).toEqual([[95]]);
  expect(done('trim', audio(frames), { fromMs: 1, toMs: 0.5 })).toEqual([[48]]);
});

describe('three bands', () => {
  const impulse = audio(Array.from({ length: 1 << 15 }, (_, i) => (i === 100 ? 1 : 0)));
  /** Gain in dB at a frequency, by its Fourier integral. */
  const gainAt = (hz: number, values: object) => {
    const [x] = processed('bands', impulse, {
      lowThresholdDb: 0,
      middleThresholdDb: 0,
      highThresholdDb: 0,
      ...values,
    }).channels;
    let [re, im] = [0, 0];
    for (const [i, v] of (x as Float32Array).entries()) {
      re += v * Math.cos((2 * Math.PI * hz * i) / RATE);
      im += v * Math.sin((2 * Math.PI * hz * i) / RATE);
    }
    return 10 * Math.log10(re * re + im * im);
  };

  test('are flat together while nothing is over a threshold; each has its own gain', () => {
    for (const hz of [40, 150, 700, 2500, 9000]) expect(Math.abs(gainAt(hz, { ratio: 1.5 }))).toBeLessThan(0.05);
    const middle = { ratio: 1.5, middleGainDb: 6 };
    expect(gainAt(620, middle)).toBeCloseTo(6, 0);
    expect(Math.abs(gainAt(30, middle))).toBeLessThan(0.2);
    expect(Math.abs(gainAt(14_000, middle))).toBeLessThan(0.2);
  });

  test('a loud low is taken down by the curve, a high beside it stays', () => {
    const tone = (hz: number, level: number) =>
      Array.from({ length: RATE }, (_, i) => level * Math.sin((2 * Math.PI * hz * i) / RATE));
    const values = {
      lowThresholdDb: -20,
      middleThresholdDb: 0,
      highThresholdDb: 0,
      ratio: 4,
      attackMs: 1,
      releaseMs: 5000,
    };
    const end = (x: Float32Array) => toDb(peakOf([x.subarray(RATE / 2)]));
    const [low] = processed('bands', audio(tone(50, 1)), values).channels as [Float32Array];
    // 20 dB over the threshold, 4 to 1: 15 dB less. The release of 5 s holds it between the crests.
    expect(Math.abs(end(low) + 15)).toBeLessThan(1);
    const [high] = processed('bands', audio(tone(7919, 0.2)), values).channels as [Float32Array];
    expect(Math.abs(end(high) - toDb(0.2))).toBeLessThan(0.1);
  });
});

describe('channels', () => {
  const pair = audio([1, 0.5], [0.5, -0.5]);
  test.each([
    ['left', [[1, 0.5]]],
    ['right', [[0.5, -0.5]]],
    ['mid', [[0.75, 0]]],
    ['side', [[0.25, 0.5]]],
    [
      'swap',
      [
        [0.5, -0.5],
        [1, 0.5],
      ],
    ],
    ['mono', [[0.75, 0]]],
    [
      'all',
      [
        [1, 0.5],
        [0.5, -0.5],
      ],
    ],
  ] as const)('%s', (take, wanted) => expect(done('channels', pair, { take })).toEqual(wanted));

  test('middle and side together are left and right again', () => {
    const [mid, side] = [done('channels', pair, { take: 'mid' })[0], done('channels', pair, { take: 'side' })[0]] as [
      number[],
      number[],
    ];
    expect(mid.map((m, i) => m + (side[i] as number))).toEqual([1, 0.5]);
    expect(mid.map((m, i) => m - (side[i] as number))).toEqual([0.5, -0.5]);
  });

  test('inverted twice, a sound is what it was', () => {
    expect(done('channels', pair, { invert: true })).toEqual([
      [-1, -0.5],
      [-0.5, 0.5],
    ]);
  });
});

describe('fades, by the formula of each curve', () => {
  const ones = audio(new Array(481).fill(1));
  const ms = (480 * 1000) / RATE;
  test.each([
    ['linear', 0.5],
    ['power', Math.SQRT1_2],
    ['smooth', 0.5],
    ['exponential', (10 ** (-30 / 20) - 1e-3) / (1 - 1e-3)],
  ] as const)('%s', (curve, half) => {
    const [into] = done('fades', ones, { inMs: ms, inCurve: curve }) as [number[]];
    const [out] = done('fades', ones, { outMs: ms, outCurve: curve }) as [number[]];
    expect([into[0], into[480], out[480], out[0]]).toEqual([0, 1, 0, 1]);
    expect(into[240]).toBeCloseTo(half, 6);
    expect(out[240]).toBeCloseTo(half, 6);
    for (let i = 1; i < 480; i++) expect(into[i]).toBeGreaterThanOrEqual(into[i - 1] as number);
  });

  test('two equal-power fades that cross keep the power', () => {
    const [into] = done('fades', ones, { inMs: ms, inCurve: 'power' }) as [number[]];
    const [out] = done('fades', ones, { outMs: ms, outCurve: 'power' }) as [number[]];
    for (let i = 0; i < 481; i++) expect((into[i] as number) ** 2 + (out[i] as number) ** 2).toBeCloseTo(1, 5);
  });
});

test('reversed twice, a sound is what it was', () => {
  expect(done('reverse', audio([1, 2, 3]), {})).toEqual([[3, 2, 1]]);
});

describe('a hit is rendered', () => {
  const steps = (...list: [ProcessorName, Record<string, unknown>][]): Step[] =>
    list.map(([processor, values], i) => ({ ...newStep('hit-0001', processor, i, values), id: `step-${i}` }) as Step);
  const hit = (list: Step[]): TreatedHit => ({
    ...HIT_INITIAL,
    id: 'hit-0001',
    name: 'x',
    family: null,
    sliceId: null,
    recordingId: 'rec-0001',
    startFrame: 0,
    endFrame: 4,
    steps: list,
  });
  const source = audio([0.1, 0.4, -0.2, 0.05]);

  test('in the order of its steps; those that are switched off do nothing', () => {
    const list = steps(['reverse', {}], ['fades', { inMs: 2000 / RATE }]);
    const fades = processed('fades', source, { inMs: 2000 / RATE });
    expect(renderHit(hit(list), () => source).audio.channels[0]?.[0]).toBe(0);
    expect(renderHit(hit([...list].reverse()), () => source).audio).toEqual(processed('reverse', fades, {}));
    expect(renderHit(hit(list.map((step) => ({ ...step, active: false }))), () => source)).toEqual({
      audio: source,
      gain: 1,
    });
  });

  test('levelling at the end stays a gain: the audio is the source itself, and levels follow one another', () => {
    const list = steps(['level', { to: 'peak', peakDbfs: -6 }], ['level', { gainDb: 3 }]);
    const { audio: same, gain } = renderHit(hit(list), () => source);
    expect(same).toBe(source);
    expect(toDb(0.4 * gain)).toBeCloseTo(-3, 5);
    expect(isPlain(hit(list))).toBe(true);
    const measured = renderHit(
      hit(steps(['level', { gainDb: 30 }], ['level', { to: 'peak', peakDbfs: -2 }])),
      () => source,
    );
    expect(toDb(0.4 * measured.gain)).toBeCloseTo(-2, 5);
  });

  test('levelling before something else is done to the samples', () => {
    const { audio: changed, gain } = renderHit(hit(steps(['level', { gainDb: -6 }], ['reverse', {}])), () => source);
    expect(gain).toBe(1);
    expect(peakOf(changed.channels)).toBeCloseTo(0.4 * fromDb(-6), 6);
  });

  test('its key tells by what is heard: not by ids, names or values that are initial', () => {
    const plain = hit([]);
    const level = hit(steps(['level', { gainDb: 3 }]));
    expect(audioKey(level)).toBe(audioKey(plain));
    expect(contentKey(level)).not.toBe(contentKey(plain));
    const told = hit(steps(['fades', { inMs: 5, outMs: 0 }]));
    const untold = { ...hit(steps(['fades', { inMs: 5 }])), id: 'hit-0002', name: 'y' };
    expect(contentKey(told)).toBe(contentKey(untold));
    expect(audioKey(told)).not.toBe(audioKey(hit(steps(['fades', { inMs: 6 }]))));
    expect(audioKey({ ...plain, endFrame: 3 })).not.toBe(audioKey(plain));
  });

  test('a change of a later step begins at that step, within bounded memory', () => {
    const renderer = new Renderer(100);
    const first = renderer.render(hit(steps(['reverse', {}], ['fades', { inMs: 2000 / RATE }])), () => source);
    const before = renderer.render(hit(steps(['reverse', {}])), () => source).audio;
    const second = renderer.render(hit(steps(['reverse', {}], ['fades', { inMs: 3000 / RATE }])), () => source);
    expect(renderer.render(hit(steps(['reverse', {}])), () => source).audio).toBe(before);
    expect(second.audio).not.toEqual(first.audio);
    // 16 bytes a render: many more push the first ones out.
    for (let i = 0; i < 20; i++) renderer.render(hit(steps(['fades', { outMs: i + 1 }])), () => source);
    expect(renderer.render(hit(steps(['reverse', {}])), () => source).audio).not.toBe(before);
  });
});

test('every parameter of a processor has a first value to be set to', () => {
  for (const name of PROCESSOR_NAMES)
    for (const p of Object.values(PROCESSORS[name].parameters) as Parameter[])
      if (p.kind !== 'list' && p.kind !== 'data') expect(firstSet(p)).toBeDefined();
  expect(frameCount(audio([1, 2]))).toBe(2);
});
