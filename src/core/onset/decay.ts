import { select } from '../signal/select';
import type { EnergySteps } from './energy';

/**
 * Power of the room tone: the 5th percentile of the steps that are not digital silence; 0 where there are none.
 * (Minimum statistics in the sense of R. Martin, "Noise power spectral density estimation", IEEE TSAP 9, 2001.)
 */
export function roomTone({ power }: EnergySteps): number {
  const sounding = new Float32Array(power.length);
  let count = 0;
  for (let n = 0; n < power.length; n++) if ((power[n] as number) > 1e-12) sounding[count++] = power[n] as number;
  return count === 0 ? 0 : select(sounding.subarray(0, count), Math.floor(count * 0.05));
}

/** 60 dB under the peak, as a ratio of powers. */
const FALLEN = 1e-6;
const HOLD_STEPS = 15; // 30 ms: longer than half a period of 20 Hz, so that a low drum's own swing is no silence
/** Steps that are looked at as one where nothing in them can matter; so few that a silence always holds a whole block. */
const BLOCK = 8;

/**
 * Where the sound that starts at `start` has died away, in frames: the first step after its peak from which 30 ms stay
 * 60 dB under its peak, or no more than 3 dB over the room tone. Never past `limit`.
 */
export function decayEnd(energy: EnergySteps, start: number, limit: number, room: number): number {
  return tailFollower(energy, room)(start, limit);
}

/** `decayEnd` for many sounds of one recording. */
export function tailFollower({ step, power }: EnergySteps, room: number): (start: number, limit: number) => number {
  const blocks = blockPeaks(power);
  return (start, limit) => {
    const first = Math.floor(start / step);
    const last = Math.min(power.length, Math.ceil(limit / step));
    let peakPower = 0;
    let floor = 1e-12;
    let quiet = 0;
    for (let n = first; n < last; n++) {
      // No silence ends in a block that is neither quiet nor begun in silence, nor begins in one before another such.
      if (n % BLOCK === 0 && quiet < BLOCK) {
        let block = n / BLOCK;
        while (isBetween(blocks[block], floor, peakPower) && (blocks[block + 1] as number) > floor) block++;
        if (block * BLOCK > n) {
          quiet = 0;
          n = block * BLOCK;
          if (n >= last) break;
        }
      }
      const p = power[n] as number;
      if (p > peakPower) {
        peakPower = p;
        floor = Math.max(p * FALLEN, Math.min(room * 2, p * 0.01), 1e-12);
      }
      if (p > floor) {
        quiet = 0;
        continue;
      }
      quiet++;
      if (quiet >= HOLD_STEPS && peakPower > 0 && n - HOLD_STEPS > first)
        return Math.min(limit, (n - HOLD_STEPS + 2) * step);
    }
    return limit;
  };
}

function isBetween(value: number | undefined, floor: number, most: number): boolean {
  return value !== undefined && value > floor && value <= most;
}

/** The highest of each `BLOCK` steps. */
function blockPeaks(power: Float32Array): Float32Array {
  const blocks = new Float32Array(Math.ceil(power.length / BLOCK));
  for (let n = 0; n < power.length; n++) {
    const block = (n / BLOCK) | 0;
    if ((power[n] as number) > (blocks[block] as number)) blocks[block] = power[n] as number;
  }
  return blocks;
}
