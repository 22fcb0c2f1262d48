import type { Audio } from '../signal/audio';

interface Biquad {
  readonly b: readonly [number, number, number];
  readonly a: readonly [number, number];
}

/**
 * The two stages of K-weighting at any sample rate: the analogue filters behind the 48 kHz coefficients of ITU-R
 * BS.1770-4, annex 1, tables 1 and 2, transformed anew (bilinear, prewarped at each stage's own frequency).
 */
function kWeighting(sampleRate: number): [Biquad, Biquad] {
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

/** A biquad over a whole channel, direct form I, double precision inside. */
function filtered(samples: Float32Array | Float64Array, { b, a }: Biquad): Float64Array {
  const out = new Float64Array(samples.length);
  const [b0, b1, b2] = b;
  const [a1, a2] = a;
  let x1 = 0;
  let x2 = 0;
  let y1 = 0;
  let y2 = 0;
  for (let i = 0; i < samples.length; i++) {
    const x = samples[i] as number;
    const y = b0 * x + b1 * x1 + b2 * x2 - a1 * y1 - a2 * y2;
    x2 = x1;
    x1 = x;
    y2 = y1;
    y1 = y;
    out[i] = y;
  }
  return out;
}

const WINDOW_S = 0.4;
const STEP_S = 0.01;

/**
 * Maximum momentary loudness of a sound in LUFS: the loudest 400 ms (ITU-R BS.1770-4; EBU Tech 3341), the sound taken to
 * stand in silence, so that a short hit counts as short. -Infinity for nothing. Channels from the third on count as
 * BS.1770 weighs surrounds (1.41) where there are five or more; the fourth of six is low frequency and left out.
 */
export function momentaryLufs(audio: Audio): number {
  const { sampleRate, channels } = audio;
  const [shelf, highPass] = kWeighting(sampleRate);
  const window = Math.round(WINDOW_S * sampleRate);
  const frames = (channels[0] as Float32Array | undefined)?.length ?? 0;
  const power = new Float64Array(frames);
  for (const [c, channel] of channels.entries()) {
    const weight = channels.length >= 6 && c === 3 ? 0 : channels.length >= 5 && c >= 3 ? 1.41 : 1;
    const weighted = filtered(filtered(channel, shelf), highPass);
    for (let i = 0; i < frames; i++) power[i] = (power[i] as number) + weight * (weighted[i] as number) ** 2;
  }
  let loudest = 0;
  let sum = 0;
  const step = Math.max(1, Math.round(STEP_S * sampleRate));
  for (let end = 0; end < frames + step; end++) {
    if (end < frames) sum += power[end] as number;
    if (end >= window) sum -= power[end - window] as number;
    if (end % step === 0 && sum > loudest) loudest = sum;
    if (end >= frames) break;
  }
  if (sum > loudest) loudest = sum;
  return -0.691 + 10 * Math.log10(loudest / window);
}
