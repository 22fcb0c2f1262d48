import { seededRandom } from '../signal/random';
import { toDb } from '../signal/units';
import { oversampled, truePeakOf } from './oversampling';
import { atRate, resampled } from './sinc';

const sine = (hz: number, rate: number, frames: number, phase = 0) =>
  Float32Array.from({ length: frames }, (_, i) => Math.sin((2 * Math.PI * hz * i) / rate + phase));

/** Level in dB of what is left of `x` once its best-fitting sine of `hz` is taken away, against that sine. */
function residualDb(x: Float32Array, hz: number, rate: number): { gainDb: number; restDb: number } {
  const [from, to] = [Math.floor(x.length / 4), Math.floor((3 * x.length) / 4)];
  // A Hann window, so that the fit does not depend on whole periods.
  const sums = [0, 0, 0, 0, 0];
  for (let i = from; i < to; i++) {
    const [c, s] = [Math.cos((2 * Math.PI * hz * i) / rate), Math.sin((2 * Math.PI * hz * i) / rate)];
    for (const [k, v] of [c * c, c * s, s * s, (x[i] as number) * c, (x[i] as number) * s].entries())
      sums[k] = (sums[k] as number) + v;
  }
  const [cc, cs, ss, xc, xs] = sums as [number, number, number, number, number];
  const det = cc * ss - cs * cs;
  const [a, b] = [(xc * ss - xs * cs) / det, (xs * cc - xc * cs) / det];
  let rest = 0;
  for (let i = from; i < to; i++) {
    const fit = a * Math.cos((2 * Math.PI * hz * i) / rate) + b * Math.sin((2 * Math.PI * hz * i) / rate);
    rest += ((x[i] as number) - fit) ** 2;
  }
  const power = (a * a + b * b) / 2;
  return { gainDb: 10 * Math.log10(2 * power), restDb: 10 * Math.log10(rest / (to - from) / power + 1e-30) };
}

describe('resampling, against the exact sine', () => {
  const cases = [-24, -7, -1, 1, 5, 12, 24].flatMap((st) =>
    [100, 997, 5000, 12_000, 20_000].map((hz) => [st, hz] as const),
  );
  test.each(cases.filter(([st, hz]) => hz * 2 ** (st / 12) <= 20_000))(
    '%i semitones, %i Hz at 48 kHz: level within 0.01 dB, images and aliases under -110 dB',
    (st, hz) => {
      const ratio = 2 ** (st / 12);
      const { channels } = resampled({ sampleRate: 48_000, channels: [sine(hz, 48_000, 12_000)] }, ratio);
      const { gainDb, restDb } = residualDb(channels[0] as Float32Array, hz * ratio, 48_000);
      expect(Math.abs(gainDb)).toBeLessThan(0.01);
      expect(restDb).toBeLessThan(-110);
    },
  );

  test.each([21_000, 23_000].map((hz) => [hz]))('%i Hz an octave up is beyond the rate, and is gone', (hz) => {
    const { channels } = resampled({ sampleRate: 48_000, channels: [sine(hz, 48_000, 12_000)] }, 2);
    const middle = (channels[0] as Float32Array).subarray(1500, 4500);
    expect(toDb(Math.max(...middle.map(Math.abs)))).toBeLessThan(-110);
  });

  test('another rate sounds the same: 997 Hz from 44.1 to 96 kHz', () => {
    const { sampleRate, channels } = atRate({ sampleRate: 44_100, channels: [sine(997, 44_100, 11_025)] }, 96_000);
    expect([sampleRate, channels[0]?.length]).toEqual([96_000, 24_000]);
    const { gainDb, restDb } = residualDb(channels[0] as Float32Array, 997, 96_000);
    expect(Math.abs(gainDb)).toBeLessThan(0.01);
    expect(restDb).toBeLessThan(-110);
  });
});

describe('oversampling', () => {
  test.each([1, 2, 4])('%i stages with nothing done give the sound back within 1e-6', (stages) => {
    const random = seededRandom(5);
    // Noise under 20 kHz: noise of all frequencies holds what lies in the transition.
    const noise = Float32Array.from({ length: 3000 }, () => random() - 0.5);
    const low = resampled(resampled({ sampleRate: 44_100, channels: [noise] }, 1.25), 0.8).channels[0] as Float32Array;
    const faded = low.map((x, i) => x * Math.sin((Math.PI * i) / low.length) ** 2);
    const back = oversampled(faded, stages, () => {});
    expect(Math.max(...back.map((x, i) => Math.abs(x - (faded[i] as number))))).toBeLessThan(1e-6);
  });

  test.each([
    [44_100, 0.25],
    [44_100, 0.15],
    [48_000, 0.25],
  ])('the true peak of a sine at %i Hz whose samples miss it, at %f of the rate', (rate, share) => {
    const x = sine(share * rate, rate, 4096, Math.PI / 4).map((v, i) => v * Math.min(1, i / 1000, (4095 - i) / 1000));
    expect(Math.abs(toDb(truePeakOf([x])))).toBeLessThan(0.06);
  });
});
