/** Lengths of a period in quarter notes, as they are written. */
export const PERIODS: readonly (readonly [quarters: number, label: string])[] = [
  [16, '4 bars'],
  [8, '2 bars'],
  [4, '1/1'],
  [3, '1/2 .'],
  [2, '1/2'],
  [1.5, '1/4 .'],
  [1, '1/4'],
  [2 / 3, '1/4 t'],
  [0.5, '1/8'],
  [1 / 3, '1/8 t'],
  [0.25, '1/16'],
  [1 / 6, '1/16 t'],
  [0.125, '1/32'],
];

/** Seconds of a note value at a tempo; null for what is none. */
export function periodSeconds(label: string, tempoBpm: number): number | null {
  const quarters = PERIODS.find(([, name]) => name === label)?.[0];
  return quarters === undefined ? null : (quarters * 60) / tempoBpm;
}
