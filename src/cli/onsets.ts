import { statSync } from 'node:fs';
import { energySteps, loudestOf } from '@/core/onset/energy';
import { type SplitBasis, wantedRegions } from '@/core/onset/resplit';
import { selectOnsets } from '@/core/onset/select';
import { packLevels } from '@/core/onset/silence';
import { SPLIT_INITIAL, SPLIT_PARAMETERS, type Split } from '@/core/onset/split';
import { estimateTempo } from '@/core/onset/tempo';
import { toDb } from '@/core/signal/units';
import { rounded } from './figures';
import { eachFile, loadMono } from './files';
import { Listeners } from './listen';
import { toldValues } from './parameters';
import { SPLIT_FLAGS } from './split-flags';

/** Files from this size on have more than one part to analyse, whatever their kind. */
const LONG_BYTES = 8e6;

/**
 * Longest recording whose slices are described by default, in seconds: a thousand slices would take longer than all
 * else.
 */
const LISTENED_S = 120;

/** Output for slices that were not described. */
const NOT_LISTENED = {
  family: null,
  familyConfidence: null,
  drumConfidence: null,
  contains: null,
  rootHz: null,
  rootConfidence: null,
  momentaryLufs: null,
  brightnessHz: null,
  decay20Ms: null,
  isolation: null,
  cutShortDb: null,
  foreign: null,
  group: null,
  groupConfidence: null,
};

export interface OnsetOptions extends Readonly<Record<string, unknown>> {
  readonly json: boolean;
  /** Whether slices are described; by default where the file is short. */
  readonly listen?: boolean;
}

export async function runOnsets(files: string[], options: OnsetOptions): Promise<void> {
  const listeners = new Listeners();
  try {
    await eachFile(files, (file) => onsetsOf(file, options, listeners));
  } finally {
    await listeners.close();
  }
}

async function onsetsOf(file: string, options: OnsetOptions, listeners: Listeners): Promise<void> {
  const split = { ...SPLIT_INITIAL, ...toldValues(SPLIT_PARAMETERS, SPLIT_FLAGS, options) };
  if ((statSync(file, { throwIfNoEntry: false })?.size ?? 0) > LONG_BYTES) listeners.prepare();
  const loaded = await loadMono(file);
  const { frames, sampleRate, findings } = loaded;
  const candidates = await listeners.detect(loaded);
  const mono = new Float32Array(loaded.samples, 0, frames);
  const onsets = selectOnsets(candidates, split, sampleRate);
  const heard: SplitBasis = {
    sampleRate,
    totalFrames: frames,
    candidates,
    // Both take time, so only what the split needs is computed.
    levels: split.method === 'silence' ? packLevels(energySteps(mono, sampleRate)) : null,
    tempo:
      split.method === 'grid'
        ? estimateTempo(selectOnsets(candidates, SPLIT_INITIAL, sampleRate), sampleRate, frames)
        : null,
    fileMarks: findings.said.marks,
  };
  const regions = regionsOf(split, heard);
  if (!options.json) {
    const lines =
      split.method === 'attack'
        ? onsets.map(({ frame, strength }) => [frame, strength.toFixed(3)] as const)
        : regions.map(
            ({ startFrame, endFrame }) => [startFrame, `${seconds(endFrame - startFrame, sampleRate)} long`] as const,
          );
    for (const [frame, what] of lines) process.stdout.write(`${file}\t${seconds(frame, sampleRate)}\t${what}\n`);
    return;
  }
  const listen = options.listen ?? frames <= LISTENED_S * sampleRate;
  const told = listen ? (await import('./hearing')).heardIn(mono, sampleRate, regions, candidates, split) : null;
  const slices = regions.map((region, i) => ({
    ...region,
    ...(told?.slices[i] ?? NOT_LISTENED),
    peakDb: rounded(toDb(loudestOf(mono.subarray(region.startFrame, region.endFrame)))),
  }));
  const list = onsets.map(({ frame, strength }) => ({
    frame,
    seconds: frame / sampleRate,
    strength: rounded(strength),
  }));
  process.stdout.write(
    `${JSON.stringify({ file, sampleRate, frames, onsets: list, slices, rhythm: told?.rhythm ?? null })}\n`,
  );
}

/** The slices of a split, each ending at the next one's start or where its own sound does. */
function regionsOf(split: Split, heard: SplitBasis): { startFrame: number; endFrame: number }[] {
  if (split.method === 'grid' && !heard.tempo && split.tempoBpm === null)
    throw new Error('no tempo could be estimated; tell it with --tempo.');
  if (split.method === 'marks' && heard.fileMarks.length === 0)
    throw new Error('the file has no cue points or regions; split it another way.');
  const wanted = wantedRegions(split, heard);
  return wanted.map(({ startFrame, endFrame, whole }, i) => ({
    startFrame,
    endFrame: whole ? endFrame : Math.max(startFrame + 1, Math.min(endFrame, wanted[i + 1]?.startFrame ?? endFrame)),
  }));
}

function seconds(frames: number, sampleRate: number): string {
  return `${(frames / sampleRate).toFixed(6)} s`;
}
