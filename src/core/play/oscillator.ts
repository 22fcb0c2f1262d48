import { chanceOf } from './chance';

/** Forms of an oscillator, in the order of the engine's indices. */
export const FORM_NAMES = ['sine', 'triangle', 'rising', 'falling', 'square', 'steps', 'wander'] as const;

const [SINE, TRIANGLE, RISING, FALLING, SQUARE, STEPS] = [0, 1, 2, 3, 4, 5] as const;

const phases = new Float64Array(1);
const values = new Float64Array(1);

/** An oscillator's value, -1 to 1, at a phase in periods; the irregular forms follow the seed. */
export function oscillatorAt(form: number, phase: number, seed: number): number {
  phases[0] = phase;
  readOscillator(form, phases, 0, seed, values, 0);
  return values[0] as number;
}

/** The same at phase `n` of several, into a place: numbers that are passed on would be allocated. */
export function readOscillator(
  form: number,
  of: Float64Array,
  n: number,
  seed: number,
  into: Float64Array,
  at: number,
): void {
  const phase = of[n] as number;
  const whole = Math.floor(phase);
  const x = phase - whole;
  switch (form) {
    case SINE:
      into[at] = Math.sin(2 * Math.PI * x);
      break;
    case TRIANGLE:
      into[at] = x < 0.25 ? 4 * x : x < 0.75 ? 2 - 4 * x : 4 * x - 4;
      break;
    case RISING:
      into[at] = 2 * x - 1;
      break;
    case FALLING:
      into[at] = 1 - 2 * x;
      break;
    case SQUARE:
      into[at] = x < 0.5 ? 1 : -1;
      break;
    case STEPS:
      into[at] = 2 * chanceOf(seed, whole) - 1;
      break;
    default: {
      // From one random value to the next, level at both.
      const from = 2 * chanceOf(seed, whole) - 1;
      const to = 2 * chanceOf(seed, whole + 1) - 1;
      into[at] = from + (to - from) * x * x * (3 - 2 * x);
    }
  }
}
