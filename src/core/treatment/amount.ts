/** A value between two by an amount of 0 to 1, rounded to a grain. */
export function between(low: number, high: number, amount: number, grain = 0.5): number {
  return Math.round((low + (high - low) * amount) / grain) * grain;
}
