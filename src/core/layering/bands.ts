/** Middles of third octaves in hertz, 25 Hz to 16 kHz (IEC 61260-1, base ten). */
export const THIRD_OCTAVES_HZ = Float64Array.from({ length: 29 }, (_, n) => 1000 * 10 ** ((n - 16) / 10));

/** A band of a sum that has lost this much against its layers' powers is named. */
export const LOST_DB = -3;
