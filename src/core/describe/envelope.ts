import { threadKernel } from '../kernel/kernel';

/** Figures of a sound's level over time, computed from its samples. */
export interface EnvelopeFigures {
  /** From the start to the loudest millisecond of the first 250 ms, in ms. */
  readonly attackMs: number;
  /**
   * From the loudest millisecond until the level stays 20 (40) dB under it for 30 ms, in ms; null where the sound ends
   * first.
   */
  readonly decay20Ms: number | null;
  readonly decay40Ms: number | null;
  /** Bursts in the first 60 ms that rise 3 dB above the level between them: a clap has several. */
  readonly bursts: number;
  /** Crest factor of the first 50 ms, in dB. */
  readonly crestDb: number;
  /** Zero crossings a second in the first 50 ms. */
  readonly crossings: number;
}

const ATTACK_MS = 250;
const FIRST_MS = 50;
const BURSTS_MS = 60;
const HOLD_MS = 30;

/** Figures of one channel of a single sound that begins at its first frame. */
export function envelopeOf(samples: Float32Array, sampleRate: number): EnvelopeFigures {
  const kernel = threadKernel();
  const ms = sampleRate / 1000;
  const steps = Math.max(1, Math.floor(samples.length / ms));
  const level = new Float64Array(steps);
  // J. Kaiser, "On a simple algorithm to calculate the energy of a signal", ICASSP 1990: constant for a sine of any
  // frequency, so that a drum's own oscillation does not count as bursts.
  const sudden = new Float64Array(Math.min(steps, BURSTS_MS));
  const energies = kernel.within(() => {
    const out = kernel.run.reserve(8 * steps);
    kernel.run.stepEnergies(kernel.lay(samples), samples.length, ms, steps, out);
    return kernel.doubles(out, steps).slice();
  });
  for (let n = 0; n < steps; n++) {
    const from = Math.floor(n * ms);
    const to = Math.min(samples.length, Math.floor((n + 1) * ms));
    const sum = energies[n] as number;
    level[n] = sum / Math.max(1, to - from);
    if (n >= BURSTS_MS) continue;
    let aside = 0;
    for (let i = Math.max(1, from); i < to && i + 1 < samples.length; i++)
      aside += (samples[i - 1] as number) * (samples[i + 1] as number);
    sudden[n] = Math.max(0, sum - aside) / Math.max(1, to - from);
  }
  let loudest = 0;
  for (let n = 1; n < Math.min(steps, ATTACK_MS); n++)
    if ((level[n] as number) > (level[loudest] as number)) loudest = n;
  const first = Math.min(samples.length, Math.round(FIRST_MS * ms));
  let [peak, square, crossings] = [0, 0, 0];
  for (let i = 0; i < first; i++) {
    const x = samples[i] as number;
    peak = Math.max(peak, Math.abs(x));
    square += x * x;
    if (i > 0 && x >= 0 !== (samples[i - 1] as number) >= 0) crossings++;
  }
  return {
    attackMs: loudest,
    decay20Ms: fallsBy(level, loudest, 1e-2),
    decay40Ms: fallsBy(level, loudest, 1e-4),
    bursts: burstsIn(
      sudden,
      sudden.reduce((a, b) => Math.max(a, b), 0),
    ),
    crestDb: square > 0 ? 20 * Math.log10(peak / Math.sqrt(square / first)) : 0,
    crossings: first > 0 ? (crossings * sampleRate) / first : 0,
  };
}

function fallsBy(level: Float64Array, from: number, share: number): number | null {
  const floor = (level[from] as number) * share;
  let quiet = 0;
  for (let n = from; n < level.length; n++) {
    quiet = (level[n] as number) <= floor ? quiet + 1 : 0;
    if (quiet >= HOLD_MS) return n - HOLD_MS + 1 - from;
  }
  return null;
}

/** Counts peaks over a tenth of the highest with a fall to half the power between them. */
function burstsIn(level: Float64Array, loudest: number): number {
  let bursts = 0;
  let low = 0;
  let high = 0;
  let rising = true;
  // Averaged over 3 ms, because the power of noise varies within a millisecond.
  for (let n = 1; n + 1 < level.length; n++) {
    const p = ((level[n - 1] as number) + (level[n] as number) + (level[n + 1] as number)) / 3;
    if (rising) {
      high = Math.max(high, p);
      if (high > loudest * 0.1 && p < high / 2) {
        bursts++;
        rising = false;
        low = p;
      }
    } else {
      low = Math.min(low, p);
      if (p > low * 2 && p > loudest * 0.1) {
        rising = true;
        high = p;
      }
    }
  }
  return Math.max(1, bursts + (rising && high > loudest * 0.1 ? 1 : 0));
}
