import { threadKernel } from '../kernel/kernel';

/** Steps computed at once: about ten seconds. */
const PIECE_STEPS = 5000;

/** Levels of a signal in short steps: mean square of each `step` frames. */
export interface EnergySteps {
  readonly step: number;
  readonly power: Float32Array;
}

export function energySteps(samples: Float32Array, sampleRate: number): EnergySteps {
  const step = Math.max(1, Math.round(0.002 * sampleRate));
  const power = new Float32Array(Math.ceil(samples.length / step));
  const kernel = threadKernel();
  for (let at = 0; at < samples.length; at += PIECE_STEPS * step) {
    const piece = samples.subarray(at, at + PIECE_STEPS * step);
    const steps = Math.ceil(piece.length / step);
    kernel.within(() => {
      const from = kernel.lay(piece);
      const out = kernel.run.reserve(4 * steps);
      kernel.run.stepPowers(from, piece.length, step, out);
      power.set(kernel.floats(out, steps), at / step);
    });
  }
  return { step, power };
}

/** The largest absolute sample, 0 for none. */
export function loudestOf(samples: Float32Array): number {
  const kernel = threadKernel();
  return kernel.within(() => kernel.run.highest(kernel.lay(samples), samples.length));
}
