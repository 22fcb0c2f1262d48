import { useMemo, useState } from 'react';
import type { CutView } from '@/contract/views';
import { exactGrid, type GridLine, gridLines } from '@/core/onset/grid';
import { changesNothing, type MarkChanges } from '@/core/onset/marks';
import { resplit, type SplitBasis } from '@/core/onset/resplit';
import { selectOnsets } from '@/core/onset/select';
import { suggestThreshold } from '@/core/onset/silence';
import { type Region, SPLIT_INITIAL, type Split } from '@/core/onset/split';
import { estimateTempo, inOctaveOf } from '@/core/onset/tempo';
import { fromDb, toDb } from '@/core/signal/units';
import { useLevels } from '../data/queries';
import { minus } from '../parts/figures';
import { tell } from '../parts/notice';
import { useStable } from '../parts/use-stable';
import type { Marks } from './use-marks';

export interface SplitDesk {
  /** The settings as shown: stored, or as a draft. */
  readonly split: Split;
  readonly heard: SplitBasis;
  /** Threshold of splitting at silence in dBFS, suggested or set. */
  readonly thresholdDb: number | null;
  /** Grid lines where the recording is split by a grid; else none. */
  readonly lines: readonly GridLine[];
  /** Splits again: previewed while `done` is false, stored as one edit when it is true. */
  readonly change: (set: Partial<Split>, done: boolean, within: Region | null) => void;
}

/** How a recording is split, with a preview while a setting is turned. */
export function useSplit(
  view: CutView,
  { setPreview, store }: Pick<Marks, 'setPreview' | 'store'>,
  heardBpm: number | null,
): SplitDesk {
  const { recording, candidates, cut } = view;
  const [held, setHeld] = useState<Split | null>(null);
  const levels = useLevels(recording.id, recording.analysed);
  const fileMarks = view.story.said?.marks;
  const heard = useMemo((): SplitBasis => {
    const { sampleRate, frames } = recording;
    const strokes = selectOnsets(candidates, SPLIT_INITIAL, sampleRate);
    const guess = estimateTempo(strokes, sampleRate, frames);
    // Strokes alone do not distinguish a tempo from its double: the recording's metadata or its described rhythm does.
    const knownBpm = recording.tempoBpm ?? heardBpm;
    return {
      sampleRate,
      totalFrames: frames,
      candidates,
      levels,
      tempo: guess && knownBpm !== null ? inOctaveOf(guess, knownBpm) : guess,
      fileMarks: fileMarks ?? [],
    };
  }, [recording, candidates, levels, fileMarks, heardBpm]);
  const split = held ?? cut ?? SPLIT_INITIAL;
  const suggested = useMemo(() => levels && suggestThreshold(levels), [levels]);
  const lines = useMemo(() => {
    const grid = split.method === 'grid' ? exactGrid(split, heard.tempo) : null;
    return grid ? gridLines(grid, heard.candidates, heard.sampleRate, heard.totalFrames) : [];
  }, [split, heard]);

  const change = useStable((set: Partial<Split>, done: boolean, within: Region | null) => {
    if (!cut) return;
    const wanted: Split = { ...split, ...set };
    const missing = missingFor(wanted, heard);
    if (missing) {
      setHeld(null);
      setPreview(null);
      tell(missing);
      return;
    }
    const changes: MarkChanges = resplit(view.slices, wanted, heard, within);
    setHeld(done ? null : wanted);
    if (!done) {
      setPreview(changes);
      return;
    }
    const { id, rev, ...stored } = cut;
    const fields = Object.entries(wanted).filter(
      ([key, value]) => stored[key as keyof Split] !== value && key in stored,
    );
    if (fields.length === 0 && changesNothing(changes)) setPreview(null);
    else {
      const changed = Object.fromEntries(fields);
      const more = fields.length > 0 ? [{ op: 'update', doc: 'cut', id, rev, set: changed } as const] : [];
      store(`split ${describeSplit(wanted, heard)}`, changes, more);
    }
  });
  const thresholdDb = split.thresholdDb ?? suggested;
  return useMemo(() => ({ split, heard, thresholdDb, lines, change }), [split, heard, thresholdDb, lines, change]);
}

/** Peak of a sine at a threshold in dBFS, which is a mean square over 2 ms and 3 dB under that peak. */
export function amplitudeOf(thresholdDb: number): number {
  return fromDb(thresholdDb + 3);
}

/** The threshold in dBFS, in steps of half a decibel, for a sine of that peak. */
export function thresholdOf(amplitude: number): number {
  return Math.round((toDb(amplitude) - 3) * 2) / 2;
}

/** Why a recording cannot be split this way yet; null where it can. */
function missingFor(split: Split, heard: SplitBasis): string | null {
  if (split.method === 'silence' && !heard.levels) return 'The levels of the recording are still being fetched.';
  if (split.method === 'grid' && !exactGrid(split, heard.tempo))
    return 'No tempo could be estimated here: type one, or tap it.';
  if (split.method === 'marks' && heard.fileMarks.length === 0) return 'The file came with no marks of its own.';
  return null;
}

/** A split in words, for the history. */
export function describeSplit(split: Split, heard: SplitBasis): string {
  switch (split.method) {
    case 'attack':
      return `by attack at sensitivity ${Math.round(split.sensitivity * 100)} %`;
    case 'silence': {
      const db = split.thresholdDb ?? (heard.levels ? suggestThreshold(heard.levels) : 0);
      return `at silence under ${minus(db.toFixed(0))} dBFS`;
    }
    case 'grid':
      return `by a grid of ${split.noteValue} at ${exactGrid(split, heard.tempo)?.tempoBpm.toFixed(1)} BPM`;
    case 'marks':
      return "at the file's marks";
  }
}
