import type { Candidate } from './detect';
import { selectOnsets } from './select';
import type { GridSplit, NoteValue, Region } from './split';
import type { TempoGuess } from './tempo';

/** A grid without anything left to estimate. */
export interface ExactGrid extends GridSplit {
  readonly tempoBpm: number;
  readonly downbeatFrame: number;
}

/** Settings completed with estimates where the person has set nothing; null where neither is known. */
export function exactGrid(split: GridSplit, guess: TempoGuess | null): ExactGrid | null {
  const tempoBpm = split.tempoBpm ?? guess?.bpm;
  if (tempoBpm === undefined) return null;
  return { ...split, tempoBpm, downbeatFrame: split.downbeatFrame ?? Math.max(0, guess?.beatFrame ?? 0) };
}

/** Quarter notes in a step of the grid. */
export function quartersOf(value: NoteValue, beats: number, beatUnit: number): number {
  if (value === 'bar') return (beats * 4) / beatUnit;
  const [, division, triplet] = /^1\/(\d+)(T?)$/.exec(value) as RegExpExecArray;
  return (4 / Number(division)) * (triplet ? 2 / 3 : 1);
}

/** A line of the grid. */
export interface GridLine {
  /** Frame, a fraction where the tempo gives one. */
  readonly frame: number;
  /** Steps from the first downbeat. */
  readonly step: number;
  readonly bar: boolean;
  readonly beat: boolean;
}

/**
 * The grid's lines from the first downbeat to the end of the recording. With `pull` they follow the player: beats are
 * tracked through the strokes, steps divide the time between two beats, and a stroke near a line attracts it by the
 * share `pull`.
 */
export function gridLines(
  grid: ExactGrid,
  strokes: readonly Candidate[],
  sampleRate: number,
  totalFrames: number,
): GridLine[] {
  const quarter = (60 / grid.tempoBpm) * sampleRate;
  const stepQuarters = quartersOf(grid.noteValue, grid.beats, grid.beatUnit);
  const barQuarters = (grid.beats * 4) / grid.beatUnit;
  const beatQuarters = 4 / grid.beatUnit;
  const beatAt = grid.pull > 0 ? trackBeats(grid, strokes, quarter * beatQuarters, totalFrames) : null;
  const lines: GridLine[] = [];
  for (let step = 0; ; step++) {
    const quarters = step * stepQuarters;
    const plain = grid.downbeatFrame + quarters * quarter;
    const followed = beatAt ? beatAt(quarters / beatQuarters) : plain;
    const frame = plain + grid.pull * (followed - plain);
    // The last line of a loop trimmed to whole bars is its end, and begins no slice.
    if (frame > totalFrames - Math.min(0.25 * stepQuarters * quarter, 0.02 * sampleRate)) break;
    lines.push({ frame, step, bar: isWhole(quarters / barQuarters), beat: isWhole(quarters / beatQuarters) });
  }
  const struck = withoutEmptyEnd(lines, strokes, barQuarters * quarter, sampleRate, totalFrames);
  return grid.pull > 0 ? pulled(struck, grid.pull, strokes, stepQuarters * quarter, sampleRate) : struck;
}

/**
 * The lines without those of an unfinished last bar in which nothing is struck: a ringing tail after the last bar is no
 * step.
 */
function withoutEmptyEnd(
  lines: readonly GridLine[],
  strokes: readonly Candidate[],
  barFrames: number,
  sampleRate: number,
  totalFrames: number,
): GridLine[] {
  const last = lines.findLastIndex((line) => line.bar);
  const bar = lines[last];
  if (!bar || last === 0 || bar.frame + 0.98 * barFrames <= totalFrames) return [...lines];
  const reach = bar.frame - (NEAR_MS / 1000) * sampleRate;
  const struck = selectOnsets(strokes, {}, sampleRate).some((stroke) => stroke.frame >= reach);
  return struck ? [...lines] : lines.slice(0, last);
}

function isWhole(value: number): boolean {
  return Math.abs(value - Math.round(value)) < 1e-6;
}

/** The stretches between the lines; the last one ends a step after its line, or with the recording. */
export function gridRegions(lines: readonly GridLine[], stepFrames: number, totalFrames: number): Region[] {
  return lines.flatMap(({ frame }, i) => {
    const startFrame = Math.max(0, Math.round(frame));
    const next = lines[i + 1]?.frame ?? frame + stepFrames;
    // What remains after the last step of a slightly longer recording belongs to that step.
    const endFrame = Math.min(totalFrames, Math.round(totalFrames - next < 0.25 * stepFrames ? totalFrames : next));
    return endFrame > startFrame ? [{ startFrame, endFrame }] : [];
  });
}

/** How much the time between two beats may differ from the previous one, as a share of a beat, in the search. */
const REACH = 0.3;
/** Weight of a steady tempo against matching strokes. */
const TIGHTNESS = 60;

/**
 * Follows the player's beat: the chain of strokes, one a beat where there is one, whose strengths are greatest and whose
 * distances stray least from the beat before. Gives the frame of any beat, fractions included, by interpolation.
 *
 * Source: D. Ellis, "Beat tracking by dynamic programming", J. New Music Research 36, 2007 - over strokes already found
 * instead of a novelty curve, beat by beat, and with the time of the beat before as the measure, so that a drift is followed.
 */
function trackBeats(
  grid: ExactGrid,
  strokes: readonly Candidate[],
  beatFrames: number,
  totalFrames: number,
): (beat: number) => number {
  const beats: number[] = [grid.downbeatFrame];
  let period = beatFrames;
  let from = 0;
  while ((beats.at(-1) as number) + period < totalFrames + beatFrames) {
    const last = beats.at(-1) as number;
    let best = last + period;
    let most = 0;
    while (from < strokes.length && (strokes[from] as Candidate).frame < last + period * (1 - REACH)) from++;
    for (let i = from; i < strokes.length; i++) {
      const { frame, strength } = strokes[i] as Candidate;
      if (frame > last + period * (1 + REACH)) break;
      const stray = Math.log((frame - last) / period);
      const score = strength * Math.exp(-TIGHTNESS * stray * stray);
      if (score > most) {
        most = score;
        best = frame;
      }
    }
    // A weak or missing stroke moves the beat little; the beat's duration follows the strokes slowly.
    const share = Math.min(1, 1.5 * most);
    const placed = last + period + share * (best - last - period);
    period += 0.25 * share * (placed - last - period);
    period = Math.max(beatFrames * 0.7, Math.min(beatFrames * 1.4, period));
    beats.push(placed);
  }
  return (beat) => {
    const i = Math.max(0, Math.min(beats.length - 2, Math.floor(beat + 1e-9)));
    const a = beats[i] as number;
    const b = beats[i + 1] ?? a + beatFrames;
    return a + (beat - i) * (b - a);
  };
}

/** A stroke attracts the nearest line within this share of a step. */
const NEAR_SHARE = 0.3;
const NEAR_MS = 50;

function pulled(
  lines: readonly GridLine[],
  pull: number,
  strokes: readonly Candidate[],
  stepFrames: number,
  sampleRate: number,
): GridLine[] {
  const near = Math.min(NEAR_SHARE * stepFrames, (NEAR_MS / 1000) * sampleRate);
  let from = 0;
  return lines.map((line) => {
    while (from < strokes.length && (strokes[from] as Candidate).frame < line.frame - near) from++;
    let best: Candidate | null = null;
    for (let i = from; i < strokes.length && (strokes[i] as Candidate).frame <= line.frame + near; i++) {
      const stroke = strokes[i] as Candidate;
      if (!best || weigh(stroke, line, near) > weigh(best, line, near)) best = stroke;
    }
    return best ? { ...line, frame: line.frame + pull * (best.frame - line.frame) } : line;
  });
}

function weigh(stroke: Candidate, line: GridLine, near: number): number {
  return stroke.strength * (1 - 0.7 * (Math.abs(stroke.frame - line.frame) / near));
}
