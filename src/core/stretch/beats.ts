/** A loop so near to whole beats, as a share of a beat, has them: what is off is a cut that is not exact. */
const NEAR_BEAT = 0.12;

/** Seconds that a loop of so many seconds lasts at another tempo; of whole beats, where it has them. */
export function fittedSeconds(seconds: number, fromBpm: number, toBpm: number): number {
  const beats = (seconds * fromBpm) / 60;
  const whole = Math.round(beats);
  return ((whole > 0 && Math.abs(beats - whole) < NEAR_BEAT ? whole : beats) * 60) / toBpm;
}
