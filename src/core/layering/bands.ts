/** Middles of third octaves in hertz, 25 Hz to 16 kHz (IEC 61260-1, base ten). */
export const THIRD_OCTAVES_HZ = Float64Array.from({ length: 29 }, (_, n) => 1000 * 10 ** ((n - 16) / 10));

const NOMINAL = [25, 31.5, 40, 50, 63, 80, 100, 125, 160, 200];
/** Their nominal middles in hertz, by which they are named (IEC 61260-1, annex E). */
export const THIRD_OCTAVE_NAMES = Array.from(THIRD_OCTAVES_HZ, (_, n) => {
  const [decade, within] = [Math.floor(n / 10), n % 10];
  return (NOMINAL[within] as number) * 10 ** decade;
});

/** A band of a sum that has lost this much against its layers' powers is named. */
export const LOST_DB = -3;
