import * as Comlink from 'comlink';
import { fromBase64 } from '@/core/bytes';
import { MOST_PAIRED } from '@/core/describe/grouping';
import { type Hearing, hear } from '@/core/describe/hearing';
import { unpackSound } from '@/core/describe/pack';
import { comparable, SoundPairs } from '@/core/describe/sameness';
import type { Family } from '@/core/family';
import { decodeFrames, type SampleEncoding } from '@/core/format/pcm';
import { rebuild } from '@/core/kit/rebuild';
import type { Candidate } from '@/core/onset/detect';
import { contiguousRegions, selectOnsets } from '@/core/onset/select';
import { type Region, SPLIT_INITIAL } from '@/core/onset/split';
import { type Rhythm, rhythmOf, type SaidTime } from '@/core/rhythm/rhythm';
import { strokesHeard } from '@/core/rhythm/stroke';

/** The description of a single slice from the server; `figures` are packed as in `core/describe/pack`. */
export interface SoundToTake {
  readonly id: number;
  readonly figures: string;
}

/** A slice with its description. */
export interface SliceToHear {
  /** Index of its recording among those grouped together. */
  readonly of: number;
  readonly startFrame: number;
  readonly endFrame: number;
  readonly soundId: number;
  readonly family: Family | null;
  readonly shelf: string | null;
}

/** Levels of a slice shown beside its description. */
export interface SliceLevels {
  readonly rootHz: number | null;
  readonly rootClarity: number | null;
  readonly peakDb: number;
  readonly lufs: number;
  readonly brightnessHz: number;
  readonly decay20Ms: number | null;
}

export interface HearingAnswer extends Hearing {
  readonly levels: readonly SliceLevels[];
}

/** Facts about a recording besides its slices. */
export interface RecordingToHear {
  readonly sampleRate: number;
  readonly frames: number;
  readonly candidates: readonly Candidate[];
  readonly said: SaidTime;
}

/** Difference of what is played from slices to the source. */
export interface Difference {
  readonly identical: boolean;
  /** Largest difference of a sample in dBFS, and its frame. */
  readonly residualDb: number;
  readonly worstSeconds: number;
}

export interface Rebuilding {
  /** From slices as cut: gaps and overlaps count as differences. */
  readonly asCut: Difference;
  /** From their starts, each continuing to the next, rests included. */
  readonly goingOn: Difference;
}

/** A recording for fetching its samples. */
export interface SourceToRebuild {
  readonly id: string;
  readonly encoding: SampleEncoding;
  readonly channelCount: number;
  readonly sampleRate: number;
  readonly frames: number;
}

/** Sounds by id, each with its number among the pairs. */
const sounds = new Map<number, ReturnType<typeof unpackSound> & { readonly number: number }>();
/** Slices arrive one by one and move between shelves: only new pairs are compared. */
const pairs = new SoundPairs();
/** Inputs of a rhythm. */
let heardLast: { readonly recording: RecordingToHear; readonly strokes: ReturnType<typeof strokesHeard> } | null = null;

/** Groups slices and rates isolation, in a thread of its own. */
const api = {
  /** Adds the sounds of slices, each once. */
  take(some: readonly SoundToTake[]): void {
    for (const { id, figures } of some) {
      const sound = unpackSound(fromBase64(figures));
      sounds.set(id, { ...sound, number: pairs.add(comparable(sound.figures, sound.chances)) });
    }
  },

  /** Compares sounds of slices before they are grouped, so that grouping is quick. */
  compare(soundIds: readonly number[]): void {
    meet(soundIds.map((id) => taken(id).number));
  },

  /** Slices of one or several recordings, to be grouped together. */
  hear(slices: readonly SliceToHear[], recordings: readonly [RecordingToHear, ...RecordingToHear[]]): HearingAnswer {
    const listened = slices.map(({ soundId, ...rest }) => ({ ...rest, ...taken(soundId) }));
    const levels = listened.map(({ figures: { root, peakDb, lufs, brightnessHz, envelope } }) => ({
      rootHz: root?.hz ?? null,
      rootClarity: root?.clarity ?? null,
      peakDb,
      lufs,
      brightnessHz,
      decay20Ms: envelope.decay20Ms,
    }));
    const numbers = listened.map(({ number }) => number);
    meet(numbers);
    const hearing = hear(listened, (i) => recordings[slices[i]?.of ?? 0] ?? recordings[0], {
      odds: (a, b) => pairs.odds(numbers[a] as number, numbers[b] as number),
      coherence: (a, b) => pairs.coherence(numbers[a] as number, numbers[b] as number),
    });
    const strokes = strokesHeard(listened, hearing, (i) => slices[i]?.of === 0);
    heardLast = { recording: recordings[0], strokes };
    return { ...hearing, levels };
  },

  /** The rhythm of the first recording of the last grouping, which must have had all its slices. */
  rhythm(): Rhythm {
    if (!heardLast) throw new Error('There is no rhythm of what has not been heard.');
    const { recording, strokes } = heardLast;
    const { candidates, said, sampleRate, frames } = recording;
    return rhythmOf(strokes, selectOnsets(candidates, SPLIT_INITIAL, sampleRate), said, sampleRate, frames);
  },

  /** Plays slices at their own starts through the engine and compares the output with the source, frame by frame. */
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

function taken(id: number) {
  const sound = sounds.get(id);
  if (!sound) throw new Error(`The sound ${id} is to be heard and was not taken in.`);
  return sound;
}

/** Compares sounds, unless there are so many that only some pairs are needed. */
function meet(numbers: readonly number[]): void {
  if (numbers.length <= MOST_PAIRED) pairs.meetAll(numbers);
}

Comlink.expose(api);
