import { number } from '../parameter/parameter';

/** How much of what a processor makes is heard in place of what comes in, 0 to 1. */
export function mix(initial: number, step: number) {
  return number({ label: 'Mix', unit: '%', low: 0, high: 1, step, digits: 0, neutral: 0, initial, times: 100 });
}
