import { type Biquad, filtered } from './biquad';
import { allPass, pass } from './cookbook';

/** The quality factor of a second-order Butterworth filter. */
const BUTTERWORTH_Q = Math.SQRT1_2;

/**
 * The filters of the bands between edges in rising order, one more than edges: Linkwitz-Riley of fourth order (S. Linkwitz,
 * "Active crossover networks for noncoincident drivers", J. Audio Eng. Soc. 24, 1976: two Butterworth filters in a row), with
 * all-passes for the edges that a band does not touch, so that the bands add up to an all-pass: flat at every frequency.
 */
export function bandFilters(edgesHz: readonly number[], sampleRate: number): Biquad[][] {
  const twice = (section: Biquad) => [section, section];
  return Array.from({ length: edgesHz.length + 1 }, (_, band) =>
    edgesHz.flatMap((hz, edge) => {
      if (edge < band) return twice(pass(-1, hz, BUTTERWORTH_Q, sampleRate));
      if (edge === band) return twice(pass(1, hz, BUTTERWORTH_Q, sampleRate));
      return [allPass(hz, BUTTERWORTH_Q, sampleRate)];
    }),
  );
}

/** A channel with each of its bands at a gain, linear. */
export function withBandGains(
  channel: Float32Array,
  edgesHz: readonly number[],
  gains: readonly number[],
  sampleRate: number,
): Float32Array {
  const out = new Float32Array(channel.length);
  for (const [band, filters] of bandFilters(edgesHz, sampleRate).entries()) {
    const gain = gains[band] ?? 1;
    if (gain === 0) continue;
    const part = filtered(channel, filters);
    for (let i = 0; i < out.length; i++) out[i] = (out[i] as number) + gain * (part[i] as number);
  }
  return out;
}
