import { select } from '../signal/select';
import type { EnergySteps } from './energy';

/**
 * Steps over which powers are averaged: about 30 ms, more than half a period of 20 Hz, so that oscillation of drums and
 * mains hum is smoothed.
 */
const SMOOTH_STEPS = 15;
/** The share of the quietest steps that is certainly room tone, and how far the rest reaches above them, as powers. */
const SURE_SHARE = 0.05;
const ROOM_REACH = 2;
const SILENCE = 1e-12;

/** Powers averaged over about 30 ms, centred, which smooths noise and low tones. */
export function smoothed({ step, power }: EnergySteps): EnergySteps {
  const sums = runningSums(power);
  const half = SMOOTH_STEPS >> 1;
  const even = new Float32Array(power.length);
  for (let n = 0; n < power.length; n++) {
    const from = Math.max(0, n - half);
    const to = Math.min(power.length, n + half + 1);
    even[n] = Math.max(0, ((sums[to] as number) - (sums[from] as number)) / (to - from));
  }
  return { step, power: even };
}

function runningSums(power: Float32Array): Float64Array {
  const sums = new Float64Array(power.length + 1);
  for (let n = 0; n < power.length; n++) sums[n + 1] = (sums[n] as number) + (power[n] as number);
  return sums;
}

/**
 * Power of the room tone: the mean of all smoothed steps within 3 dB of the 5th percentile of those that are not
 * digital silence; 0 where there are none. The percentile alone underestimates uneven noise. (Minimum statistics with
 * bias correction, after R. Martin, "Noise power spectral density estimation", IEEE TSAP 9, 2001.)
 */
export function roomTone(energy: EnergySteps): number {
  return roomOf(smoothed(energy));
}

/** `roomTone` of powers that are already smoothed. */
function roomOf({ power }: EnergySteps): number {
  const sounding = power.filter((p) => p > SILENCE);
  if (sounding.length === 0) return 0;
  const quiet = select(sounding.slice(), Math.floor(sounding.length * SURE_SHARE));
  let sum = 0;
  let count = 0;
  for (const p of sounding) {
    if (p > ROOM_REACH * quiet) continue;
    sum += p;
    count++;
  }
  return sum / count;
}

/** 60 dB under the peak, as a power ratio. */
const FALLEN = 1e-6;
/** A step this many times over the target level has not reached it, whatever follows. */
const MOST_OVER = 4;
/** A stretch of room tone may exceed its mean power by this factor: noise fluctuates. */
const ROOM_SWING = 1.7;
/** What follows is averaged over a fifth of the time since the start, but at least 60 and at most 200 ms, in steps. */
const SHARE = 0.2;
const LEAST_STEPS = 30;
const MOST_STEPS = 100;

/** Finds where sounds of one recording have died away. */
export interface Tails {
  /** Power of the room tone. */
  readonly room: number;
  /**
   * The frame where the sound that starts at `start` has died away: after its peak, the first step from which the mean
   * power of what follows is 60 dB under its peak, or that of the room tone, where the decay crosses the noise (A.
   * Lundeby et al., "Uncertainties of measurements in room acoustics", Acustica 81, 1995). Never past `limit`.
   */
  readonly endOf: (start: number, limit: number) => number;
}

export function tailsOf(energy: EnergySteps): Tails {
  const { step } = energy;
  const sums = runningSums(energy.power);
  const even = smoothed(energy);
  const room = roomOf(even);
  const count = energy.power.length;
  const endOf = (start: number, limit: number) => {
    const first = Math.floor(start / step);
    const last = Math.min(count, Math.ceil(limit / step));
    let peak = 0;
    for (let n = first; n < last; n++) {
      const p = even.power[n] as number;
      if (p > peak) peak = p;
      const fallen = Math.max(SILENCE, peak * FALLEN);
      const quiet = Math.max(fallen, room * ROOM_SWING);
      if (p > MOST_OVER * quiet) continue;
      const width = Math.round(Math.max(LEAST_STEPS, Math.min(MOST_STEPS, SHARE * (n - first))));
      const to = Math.min(count, n + width);
      const after = ((sums[to] as number) - (sums[n] as number)) / (to - n);
      // In digital silence there is no room tone to reach: the sound itself must have fallen.
      if (after <= room * ROOM_SWING || (after <= fallen && p <= fallen))
        return Math.min(limit, Math.max(n, first + 1) * step);
    }
    return limit;
  };
  return { room, endOf };
}
