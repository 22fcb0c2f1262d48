import { highPassed } from '../filter/dc-blocker';
import { oversampled } from '../resampling/oversampling';
import { fromDb } from '../signal/units';

/** What a curve does to a wave: rounds its peaks, cuts them, bends one side more, or folds them back. */
export type Character = 'round' | 'cut' | 'lean' | 'fold';

interface Curve {
  /** Samples through the curve after a gain, in place: each curve has a loop of its own, which is compiled for it alone. */
  readonly bend: (x: Float64Array, gain: number) => void;
  readonly value: (x: number) => number;
  /** An antiderivative of it, up to a constant. */
  readonly integral: (x: number) => number;
}

/** How far from the middle the lopsided curve works. */
const LEAN = 0.5;
const TANH_LEAN = Math.tanh(LEAN);
/** By one exponential: several times as fast as `Math.tanh`, and within a rounding of it. */
const tanh = (x: number) => 1 - 2 / (Math.exp(2 * x) + 1);
const logCosh = (x: number) => Math.abs(x) + Math.log1p(Math.exp(-2 * Math.abs(x))) - Math.LN2;

const CURVES: Readonly<Record<Character, Curve>> = {
  round: {
    value: tanh,
    integral: logCosh,
    bend: (x, gain) => {
      for (let i = 0; i < x.length; i++) x[i] = 1 - 2 / (Math.exp(2 * gain * (x[i] as number)) + 1);
    },
  },
  cut: {
    value: (x) => Math.max(-1, Math.min(1, x)),
    integral: (x) => (Math.abs(x) <= 1 ? (x * x) / 2 : Math.abs(x) - 0.5),
    bend: (x, gain) => {
      for (let i = 0; i < x.length; i++) x[i] = Math.max(-1, Math.min(1, gain * (x[i] as number)));
    },
  },
  lean: {
    value: (x) => tanh(x + LEAN) - TANH_LEAN,
    integral: (x) => logCosh(x + LEAN) - x * TANH_LEAN,
    bend: (x, gain) => {
      for (let i = 0; i < x.length; i++) {
        x[i] = 1 - TANH_LEAN - 2 / (Math.exp(2 * (gain * (x[i] as number) + LEAN)) + 1);
      }
    },
  },
  fold: {
    value: Math.sin,
    integral: (x) => -Math.cos(x),
    bend: (x, gain) => {
      for (let i = 0; i < x.length; i++) x[i] = Math.sin(gain * (x[i] as number));
    },
  },
};

/** Up to this gain smooth curves make so few overtones that the curve itself is read, sample by sample. */
const GENTLE = 4;

/**
 * Doublings of the rate: overtones beyond it fold back, so a curve and gain that make more of them need more room. Set by
 * measuring the aliases of a sine of 5 kHz at 44.1 kHz; under -80 dB at every drive.
 */
function stagesFor(character: Character, gain: number): number {
  if (character === 'cut') return 4;
  if (character === 'fold') return gain <= GENTLE ? 2 : gain <= 40 ? 3 : 4;
  return gain <= GENTLE ? 2 : gain <= 20 ? 3 : 4;
}

/** Two samples nearer than this are taken as one: their difference quotient would be rounding. */
const SAME = 1e-5;

/**
 * A channel through a curve after a gain, free of aliases: oversampled, and each sample the mean of the curve since the
 * last one, which is the difference of its antiderivative over that of the input (J. Parker, V. Zavalishin, E. Le Bivic,
 * "Reducing the aliasing of nonlinear waveshaping using continuous-time convolution", DAFx 2016). The half sample that
 * this delays is taken back by averaging towards the next one as well.
 */
export function saturated(
  channel: Float32Array,
  character: Character,
  driveDb: number,
  sampleRate: number,
): Float32Array {
  const gain = fromDb(driveDb);
  const { value, integral, bend } = CURVES[character];
  const isGentle = character !== 'cut' && gain <= GENTLE;
  const out = oversampled(channel, stagesFor(character, gain), (x) => {
    if (isGentle) {
      bend(x, gain);
      return;
    }
    let last = 0;
    let lastIntegral = integral(0);
    let lastMean = 0;
    for (let i = 0; i < x.length; i++) {
      const now = gain * (x[i] as number);
      const whole = integral(now);
      const step = now - last;
      const mean = Math.abs(step) < SAME ? value((now + last) / 2) : (whole - lastIntegral) / step;
      // The mean over the interval before this sample and the one after it, whose middle is the sample itself.
      if (i > 0) x[i - 1] = (lastMean + mean) / 2;
      last = now;
      lastIntegral = whole;
      lastMean = mean;
    }
    if (x.length > 0) x[x.length - 1] = lastMean;
    sharpen(x);
  });
  return character === 'lean' ? highPassed(out, sampleRate) : out;
}

/** Undoes the averaging at audible frequencies: for a straight curve it is (1 + cos w) / 2, about 1 - w^2 / 4. */
function sharpen(x: Float64Array): void {
  let before = x[0] as number;
  for (let i = 1; i + 1 < x.length; i++) {
    const here = x[i] as number;
    x[i] = here - ((x[i + 1] as number) - 2 * here + before) / 4;
    before = here;
  }
}
