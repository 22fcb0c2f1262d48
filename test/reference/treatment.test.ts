import { compressionDb, compressorGainDb } from '../../src/core/dynamics/compress';
import { expanderGainDb } from '../../src/core/dynamics/expand';
import { saturated } from '../../src/core/dynamics/saturate';
import { filtered, responseDb } from '../../src/core/filter/biquad';
import { butterworth } from '../../src/core/filter/cookbook';
import { Fft } from '../../src/core/kernel/fft';
import { measured } from '../../src/core/loudness/measured';
import { initialValues } from '../../src/core/parameter/values';
import { truePeakOf } from '../../src/core/resampling/oversampling';
import { resampled } from '../../src/core/resampling/sinc';
import { clicksOf, withoutClicks } from '../../src/core/restoration/clicks';
import { learnNoise, packNoise, unpackNoise, withoutNoise } from '../../src/core/restoration/noise';
import { roomResponse } from '../../src/core/room/response';
import type { Audio } from '../../src/core/signal/audio';
import { seededRandom } from '../../src/core/signal/random';
import { fromDb, toDb } from '../../src/core/signal/units';
import { hann } from '../../src/core/signal/window';
import { POINT, type Point } from '../../src/core/treatment/equaliser';
import { envelopeAt } from '../../src/core/treatment/process/envelope';
import { processOf } from '../../src/core/treatment/process/processes';
import { type ProcessorName, processorOf } from '../../src/core/treatment/processors';
import { remove, scratch } from '../harness';
import { differenceDb, ffmpegTruePeak, throughFfmpeg, throughSox } from './programs';

const folder = scratch();
afterAll(() => remove(folder));

const RATE = 48_000;
const audioOf = (...channels: Float32Array[]): Audio => ({ sampleRate: RATE, channels });
const sine = (hz: number, db: number, frames: number, rate = RATE) =>
  Float32Array.from({ length: frames }, (_, i) => fromDb(db) * Math.sin((2 * Math.PI * hz * i) / rate));
function noise(frames: number, seed = 1): Float32Array {
  const random = seededRandom(seed);
  return Float32Array.from({ length: frames }, () => random() - 0.5);
}
/** A struck drum of our own: a burst of noise and a falling tone. */
function drum(frames = 24_000, seed = 7, hz = 170): Float32Array {
  const random = seededRandom(seed);
  return Float32Array.from({ length: frames }, (_, i) => {
    const t = i / RATE;
    const tone = Math.sin(2 * Math.PI * (hz * t - 20 * Math.exp(-t / 0.03) * 0.03));
    return 0.7 * Math.exp(-t / 0.12) * tone + 0.4 * Math.exp(-t / 0.01) * (2 * random() - 1);
  });
}
function processed(name: ProcessorName, audio: Audio, values: object): Audio {
  return processOf(name)(audio, { ...initialValues(processorOf(name).parameters), ...values } as never, measured);
}

describe('equaliser, against ffmpeg’s filters (Audio EQ Cookbook; they equal its formulas)', () => {
  const point = (values: Partial<Point>): Point => ({ ...initialValues(POINT), ...values });
  const butter = (kind: 'highpass' | 'lowpass', hz: number, order: number) =>
    Array.from({ length: order / 2 }, (_, k) => 1 / (2 * Math.cos(((2 * k + 1) * Math.PI) / (2 * order))))
      .map((q) => `${kind}=f=${hz}:t=q:w=${q}:r=f64`)
      .join(',');
  test.each([
    ['bell', { frequencyHz: 186, gainDb: 4.2, widthOct: 0.9 }, 'equalizer=f=186:t=o:w=0.9:g=4.2:r=f64'],
    ['bell', { frequencyHz: 6000, gainDb: -12, widthOct: 2 }, 'equalizer=f=6000:t=o:w=2:g=-12:r=f64'],
    ['low-shelf', { frequencyHz: 120, gainDb: 6, slope: 0.7 }, 'lowshelf=f=120:t=s:w=0.7:g=6:r=f64'],
    ['high-shelf', { frequencyHz: 5000, gainDb: -9, slope: 1 }, 'highshelf=f=5000:t=s:w=1:g=-9:r=f64'],
    ['notch', { frequencyHz: 50, widthOct: 0.2 }, 'bandreject=f=50:t=o:w=0.2:r=f64'],
    ['band', { frequencyHz: 900, widthOct: 1 }, 'bandpass=f=900:t=o:w=1:r=f64'],
    ['high-pass', { frequencyHz: 90, steepDb: 12 }, butter('highpass', 90, 2)],
    ['high-pass', { frequencyHz: 90, steepDb: 48 }, butter('highpass', 90, 8)],
    ['low-pass', { frequencyHz: 2000, steepDb: 24 }, butter('lowpass', 2000, 4)],
  ] as const)('%s %j', (kind, values, filters) => {
    const audio = audioOf(noise(RATE));
    const ours = processed('equaliser', audio, { points: [point({ kind, ...values })] });
    const theirs = throughFfmpeg(folder, audio, filters);
    // Far closer than 0.1 dB: what is left is the rounding of single precision.
    expect(differenceDb(theirs.channels[0] as Float32Array, ours.channels[0] as Float32Array)).toBeLessThan(-100);
  });

  test.each([1, 2, 3, 5, 8])(
    'order %i: Butterworth’s response, its frequencies warped as the bilinear transform does',
    (order) => {
      const sections = butterworth(1, 200, order, RATE);
      const warped = (hz: number) => Math.tan((Math.PI * hz) / RATE);
      for (const hz of [50, 200, 400, 1600]) {
        const wanted = -10 * Math.log10(1 + (warped(hz) / warped(200)) ** (2 * order));
        expect(Math.abs(responseDb(sections, hz, RATE) - wanted)).toBeLessThan(0.01);
      }
    },
  );
});

describe('tune', () => {
  test.each([-12, -5, 3, 7])('%i semitones, against sox’s speed (its best rate conversion)', (semitones) => {
    // Up to 8 kHz: the two conversions end at different frequencies near half the rate.
    const low = (seed: number) => filtered(drum(24_000, seed), butterworth(1, 5000, 8, RATE));
    const audio = audioOf(low(7), low(8));
    const ratio = 2 ** (semitones / 12);
    const ours = processed('tune', audio, { semitones });
    const theirs = throughSox(folder, audio, 'speed', String(ratio), 'rate', '-v', String(RATE));
    for (const side of [0, 1]) {
      const [a, b] = [theirs.channels[side], ours.channels[side]] as [Float32Array, Float32Array];
      expect(differenceDb(a, b, 500, Math.min(a.length, b.length) - 500)).toBeLessThan(-80);
    }
  });

  test('the frequency is exact, and the length kept where that is asked for', () => {
    const audio = audioOf(sine(440, -6, RATE));
    for (const keep of ['nothing', 'length']) {
      const { channels } = processed('tune', audio, { semitones: 7, cents: 50, keep });
      const x = channels[0] as Float32Array;
      expect(x.length).toBe(keep === 'length' ? RATE : resampled(audio, 2 ** (7.5 / 12)).channels[0]?.length);
      expect(Math.abs(1200 * Math.log2(frequencyOf(x) / (440 * 2 ** (7.5 / 12))))).toBeLessThan(1);
    }
  });

  test('an attack kept is copied, and the pitch glides in as asked', () => {
    const audio = audioOf(drum());
    const kept = processed('tune', audio, { semitones: -5, keep: 'attack', attackMs: 20 });
    expect(kept.channels[0]?.subarray(0, 480)).toEqual(audio.channels[0]?.subarray(0, 480));
    const glided = processed('tune', audioOf(sine(200, -6, RATE)), { sweepSemitones: 12, sweepMs: 200 });
    const x = glided.channels[0] as Float32Array;
    expect(frequencyOf(x.subarray(0, 960))).toBeGreaterThan(340);
    expect(Math.abs(frequencyOf(x.subarray(12_000, 30_000)) - 200)).toBeLessThan(1);
  });
});

/** Frequency of a sine by its rising zero crossings, between samples. */
function frequencyOf(x: Float32Array): number {
  const crossings: number[] = [];
  for (let i = 1; i < x.length; i++) {
    const [a, b] = [x[i - 1] as number, x[i] as number];
    if (a < 0 && b >= 0) crossings.push(i - 1 - a / (b - a));
  }
  return ((crossings.length - 1) * RATE) / ((crossings.at(-1) as number) - (crossings[0] as number));
}

describe('compressor', () => {
  const settings = {
    thresholdDb: -20,
    ratio: 4,
    kneeDb: 6,
    attackMs: 5,
    releaseMs: 50,
    lookAheadMs: 0,
    by: 'peak' as const,
  };
  test.each([-40, -23, -21, -20, -18, -10, 0])(
    'a tone of %i dBFS goes down by the static curve within 0.2 dB',
    (db) => {
      const gains = compressorGainDb(audioOf(sine(1000, db, RATE)), { ...settings, attackMs: 0, releaseMs: 500 });
      const settled = gains.subarray(RATE / 2).reduce((sum, x) => sum + x, 0) / (RATE / 2);
      expect(Math.abs(settled - compressionDb(db, settings))).toBeLessThan(0.2);
    },
  );

  test('attack and release are the times to come within 1/e of the goal', () => {
    const step = Float32Array.from({ length: RATE }, (_, i) => (i >= 4800 && i < 24_000 ? 1 : 0.001));
    const gains = compressorGainDb(audioOf(step), { ...settings, kneeDb: 0 });
    expect((gains[4800 + 0.005 * RATE] as number) / -15).toBeCloseTo(1 - 1 / Math.E, 2);
    expect((gains[24_000 + 0.05 * RATE] as number) / -15).toBeCloseTo(1 / Math.E, 2);
    const ahead = compressorGainDb(audioOf(step), { ...settings, kneeDb: 0, lookAheadMs: 5 });
    expect(ahead[4800]).toBeCloseTo(gains[4800 + 0.005 * RATE] as number, 4);
  });

  test('a sustained tone comes out as from ffmpeg’s compressor within 0.3 dB', () => {
    const audio = audioOf(sine(1000, -8, 2 * RATE));
    const ours = processed('compressor', audio, { ...settings, kneeDb: 0, releaseMs: 300 });
    const filter = `acompressor=threshold=${fromDb(-20)}:ratio=4:attack=5:release=300:knee=1:makeup=1:detection=peak`;
    const theirs = throughFfmpeg(folder, audio, filter);
    const level = (a: Audio) => toDb(Math.max(...(a.channels[0] as Float32Array).subarray(RATE).map(Math.abs)));
    expect(Math.abs(level(ours) - level(theirs))).toBeLessThan(0.3);
  });
});

describe('gate, attack and body, envelope, against their formulas', () => {
  test('a tail under the threshold goes down by the ratio, at any level', () => {
    // Falls evenly by 60 dB a second.
    const fall = Float32Array.from({ length: RATE }, (_, i) => fromDb((-60 * i) / RATE) * Math.sin(i / 7));
    const settings = { thresholdDb: -30, ratio: 3, rangeDb: 90, attackMs: 0, holdMs: 0, releaseMs: 1 };
    for (const level of [1, 0.001]) {
      const gains = expanderGainDb(audioOf(fall.map((x) => x * level)), settings);
      for (const at of [0.2, 0.6, 0.9]) {
        const wanted = Math.min(0, (-60 * at + 30) * 2);
        expect(Math.abs((gains[at * RATE] as number) - wanted)).toBeLessThan(2.5);
      }
    }
  });

  test('more attack lifts the stroke and leaves the body, whatever the level', () => {
    const source = drum();
    for (const level of [1, 0.003]) {
      const audio = audioOf(source.map((x) => x * level));
      const more = processed('attack', audio, { attackDb: 6 });
      const gain = (at: number) =>
        toDb(Math.abs((more.channels[0]?.[at] as number) / (audio.channels[0]?.[at] as number)));
      expect(gain(100)).toBeGreaterThan(5.5);
      expect(Math.abs(gain(12_000))).toBeLessThan(0.5);
    }
  });

  test('the envelope’s stages', () => {
    const values = { attackMs: 10, holdMs: 20, decayMs: 100, sustainDb: -20, releaseMs: 50 };
    const at = (ms: number) => toDb(envelopeAt(ms, 500, values));
    expect([at(5), at(20), at(80), at(200), at(475)].map((db) => Number(db.toFixed(2)))).toEqual([
      -6.02, 0, -10, -20, -50,
    ]);
    expect(envelopeAt(500, 500, values)).toBe(0);
  });
});

describe('saturation', () => {
  test('is the hyperbolic tangent within 1e-6, as ffmpeg’s asoftclip has it', () => {
    const audio = audioOf(sine(200, 0, RATE).map((x, i) => x * Math.min(1, i / 4800, (RATE - 1 - i) / 4800)));
    const ours = processed('saturation', audio, { driveDb: 0 }).channels[0] as Float32Array;
    const theirs = throughFfmpeg(folder, audio, 'asoftclip=type=tanh:oversample=1').channels[0] as Float32Array;
    expect(Math.max(...ours.map((x, i) => Math.abs(x - (theirs[i] as number))))).toBeLessThan(1e-6);
    expect(Math.max(...ours.map((x, i) => Math.abs(x - Math.tanh(audio.channels[0]?.[i] as number))))).toBeLessThan(
      1e-6,
    );
  });

  test.each(['round', 'cut', 'lean', 'fold'] as const)(
    '%s: aliases of a 5 kHz sine under -80 dBFS at every drive',
    (character) => {
      const size = 32_768;
      // A whole number of periods in the transform: overtones fall on bins of their own, aliases between them.
      const bin = 2 * Math.round((5000 * size) / 44_100 / 2) + 1;
      // The worst drives lie just under where the rate is doubled once more: gains of 4, 20 and 40.
      for (const drive of [0, 12, 18, 24, 26, 28, 30, 32, 34, 36]) {
        const x = sine((bin * 44_100) / size, 0, 3 * size, 44_100);
        const y = saturated(x, character, drive, 44_100).subarray(size, 2 * size);
        const window = hann(size);
        const { re, im } = new Fft(size).forward(y.map((v, i) => v * (window[i] as number)));
        let worst = 0;
        for (let b = 8; b < (20_000 * size) / 44_100; b++) {
          const off = b % bin;
          if (Math.min(off, bin - off) > 3)
            worst = Math.max(worst, Math.hypot(re[b] as number, im[b] as number) / (size / 4));
        }
        expect(toDb(worst)).toBeLessThan(-80);
      }
    },
  );
});

describe('limiter and true peak, against ffmpeg', () => {
  const faded = (x: Float32Array) => x.map((v, i) => v * Math.min(1, i / 2000, (x.length - 1 - i) / 2000));
  const sounds: readonly (readonly [string, Float32Array])[] = [
    ['drum', faded(drum(RATE))],
    ['noise', faded(filtered(noise(RATE), butterworth(1, 14_000, 8, RATE)).map((x) => 2 * x))],
    ['sine between samples', faded(sine(12_000, 0, RATE).map((_, i) => Math.sin((Math.PI * i) / 2 + Math.PI / 4)))],
  ];
  test.each(sounds)(
    '%s: the true peak as ffmpeg tells it, +0.1/-0.3 dB; never over the ceiling once limited',
    (_, x) => {
      const off = toDb(truePeakOf([x])) - ffmpegTruePeak(folder, audioOf(x));
      expect(off).toBeLessThan(0.3);
      expect(off).toBeGreaterThan(-0.1);
      for (const ceilingDbtp of [-1, -6]) {
        const out = processed('limiter', audioOf(x), { gainDb: 9, ceilingDbtp });
        expect(toDb(truePeakOf(out.channels))).toBeLessThanOrEqual(ceilingDbtp + 1e-6);
        expect(ffmpegTruePeak(folder, out)).toBeLessThan(ceilingDbtp + 0.05);
        expect(toDb(truePeakOf(out.channels))).toBeGreaterThan(ceilingDbtp - 0.4);
      }
    },
  );
});

describe('noise reduction, on a stroke of known truth in noise of known level', () => {
  test.each([
    [15, 7],
    [25, 5],
    [40, 2],
  ])('%i dB of signal to noise: the tail gains %i dB, attack, peak and what lies before lose nothing', (snr, gains) => {
    const lead = 4800;
    const clean = new Float32Array(RATE);
    clean.set(drum(RATE - lead), lead);
    const hiss = noise(2 * RATE, 31).map((x) => x * 0.25 * 12 ** 0.5 * fromDb(-snr));
    const noisy = clean.map((x, i) => x + (hiss[i] as number));
    const learnt = learnNoise(audioOf(hiss.subarray(RATE)));
    if (!learnt) throw new Error('Nothing was learnt.');
    const kept = unpackNoise(packNoise(learnt));
    expect(kept?.every((power, b) => Math.abs(10 * Math.log10(power / (learnt[b] as number))) < 0.4)).toBe(true);
    const out = withoutNoise(noisy, learnt, [lead], { amountDb: 24, marginDb: 3 }, RATE);
    const error = (x: Float32Array, from: number, to: number) =>
      10 * Math.log10(x.subarray(from, to).reduce((sum, v, i) => sum + (v - (clean[from + i] as number)) ** 2, 0));
    const better = (from: number, to: number) => error(noisy, from, to) - error(out, from, to);
    expect(better(lead + 2400, RATE)).toBeGreaterThan(gains);
    expect(better(lead, lead + 240)).toBeGreaterThan(-0.5);
    expect(better(lead - 960, lead)).toBeGreaterThan(10);
    const peak = (x: Float32Array) => toDb(Math.max(...x.map(Math.abs)));
    expect(Math.abs(peak(out) - peak(clean))).toBeLessThan(0.5);
    // Told 2 ms wrong, the stroke is found all the same.
    for (const wrong of [-96, 96]) {
      const told = withoutNoise(noisy, learnt, [lead + wrong], { amountDb: 24, marginDb: 3 }, RATE);
      expect(error(noisy, lead, lead + 240) - error(told, lead, lead + 240)).toBeGreaterThan(-3);
    }
  });
});

describe('click repair', () => {
  test('clicks laid into clean hits come out: most are found, nothing else is touched, the error falls by 20 dB', () => {
    const random = seededRandom(21);
    const clean = Float32Array.from(drum(RATE, 3), (x) => x + 0.0005 * (2 * random() - 1));
    const worn = clean.slice();
    const places = Array.from({ length: 12 }, (_, n) => 3000 + n * 3500);
    for (const at of places)
      for (let i = 0; i < 20; i++)
        worn[at + i] = (worn[at + i] as number) + 0.3 * Math.exp(-i / 5) * (2 * random() - 1);
    const settings = { threshold: 16, longestMs: 1.5 };
    const found = clicksOf(worn, settings, RATE);
    expect(
      places.filter((at) => found.some(({ from, to }) => from <= at + 4 && to >= at)).length,
    ).toBeGreaterThanOrEqual(11);
    expect(found.length).toBeLessThanOrEqual(14);
    expect(clicksOf(clean, settings, RATE)).toEqual([]);
    const mended = withoutClicks(worn, found);
    const error = (x: Float32Array) =>
      10 * Math.log10(x.reduce((sum, v, i) => sum + (v - (clean[i] as number)) ** 2, 0));
    expect(error(worn) - error(mended)).toBeGreaterThan(20);
  });
});

describe('room', () => {
  const settings = { kind: 'room' as const, decayS: 0.6, sizeM: 6, distanceM: 1, tone: 1, width: 1 };
  test.each([
    ['room', 0.3],
    ['room', 1.2],
    ['plate', 0.6],
    ['plate', 2.5],
  ] as const)(
    '%s: the decay of %d s is met within 5 % (ISO 3382-1: T30 of the energy that is left)',
    (kind, decayS) => {
      for (const h of roomResponse({ ...settings, kind, decayS }, RATE)) {
        const left = new Float64Array(h.length);
        for (let i = h.length - 1, sum = 0; i >= 0; i--) left[i] = sum += (h[i] as number) ** 2;
        const at = (db: number) => left.findIndex((x) => 10 * Math.log10(x / (left[0] as number)) < db) / RATE;
        expect(Math.abs((2 * (at(-35) - at(-5))) / decayS - 1)).toBeLessThan(0.05);
      }
    },
  );

  test('mono in is stereo out, its dry sound untouched in time, its tail added to the length', () => {
    const audio = audioOf(drum());
    const { channels } = processed('room', audio, { ...settings, mix: 0.3 });
    expect(channels).toHaveLength(2);
    expect(channels[0]?.length).toBeGreaterThan(24_000 + 0.5 * RATE);
    const [left, right] = channels as [Float32Array, Float32Array];
    expect(differenceDb(left, right, 24_000)).toBeGreaterThan(-3);
  });
});

describe('length and level', () => {
  test('shortened by fading: exact, and its last frame is silent; by a level: where it has fallen so far', () => {
    const audio = audioOf(drum(RATE));
    const short = processed('length', audio, { timeMs: 100 }).channels[0] as Float32Array;
    expect([short.length, Math.abs(short.at(-1) as number)]).toEqual([4800, 0]);
    expect(short.subarray(0, 2300)).toEqual(audio.channels[0]?.subarray(0, 2300));
    // exp(-t / 0.12) has fallen by 30 dB after 0.414 s.
    const plain = audioOf(Float32Array.from({ length: RATE }, (_, i) => Math.exp(-i / RATE / 0.12) * Math.cos(i / 20)));
    const fallen = processed('length', plain, { to: 'level', levelDb: -30 }).channels[0] as Float32Array;
    expect(Math.abs(fallen.length / RATE - 0.414)).toBeLessThan(0.03);
    const long = processed('length', audio, { timeMs: 2000, by: 'stretch' }).channels[0] as Float32Array;
    expect(long).toHaveLength(2 * RATE);
    expect(long.subarray(0, 480)).toEqual(audio.channels[0]?.subarray(0, 480));
  });

  test('levelled to each measure it has that measure; noise is not lifted over the guard', () => {
    const room = noise(2 * RATE, 4);
    const audio = audioOf(drum(2 * RATE).map((x, i) => 0.05 * x + 1e-4 * (room[i] as number)));
    // A tail that still falls is no noise.
    expect(measured(audioOf(drum(RATE / 2))).noiseDbfs).toBe(Number.NEGATIVE_INFINITY);
    const m = (to: string, more = {}) => measured(processed('level', audio, { to, ...more }));
    expect(toDb(m('true-peak', { truePeakDbtp: -3 }).truePeak)).toBeCloseTo(-3, 4);
    expect(toDb(m('rms', { rmsDbfs: -20 }).rms)).toBeCloseTo(-20, 4);
    expect(m('loudness', { loudnessLufs: -30 }).momentaryLufs).toBeCloseTo(-30, 3);
    expect(m('peak', { peakDbfs: 0, noiseDbfs: -80 }).noiseDbfs).toBeCloseTo(-80, 3);
  });
});
