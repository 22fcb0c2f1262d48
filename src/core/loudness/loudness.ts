import type { Biquad } from '../filter/biquad';
import { threadKernel } from '../kernel/kernel';
import type { Audio } from '../signal/audio';

/**
 * The two stages of K-weighting at any sample rate: the analogue filters behind the 48 kHz coefficients of ITU-R
 * BS.1770-4, annex 1, tables 1 and 2, transformed again (bilinear, prewarped at each stage's own frequency).
 */
export function kWeighting(sampleRate: number): [Biquad, Biquad] {
  const shelf = (): Biquad => {
    const k = Math.tan((Math.PI * 1681.974450955533) / sampleRate);
    const q = 0.7071752369554196;
    const high = 10 ** (3.999843853973347 / 20);
    const band = high ** 0.4996667741545416;
    const a0 = 1 + k / q + k * k;
    return {
      b: [(high + (band * k) / q + k * k) / a0, (2 * (k * k - high)) / a0, (high - (band * k) / q + k * k) / a0],
      a: [(2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0],
    };
  };
  const highPass = (): Biquad => {
    const k = Math.tan((Math.PI * 38.13547087602444) / sampleRate);
    const q = 0.5003270373238773;
    const a0 = 1 + k / q + k * k;
    return { b: [1, -2, 1], a: [(2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0] };
  };
  return [shelf(), highPass()];
}

export const WINDOW_S = 0.4;
/** The window moves by a fortieth of its length, 10 ms. */
export const STEPS = 40;

/**
 * Maximum momentary loudness of a sound in LUFS: the loudest 400 ms (ITU-R BS.1770-4; EBU Tech 3341), with silence
 * around it, so that short hits count as short. -Infinity for silence. With five or more channels, those from the third
 * on are weighted as surrounds (1.41); the fourth of six is low frequency and left out.
 */
export function momentaryLufs(audio: Audio): number {
  const { sampleRate, channels } = audio;
  const window = WINDOW_S * sampleRate;
  const step = window / STEPS;
  const frames = (channels[0] as Float32Array | undefined)?.length ?? 0;
  const kernel = threadKernel();
  const energies = kernel.within(() => {
    const coefficients = kernel.lay(Float64Array.from(kWeighting(sampleRate).flatMap(({ b, a }) => [...b, ...a])));
    const out = kernel.lay(new Float64Array(Math.ceil(frames / step) + 1));
    let count = 0;
    for (const [c, channel] of channels.entries()) {
      const weight = channels.length >= 6 && c === 3 ? 0 : channels.length >= 5 && c >= 3 ? 1.41 : 1;
      count = kernel.within(() =>
        kernel.run.filteredEnergies(kernel.lay(channel), frames, coefficients, step, weight, out),
      );
    }
    return kernel.doubles(out, count).slice();
  });
  let loudest = 0;
  let sum = 0;
  for (const [n, energy] of energies.entries()) {
    sum += energy - (energies[n - STEPS] ?? 0);
    loudest = Math.max(loudest, sum);
  }
  return -0.691 + 10 * Math.log10(loudest / window);
}
