import { chanceOf } from './chance';

/** Forms of an oscillator, in the order of the engine's indices. */
export const FORM_NAMES = ['sine', 'triangle', 'rising', 'falling', 'square', 'steps', 'wander'] as const;

const [SINE, TRIANGLE, RISING, FALLING, SQUARE, STEPS] = [0, 1, 2, 3, 4, 5] as const;

/** An oscillator's value, -1 to 1, at a phase in periods; the irregular forms follow the seed. */
export function oscillatorAt(form: number, phase: number, seed: number): number {
  const whole = Math.floor(phase);
  const x = phase - whole;
  switch (form) {
    case SINE:
      return Math.sin(2 * Math.PI * x);
    case TRIANGLE:
      return x < 0.25 ? 4 * x : x < 0.75 ? 2 - 4 * x : 4 * x - 4;
    case RISING:
      return 2 * x - 1;
    case FALLING:
      return 1 - 2 * x;
    case SQUARE:
      return x < 0.5 ? 1 : -1;
    case STEPS:
      return 2 * chanceOf(seed, whole) - 1;
    default: {
      // From one random value to the next, level at both.
      const [from, to] = [2 * chanceOf(seed, whole) - 1, 2 * chanceOf(seed, whole + 1) - 1];
      return from + (to - from) * x * x * (3 - 2 * x);
    }
  }
}
