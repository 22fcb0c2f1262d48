import type { EnergySteps } from './energy';

/**
 * Power of the room tone: the 5th percentile of the steps that are not digital silence; 0 where there are none.
 * (Minimum statistics in the sense of R. Martin, "Noise power spectral density estimation", IEEE TSAP 9, 2001.)
 */
export function roomTone(energy: EnergySteps): number {
  const sounding = energy.power.filter((p) => p > 1e-12).sort();
  return sounding.length === 0 ? 0 : (sounding[Math.floor(sounding.length * 0.05)] as number);
}

/** 60 dB under the peak, as a ratio of powers. */
const FALLEN = 1e-6;
const HOLD_STEPS = 15; // 30 ms: longer than half a period of 20 Hz, so that a low drum's own swing is no silence

/**
 * Where the sound that starts at `start` has died away, in frames: the first step after its peak from which 30 ms stay
 * 60 dB under its peak, or no more than 3 dB over the room tone. Never past `limit`.
 */
export function decayEnd(energy: EnergySteps, start: number, limit: number, room: number): number {
  const { step, power } = energy;
  const first = Math.floor(start / step);
  const last = Math.min(power.length, Math.ceil(limit / step));
  let peakPower = 0;
  let floor = 1e-12;
  let quiet = 0;
  for (let n = first; n < last; n++) {
    const p = power[n] as number;
    if (p > peakPower) {
      peakPower = p;
      floor = Math.max(p * FALLEN, Math.min(room * 2, p * 0.01), 1e-12);
    }
    if (p <= floor) {
      quiet++;
      if (quiet >= HOLD_STEPS && peakPower > 0 && n - HOLD_STEPS > first)
        return Math.min(limit, (n - HOLD_STEPS + 2) * step);
    } else quiet = 0;
  }
  return limit;
}
