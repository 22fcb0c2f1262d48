import * as Comlink from 'comlink';
import { type Hearing, hear, KnownOdds } from '@/core/describe/hearing';
import { unpackSound } from '@/core/describe/pack';
import { decodeFrames, type SampleEncoding } from '@/core/format/pcm';
import type { Family } from '@/core/hit/model';
import { rebuild } from '@/core/kit/rebuild';
import type { Candidate } from '@/core/onset/detect';
import { contiguousRegions, selectOnsets } from '@/core/onset/select';
import { DEFAULT_SPLIT, type Region } from '@/core/onset/split';
import { type Rhythm, rhythmOf, type SaidTime } from '@/core/rhythm/rhythm';
import { strokesHeard } from '@/core/rhythm/stroke';

/** A slice as the page knows it; `figures` are packed as `core/describe/pack` has them. */
export interface SliceToHear {
  /** Its recording, by its place among those that are heard. */
  readonly of: number;
  readonly startFrame: number;
  readonly endFrame: number;
  readonly figures: string;
  readonly family: Family | null;
  readonly shelf: string | null;
}

/** Levels of a slice that are shown beside what it is heard as. */
export interface SliceLevels {
  readonly rootHz: number | null;
  readonly rootClarity: number | null;
  readonly peakDb: number;
  readonly lufs: number;
  readonly brightnessHz: number;
  readonly decay20Ms: number | null;
}

export interface Heard extends Hearing {
  readonly levels: readonly SliceLevels[];
  /** Null while slices are still to come. */
  readonly rhythm: Rhythm | null;
}

/** What else than its slices a recording is heard by. */
export interface RecordingToHear {
  readonly sampleRate: number;
  readonly frames: number;
  readonly candidates: readonly Candidate[];
  readonly said: SaidTime;
}

/** How what is played from slices differs from the source. */
export interface Difference {
  readonly identical: boolean;
  /** Largest difference of a sample, in dBFS, and where it is. */
  readonly residualDb: number;
  readonly worstSeconds: number;
}

export interface Rebuilding {
  /** From slices as they are cut: what they leave out between them, and where they overlap, is a difference. */
  readonly asCut: Difference;
  /** From their starts, each going on to the next, rests and all. */
  readonly goingOn: Difference;
}

/** A recording as its samples are asked for. */
export interface SourceToRebuild {
  readonly id: string;
  readonly encoding: SampleEncoding;
  readonly channelCount: number;
  readonly sampleRate: number;
  readonly frames: number;
}

/** Sounds by what they are packed as, each with a number of its own. */
const unpacked = new Map<string, ReturnType<typeof unpackSound> & { readonly number: number }>();
/** Slices come in one by one and are moved from shelf to shelf: only pairs that are new are held against one another. */
const odds = new KnownOdds();

/** Groups slices and tells how bare they are, away from the page's thread. */
const api = {
  /** Slices of one recording or of several that are heard together; the rhythm is that of the first, once its slices are all there. */
  hear(
    slices: readonly SliceToHear[],
    recordings: readonly [RecordingToHear, ...RecordingToHear[]],
    whole: boolean,
  ): Heard {
    const listened = slices.map(({ figures, ...rest }) => ({ ...rest, ...known(figures) }));
    const levels = listened.map(({ figures: { root, peakDb, lufs, brightnessHz, envelope } }) => ({
      rootHz: root?.hz ?? null,
      rootClarity: root?.clarity ?? null,
      peakDb,
      lufs,
      brightnessHz,
      decay20Ms: envelope.decay20Ms,
    }));
    const hearing = hear(
      listened,
      (i) => recordings[slices[i]?.of ?? 0]?.candidates ?? [],
      (i) => recordings[slices[i]?.of ?? 0]?.sampleRate ?? recordings[0].sampleRate,
      { odds, soundOf: (i) => listened[i]?.number ?? -1 },
    );
    if (!whole) return { ...hearing, levels, rhythm: null };
    const { candidates, said, sampleRate, frames } = recordings[0];
    const onsets = selectOnsets(candidates, DEFAULT_SPLIT, sampleRate);
    const rhythm = rhythmOf(
      strokesHeard(listened, hearing, (i) => slices[i]?.of === 0),
      onsets,
      said,
      sampleRate,
      frames,
    );
    return { ...hearing, levels, rhythm };
  },

  /** Plays slices by their own starts through the engine and holds what comes out against the source, frame by frame. */
  async rebuild(source: SourceToRebuild, regions: readonly Region[]): Promise<Rebuilding> {
    const { id, encoding, channelCount, sampleRate, frames } = source;
    const answer = await fetch(`/api/recordings/${id}/pcm?start=0&frames=${frames}`);
    if (!answer.ok) throw new Error('The samples of the recording could not be fetched.');
    const channels = decodeFrames(encoding, new Uint8Array(await answer.arrayBuffer()), channelCount);
    const differenceOf = (some: readonly Region[]): Difference => {
      const { identical, residualDb, worstFrame } = rebuild({ sampleRate, channels }, some);
      return { identical, residualDb, worstSeconds: worstFrame / sampleRate };
    };
    const starts = regions.map(({ startFrame }) => startFrame);
    return { asCut: differenceOf(regions), goingOn: differenceOf(contiguousRegions(starts, frames)) };
  },
};

export type HearingWorker = typeof api;

function known(figures: string) {
  const there = unpacked.get(figures);
  if (there) return there;
  const sound = unpackSound(Uint8Array.from(atob(figures), (c) => c.charCodeAt(0)));
  const numbered = { ...sound, number: unpacked.size };
  unpacked.set(figures, numbered);
  return numbered;
}

Comlink.expose(api);
