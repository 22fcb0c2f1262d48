import { type Groove, type Meter, TICKS_PER_QUARTER } from './model';

type Metered = Pick<Groove, 'bars' | 'meters'>;

/** Ticks of a bar. */
export function barTicks({ beats, beatUnit }: Pick<Meter, 'beats' | 'beatUnit'>): number {
  return (beats * 4 * TICKS_PER_QUARTER) / beatUnit;
}

/** The signature of a bar, from 0. */
export function meterAt({ meters }: Pick<Groove, 'meters'>, bar: number): Meter {
  return meters.findLast((meter) => meter.bar <= bar) ?? (meters[0] as Meter);
}

/** The tick at which each bar begins, and that at which the last one ends: one more than there are bars. */
export function barStarts(groove: Metered): number[] {
  const starts = [0];
  for (let bar = 0; bar < groove.bars; bar++) starts.push((starts[bar] as number) + barTicks(meterAt(groove, bar)));
  return starts;
}

/** Ticks of the whole groove. */
export function grooveTicks(groove: Metered): number {
  return barStarts(groove)[groove.bars] as number;
}

/** The bar in which a tick lies. */
export function barOf(starts: readonly number[], tick: number): number {
  let low = 0;
  let high = starts.length - 2;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((starts[middle] as number) <= tick) low = middle;
    else high = middle - 1;
  }
  return low;
}

export function secondsOf(ticks: number, bpm: number): number {
  return (ticks * 60) / (bpm * TICKS_PER_QUARTER);
}

/** Where a person says it is: "3.2.1" is the first 16th of the second beat of the third bar. */
export function placeOf(groove: Metered, tick: number): string {
  const starts = barStarts(groove);
  const bar = barOf(starts, tick);
  const { beatUnit } = meterAt(groove, bar);
  const beat = (4 * TICKS_PER_QUARTER) / beatUnit;
  const within = tick - (starts[bar] as number);
  return `${bar + 1}.${Math.floor(within / beat) + 1}.${Math.floor((within % beat) / (TICKS_PER_QUARTER / 4)) + 1}`;
}

/** Steps of the grid, in ticks, as they are written. */
export const STEPS: readonly (readonly [ticks: number, label: string])[] = [
  [3840, '1/1'],
  [1920, '1/2'],
  [1280, '1/2 t'],
  [960, '1/4'],
  [640, '1/4 t'],
  [480, '1/8'],
  [320, '1/8 t'],
  [240, '1/16'],
  [160, '1/16 t'],
  [120, '1/32'],
  [80, '1/32 t'],
  [60, '1/64'],
];

/** The steps of a bar begin anew with it. */
export function stepAt(starts: readonly number[], tick: number, step: number): number {
  const start = starts[barOf(starts, tick)] as number;
  return start + Math.floor((tick - start) / step) * step;
}

/**
 * When a tick sounds: the second of two swung steps is late, and what lies between moves along. Pairs begin anew with each
 * bar; a step without a second one in its bar stays.
 */
export function swungTick(
  tick: number,
  { swing, swingOf }: Pick<Groove, 'swing' | 'swingOf'>,
  starts: readonly number[],
): number {
  if (swing === 0.5) return tick;
  const step = (4 * TICKS_PER_QUARTER) / swingOf;
  const bar = barOf(starts, tick);
  const start = starts[bar] as number;
  const pair = start + Math.floor((tick - start) / (2 * step)) * 2 * step;
  if (pair + 2 * step > (starts[bar + 1] as number)) return tick;
  const within = (tick - pair) / (2 * step);
  const moved = within < 0.5 ? within * 2 * swing : swing + (within - 0.5) * 2 * (1 - swing);
  return pair + moved * 2 * step;
}
