import { roomTone, tailsOf } from './decay';
import type { Candidate } from './detect';
import type { EnergySteps } from './energy';
import { selectOnsets } from './select';
import type { Region, SilenceSplit } from './split';

/** Levels of a recording for splitting at silence: one byte every 2 ms, half a decibel each. */
export interface Levels {
  /** Frames a step. */
  readonly step: number;
  readonly values: Uint8Array;
  /** Level of the room in dBFS where it was heard before the take; absent or null where it has to be told from the steps. */
  readonly roomDb?: number | null;
}

const LOWEST_DB = -127.5;

export function levelByte(db: number): number {
  return Math.max(0, Math.min(255, Math.round((db - LOWEST_DB) * 2)));
}

export function levelDb(byte: number): number {
  return byte / 2 + LOWEST_DB;
}

/** Levels in dBFS (mean square of each step, a full-scale sine at -3) packed to bytes. */
export function packLevels({ step, power }: EnergySteps): Levels {
  return { step, values: Uint8Array.from(power, (p) => levelByte(10 * Math.log10(p + 1e-13))) };
}

/** Distance of the threshold from the room tone's level, so that its fluctuations are no sound. */
const OVER_ROOM_DB = 12;
/** With digital silence between the sounds, everything over this is sound. */
const LOWEST_THRESHOLD_DB = -78;
/** The threshold never comes closer than this to the loudest step. */
const UNDER_PEAK_DB = 12;

/** A suggested threshold in dBFS, from the room tone and its fluctuations. */
export function suggestThreshold(levels: Levels): number {
  const loudest = levelDb(highest(levels.values, 0, levels.values.length));
  const roomDb = levels.roomDb ?? 10 * Math.log10(roomTone(powersOf(levels)) + 1e-13);
  const wanted = Math.max(LOWEST_THRESHOLD_DB, roomDb + OVER_ROOM_DB);
  return Math.round(Math.min(wanted, loudest - UNDER_PEAK_DB));
}

/** The quietest stretch of `frames` frames without digital silence, half-open; null where there is none that long. */
export function quietestStretch({ step, values }: Levels, frames: number): { start: number; end: number } | null {
  const steps = Math.ceil(frames / step);
  let best: { at: number; sum: number } | null = null;
  let sum = 0;
  let sounding = 0;
  for (let i = 0; i < values.length; i++) {
    const value = values[i] as number;
    sum += 10 ** (levelDb(value) / 10);
    sounding = value === 0 ? 0 : sounding + 1;
    if (i >= steps) sum -= 10 ** (levelDb(values[i - steps] as number) / 10);
    if (sounding >= steps && (!best || sum < best.sum)) best = { at: i + 1 - steps, sum };
  }
  return best && { start: best.at * step, end: (best.at + steps) * step };
}

function powersOf({ step, values }: Levels): EnergySteps {
  return { step, power: Float32Array.from(values, (v) => (v === 0 ? 0 : 10 ** (levelDb(v) / 10))) };
}

/** A sound may fall this far under the threshold before it has ended: oscillation is no end. */
const HYSTERESIS_DB = 6;
/** An attack this close before the first loud step belongs to that sound, in ms. */
const ATTACK_NEAR_MS = 12;
/** Sound before an attack does not belong to it where it is this far under the attack's level. */
const BEFORE_ATTACK_DB = 10;
/** The attack's own level is searched within this time after it, in ms. */
const ATTACK_MS = 30;

/** A stretch over the threshold, and its highest level in dBFS. */
export interface HeardSound extends Region {
  readonly peakDb: number;
}

/** Steps [from, to). */
interface Run {
  readonly from: number;
  to: number;
}

/**
 * Stretches of steps that rise over `on` and do not fall under `off`, joined where fewer than `gap` steps separate
 * them.
 */
function runsOver(values: Uint8Array, on: number, off: number, gap: number): Run[] {
  const runs: Run[] = [];
  let open: Run | null = null;
  for (let n = 0; n < values.length; n++) {
    const value = values[n] as number;
    if (open && value >= off) open.to = n + 1;
    else if (!open && value >= on) {
      const last = runs.at(-1);
      // A rise soon after the last sound has ended belongs to it.
      if (last && n - last.to < gap) {
        runs.pop();
        open = { from: last.from, to: n + 1 };
      } else open = { from: n, to: n + 1 };
    } else if (open) {
      runs.push(open);
      open = null;
    }
  }
  if (open) runs.push(open);
  return runs;
}

/** The highest of the values [from, to), 0 where there are none. */
function highest(values: Uint8Array, from: number, to: number): number {
  let most = 0;
  for (let n = Math.max(0, from); n < Math.min(values.length, to); n++) most = Math.max(most, values[n] as number);
  return most;
}

/**
 * The sounds of a take: stretches over the threshold, joined across gaps shorter than `shortestGapMs`, left out where
 * shorter than `shortestSoundMs`; each begins `leadInMs` before its attack and runs `tailMs` past its last step. The
 * threshold decides what is a sound; a sound starts at its first clear attack, exact to the sample, whatever noise was
 * over the threshold before it, or else with its first step. Two sounds do not overlap: where lead-in and tail would,
 * the later sound's start separates them.
 */
export function splitBySilence(
  levels: Levels,
  candidates: readonly Candidate[],
  split: SilenceSplit,
  sampleRate: number,
  totalFrames: number,
): HeardSound[] {
  const { step, values } = levels;
  // Byte 0 is digital silence, whatever the threshold.
  const suggested = levelByte(suggestThreshold(levels));
  const on = Math.max(1, split.thresholdDb === null ? suggested : levelByte(split.thresholdDb));
  const off = Math.max(1, on - 2 * HYSTERESIS_DB);
  const ms = sampleRate / 1000;
  const near = ATTACK_NEAR_MS * ms;
  const attacks = selectOnsets(candidates, {}, sampleRate);
  const found: HeardSound[] = [];
  let [a, c] = [0, 0];
  for (const run of runsOver(values, on, off, (split.shortestGapMs * ms) / step)) {
    if ((run.to - run.from) * step < split.shortestSoundMs * ms) continue;
    const edge = run.from * step;
    while (a < attacks.length && (attacks[a] as Candidate).frame < edge - near) a++;
    while (c < candidates.length && (candidates[c] as Candidate).frame < edge - near) c++;
    const attack = attacks[a];
    const faint = candidates[c];
    let start = faint && faint.frame <= edge + near ? faint.frame : edge;
    if (attack && attack.frame < run.to * step && isItsStart(levels, run, attack.frame, suggested, ms))
      start = attack.frame;
    const startFrame = Math.max(0, Math.round(start - split.leadInMs * ms));
    const endFrame = Math.min(totalFrames, Math.round(run.to * step + split.tailMs * ms));
    const last = found.at(-1);
    if (last && last.endFrame > startFrame) found[found.length - 1] = { ...last, endFrame: startFrame };
    const peakDb = levelDb(highest(values, run.from, run.to));
    if (endFrame > startFrame) found.push({ startFrame, endFrame, peakDb });
  }
  return found.filter((r) => r.endFrame > r.startFrame);
}

/** Whether the part of a run before an attack is room tone, quiet relative to it, or too close to be another sound. */
function isItsStart({ step, values }: Levels, run: Run, attackFrame: number, room: number, ms: number): boolean {
  const at = Math.floor(attackFrame / step);
  if ((at - run.from) * step <= ATTACK_NEAR_MS * ms) return true;
  const before = highest(values, run.from, at);
  if (before < room) return true;
  const after = highest(values, at, at + Math.ceil((ATTACK_MS * ms) / step));
  return levelDb(after) - levelDb(before) >= BEFORE_ATTACK_DB;
}

/** A candidate this close to a start, in seconds, is the sound that begins there. */
export const SAME_SOUND_S = 0.012;
const LONGEST_TAIL_S = 12;

/**
 * Where the sound that begins at a frame has died away: as measured with the candidate there, else from the levels
 * after the frame. The end of the recording where neither is known.
 */
export function diesAwayAt(
  startFrame: number,
  candidates: readonly Candidate[],
  levels: Levels | null,
  sampleRate: number,
  totalFrames: number,
): number {
  const known = candidates.find((c) => Math.abs(c.frame - startFrame) < SAME_SOUND_S * sampleRate);
  if (known) return known.decayEnd;
  if (!levels) return totalFrames;
  const limit = Math.min(totalFrames, startFrame + LONGEST_TAIL_S * sampleRate);
  return tailsOf(powersOf(levels)).endOf(startFrame, limit);
}
