import { kWeighting, STEPS, WINDOW_S } from './loudness';

/**
 * Momentary loudness of a stereo signal while it runs: the last 400 ms (ITU-R BS.1770-4, EBU Tech 3341), every 10 ms.
 * Allocates nothing after it is made.
 */
export class LoudnessMeter {
  /** Coefficients b0, b1, b2, a1, a2 of both stages. */
  private readonly coefficients: Float64Array;
  /** Delays of both stages of both channels. */
  private readonly state = new Float64Array(8);
  private readonly energies = new Float64Array(STEPS);
  private readonly step: number;
  private at = 0;
  private left = 0;
  private energy = 0;
  /** In LUFS; -Infinity for silence. */
  lufs = Number.NEGATIVE_INFINITY;

  constructor(sampleRate: number) {
    this.coefficients = Float64Array.from(kWeighting(sampleRate).flatMap(({ b, a }) => [...b, ...a]));
    this.step = Math.round((WINDOW_S * sampleRate) / STEPS);
    this.left = this.step;
  }

  /** Takes in `count` frames from index `at` on. */
  add(left: Float32Array, right: Float32Array, count: number, at = 0): void {
    for (let done = 0; done < count; ) {
      const some = Math.min(count - done, this.left);
      this.energy += this.filtered(left, at + done, some, 0) + this.filtered(right, at + done, some, 4);
      done += some;
      this.left -= some;
      if (this.left === 0) this.endStep();
    }
  }

  private endStep(): void {
    this.energies[this.at] = this.energy;
    this.at = (this.at + 1) % STEPS;
    this.energy = 0;
    this.left = this.step;
    let sum = 0;
    for (let i = 0; i < STEPS; i++) sum += this.energies[i] as number;
    this.lufs = -0.691 + 10 * Math.log10(sum / (this.step * STEPS));
  }

  /** The energy of a channel's frames through both stages (transposed direct form II). */
  private filtered(channel: Float32Array, from: number, count: number, of: number): number {
    const { coefficients: c, state } = this;
    const [b0, b1, b2, a1, a2] = [c[0] as number, c[1] as number, c[2] as number, c[3] as number, c[4] as number];
    const [d0, d1, d2, e1, e2] = [c[5] as number, c[6] as number, c[7] as number, c[8] as number, c[9] as number];
    let s0 = state[of] as number;
    let s1 = state[of + 1] as number;
    let s2 = state[of + 2] as number;
    let s3 = state[of + 3] as number;
    let energy = 0;
    for (let i = from; i < from + count; i++) {
      const x = channel[i] as number;
      const y = b0 * x + s0;
      s0 = b1 * x - a1 * y + s1;
      s1 = b2 * x - a2 * y;
      const z = d0 * y + s2;
      s2 = d1 * y - e1 * z + s3;
      s3 = d2 * y - e2 * z;
      energy += z * z;
    }
    // What has rung out does not go on in numbers too small to be quick.
    state[of] = Math.abs(s0) < 1e-30 ? 0 : s0;
    state[of + 1] = Math.abs(s1) < 1e-30 ? 0 : s1;
    state[of + 2] = Math.abs(s2) < 1e-30 ? 0 : s2;
    state[of + 3] = Math.abs(s3) < 1e-30 ? 0 : s3;
    return energy;
  }
}
