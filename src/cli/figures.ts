/** A figure to three decimals for JSON; null where it is not finite, as the level of silence. */
export function rounded(value: number): number | null {
  return Number.isFinite(value) ? Math.round(value * 1000) / 1000 : null;
}
