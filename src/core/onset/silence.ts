import { decayEnd } from './decay';
import type { Candidate } from './detect';
import type { EnergySteps } from './energy';
import type { Region, SilenceSplit } from './split';

/** Levels of a recording as splitting at silence looks at them: one byte every 2 ms, half a decibel each. */
export interface Levels {
  /** Frames a step. */
  readonly step: number;
  readonly values: Uint8Array;
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

/** The quietest tenth of the steps is the room's. */
const ROOM_SHARE = 0.1;
/** The threshold stands this far over the room tone's own level, so that its swing is no sound. */
const OVER_ROOM_DB = 12;
/** Where there is digital silence between the sounds, anything over this is sound. */
const LOWEST_THRESHOLD_DB = -78;
/** The threshold never comes closer than this to the loudest step. */
const UNDER_PEAK_DB = 12;

/**
 * The level over which there is sound, suggested from the room tone: the tenth percentile of the steps that are not digital
 * silence (the minimum statistics of R. Martin, IEEE TSAP 9, 2001, over the whole recording), and what its swing needs.
 */
export function suggestThreshold(levels: Levels): number {
  let loudest = 0;
  for (const value of levels.values) if (value > loudest) loudest = value;
  const wanted = Math.max(LOWEST_THRESHOLD_DB, levelDb(roomByte(levels)) + OVER_ROOM_DB);
  return Math.round(Math.min(wanted, levelDb(loudest) - UNDER_PEAK_DB));
}

/** The room tone's level as a byte; 0 where there is none but digital silence. */
function roomByte({ values }: Levels): number {
  const counts = new Uint32Array(256);
  for (const value of values) counts[value] = (counts[value] as number) + 1;
  const sounding = values.length - (counts[0] as number);
  for (let v = 1, seen = 0; v < 256; v++) {
    seen += counts[v] as number;
    if (seen > 0 && seen >= sounding * ROOM_SHARE) return v;
  }
  return 0;
}

/** A sound may fall this far under the threshold before it counts as over: its own swing is no end. */
const HYSTERESIS_DB = 6;
/** An attack this near before or after the first loud step is where the sound starts, to the sample. */
const ATTACK_NEAR_MS = 12;

/**
 * The sounds of a take: stretches over the threshold, joined where the gap between them is shorter than `shortestGapMs`,
 * left out where shorter than `shortestSoundMs`; each begins `leadInMs` before its attack and runs `tailMs` past the last
 * step that is heard. Two do not overlap: where lead-in and tail would meet, the later sound's start parts them.
 */
export function splitBySilence(
  levels: Levels,
  candidates: readonly Candidate[],
  split: SilenceSplit,
  sampleRate: number,
  totalFrames: number,
): Region[] {
  const { step, values } = levels;
  // What is byte 0 is digital silence, whatever the threshold.
  const on = Math.max(1, levelByte(split.thresholdDb ?? suggestThreshold(levels)));
  const off = Math.max(1, on - 2 * HYSTERESIS_DB);
  const ms = sampleRate / 1000;
  const gap = (split.shortestGapMs * ms) / step;
  const runs: { from: number; to: number }[] = [];
  let open: { from: number; to: number } | null = null;
  for (let n = 0; n < values.length; n++) {
    const value = values[n] as number;
    if (open && value >= off) open.to = n + 1;
    else if (!open && value >= on) {
      const last = runs.at(-1);
      // A rise soon after the last sound has sunk belongs to it.
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
  const found: Region[] = [];
  let c = 0;
  for (const run of runs) {
    if ((run.to - run.from) * step < split.shortestSoundMs * ms) continue;
    const edge = run.from * step;
    const near = ATTACK_NEAR_MS * ms;
    while (c < candidates.length && (candidates[c] as Candidate).frame < edge - near) c++;
    const attack = candidates[c];
    const start = attack && attack.frame <= edge + near ? attack.frame : edge;
    const startFrame = Math.max(0, Math.round(start - split.leadInMs * ms));
    const endFrame = Math.min(totalFrames, Math.round(run.to * step + split.tailMs * ms));
    const last = found.at(-1);
    if (last && last.endFrame > startFrame) found[found.length - 1] = { ...last, endFrame: startFrame };
    if (endFrame > startFrame) found.push({ startFrame, endFrame });
  }
  return found.filter((r) => r.endFrame > r.startFrame);
}

/** A candidate this near to a start, in seconds, is the sound that begins there. */
const SAME_SOUND_S = 0.012;
const LONGEST_TAIL_S = 12;

/**
 * Where the sound that begins at a frame has died away: as it was measured with the candidate that lies there, else by the
 * levels, from the frame on. The end of the recording where neither is known.
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
  const { step, values } = levels;
  const first = Math.floor(startFrame / step);
  const last = Math.min(values.length, first + Math.ceil((LONGEST_TAIL_S * sampleRate) / step));
  const power = Float32Array.from(values.subarray(first, last), (v) => 10 ** (levelDb(v) / 10));
  const room = 10 ** (levelDb(roomByte(levels)) / 10);
  const limit = Math.min(totalFrames, last * step) - first * step;
  return first * step + decayEnd({ step, power }, startFrame - first * step, limit, room);
}
