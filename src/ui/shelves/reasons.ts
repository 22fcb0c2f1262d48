import type { Impurity } from '@/core/describe/isolation';
import { decibels } from '../parts/figures';
import type { TailOf } from './use-heard';

/** A reason against full isolation in words and dB relative to the slice's own sound; `+` where there is more of it. */
export function reasonOf(reason: Impurity, tail: TailOf | null): string {
  return `${whatOf(reason, tail)}: ${reason.db > 0 ? '+' : ''}${decibels(reason.db)}`;
}

/** Says whether a slice rings out, or its level where it is cut off. */
export function wholeness(cutShortDb: number | null): string {
  return cutShortDb === null ? 'rings out' : `cut short at ${decibels(cutShortDb)}`;
}

function whatOf(reason: Impurity, tail: TailOf | null): string {
  switch (reason.kind) {
    case 'tail before':
      return tail ? `Tail, likely of the ${tail.family}, slice ${tail.number}` : 'What rang on from before';
    case 'another onset':
      return `Another onset ${Math.round(reason.seconds * 1000)} ms in`;
    case 'foreign to its group':
      return `Sound around ${hertz(reason.hz)} that others of its shelf do not have`;
  }
}

/** Two digits are as exact as a band is. */
function hertz(hz: number): string {
  const rounded = Number(hz.toPrecision(2));
  return rounded < 1000 ? `${rounded} Hz` : `${rounded / 1000} kHz`;
}
