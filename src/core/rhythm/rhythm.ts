import type { Candidate } from '../onset/detect';
import { beatFrameAt, estimateTempo, octaveShares, type TempoShare } from '../onset/tempo';
import { downbeatOf } from './downbeat';
import { asWritten, octavesHeard, regularity } from './octave';
import type { Stroke } from './stroke';

/** Version of the method, and of the grouping it depends on: stored rhythms of other versions are computed again. */
export const RHYTHM_VERSION = 2;

/** One stroke of a rhythm. */
export interface RhythmNote {
  /** Frame of the stroke in the recording. */
  readonly frame: number;
  /** Quarter notes after the first downbeat; below 0 before it. */
  readonly quarters: number;
  /** Index of the shelf of the drum that was struck. */
  readonly group: number;
  /** 0..1: its peak relative to the loudest stroke's, as amplitudes. */
  readonly velocity: number;
}

/** The strokes of a recording and their strengths. */
export interface Rhythm {
  readonly notes: readonly RhythmNote[];
  /** Quarter notes a minute; null where it is neither set nor estimated. */
  readonly bpm: number | null;
  /** Confidence, 0..1; 1 where a person set it. */
  readonly bpmConfidence: number;
  /** The tempo, its half and its double, the likeliest first; shares sum to 1. */
  readonly octaves: readonly TempoShare[];
  /** Frame of the first downbeat. */
  readonly downbeatFrame: number;
  readonly downbeatConfidence: number;
  readonly beats: number;
  readonly beatUnit: number;
}

/** A person's settings of a recording's time; null where nothing. */
export interface SaidTime {
  readonly tempoBpm: number | null;
  readonly downbeatFrame: number | null;
  readonly beats: number;
  readonly beatUnit: number;
  /**
   * The tempo in the recording's name or tags or set by a person: it decides the octave only, because names are
   * sometimes wrong.
   */
  readonly writtenBpm?: number | null;
}

/**
 * The rhythm of a recording: strokes by group, and the time they are in, set or estimated. `onsets` are the
 * recording's, for the tempo.
 */
export function rhythmOf(
  strokes: readonly Stroke[],
  onsets: readonly Candidate[],
  said: SaidTime,
  sampleRate: number,
  totalFrames: number,
): Rhythm {
  const { beats, beatUnit } = said;
  const guess = estimateTempo(onsets, sampleRate, totalFrames);
  const near = said.tempoBpm ?? guess?.bpm ?? null;
  const heard = near === null ? [] : octavesHeard(octaveShares(near, onsets, sampleRate), strokes, sampleRate);
  const octaves = asWritten(heard, said.writtenBpm ?? null);
  const bpm = said.tempoBpm ?? octaves[0]?.bpm ?? null;
  const loudest = strokes.reduce((most, { peakDb }) => Math.max(most, peakDb), Number.NEGATIVE_INFINITY);
  const quarter = bpm === null ? null : (60 / bpm) * sampleRate;
  const found =
    bpm === null || quarter === null
      ? null
      : downbeatOf(strokes, beatFrameAt(bpm, onsets, sampleRate), (quarter * 4) / beatUnit, beats);
  const downbeatFrame = said.downbeatFrame ?? found?.frame ?? strokes[0]?.frame ?? 0;
  return {
    notes: strokes.map(({ frame, group, peakDb }) => ({
      frame,
      quarters: quarter === null ? 0 : (frame - downbeatFrame) / quarter,
      group,
      velocity: Number.isFinite(loudest) ? 10 ** ((peakDb - loudest) / 20) : 0,
    })),
    bpm,
    bpmConfidence: said.tempoBpm !== null ? 1 : (octaves[0]?.share ?? 0) * regularity(strokes, bpm ?? 0, sampleRate),
    octaves,
    downbeatFrame,
    downbeatConfidence: said.downbeatFrame !== null ? 1 : (found?.confidence ?? 0),
    beats,
    beatUnit,
  };
}
