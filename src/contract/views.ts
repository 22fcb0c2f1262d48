import type { SampleEncoding } from '@/core/format/pcm';
import type { Said } from '@/core/format/said';
import type { Hit } from '@/core/hit/model';
import type { Kit, Layer, Pad, Variation } from '@/core/kit/model';
import type { Candidate } from '@/core/onset/detect';
import type { Bookmark, Cut, Recording, Slice } from '@/core/recording/model';
import type { Rhythm } from '@/core/rhythm/rhythm';
import type { Step } from '@/core/treatment/step';
import type { Stored } from './documents';

/** A recording as lists and pages show it: its editable fields, and what is fixed. */
export interface RecordingView extends Stored<Recording> {
  readonly fileName: string;
  readonly fileKind: StoredKind;
  readonly encoding: SampleEncoding;
  readonly validBits: number;
  readonly sampleRate: number;
  readonly channelCount: number;
  readonly frames: number;
  readonly peak: number;
  readonly warnings: readonly string[];
  readonly arrivedAt: number;
  readonly analysed: boolean;
  /** Why listening to it was given up, where it was; it can be begun again. */
  readonly unlistened: string | null;
  /** Mean of each channel's samples, full scale at 1: the constant offset that can be removed. */
  readonly channelMeans: readonly number[];
  readonly sliceCount: number;
  /** Hits that were taken from it, and pads that play one of them. */
  readonly hitCount: number;
  readonly padCount: number;
  readonly kits: readonly string[];
  /** Names of other files that hold the same audio, as they came in later. */
  readonly otherNames: readonly string[];
}

/** What a recording came in as. */
export type StoredKind = 'wav' | 'aiff' | 'flac' | 'mp3' | 'vorbis' | 'opus' | 'aac' | 'alac';

export interface CutView {
  readonly recording: RecordingView;
  readonly cut: Stored<Cut> | null;
  readonly slices: readonly Stored<Slice>[];
  readonly candidates: readonly Candidate[];
  readonly story: StoryView;
}

/** What was found by listening to slices alone; which of them belong together is worked out in the page. */
export interface SoundsView {
  readonly sounds: readonly {
    /** In the order in which they were listened to. */
    readonly id: number;
    readonly startFrame: number;
    readonly endFrame: number;
    /** As base64; see `core/describe/pack`. Null for those up to the one after which they were asked for. */
    readonly figures: string | null;
  }[];
  /** Slices that are still to be listened to. */
  readonly unheard: number;
  /** What was struck when and how hard, as far as the slices had been listened to when it was last worked out; null before. */
  readonly rhythm: Rhythm | null;
}

/** What is known of a recording besides its sound. */
export interface StoryView {
  readonly bookmarks: readonly Stored<Bookmark>[];
  /** What its file says of it; null where it came in before that was kept. */
  readonly said: Said | null;
  /** Every name under which this audio has come in, first the first. */
  readonly files: readonly { readonly fileName: string; readonly path: string }[];
  /** Where percussive sound stands alone, as base64; see `core/overview/pack`. Null before it was listened to. */
  readonly overview: string | null;
}

/** A hit with what is done to it, in order. */
export interface StoredHit extends Stored<Hit> {
  readonly steps: readonly Stored<Step>[];
}

/** A hit as the library shows it; its recording stands in the list of recordings. */
export interface HitView extends StoredHit {
  readonly kits: readonly string[];
}

/** What would be left without its sound if a recording went. */
export interface Dependents {
  readonly hits: readonly { readonly id: string; readonly name: string }[];
  readonly pads: readonly { readonly pad: string; readonly kit: string }[];
}

export interface KitView {
  readonly kit: Stored<Kit>;
  readonly pads: readonly Stored<Pad>[];
  readonly layers: readonly Stored<Layer>[];
  readonly variations: readonly Stored<Variation>[];
  readonly hits: readonly StoredHit[];
  readonly recordings: readonly RecordingView[];
}

export interface KitListEntry {
  readonly id: string;
  readonly name: string;
  readonly padCount: number;
}

export interface ImportAnswer {
  readonly recordingId: string;
  readonly title: string;
  /** The same audio was here already; nothing new was kept. */
  readonly duplicate: boolean;
  readonly warnings: readonly string[];
}

/** A part of a list: some of its rows in its order, or what has changed since an earlier part was asked for. */
export interface ListPage<T> {
  /** Asked with as `since`, brings what has changed from here on. */
  readonly cursor: string;
  readonly rows: readonly T[];
  /** Rows that are no longer there. */
  readonly gone: readonly string[];
  /** Asked with as `after`, brings the rows behind these; null where there are none. */
  readonly next: string | null;
  /** The rows begin the list anew. */
  readonly whole: boolean;
}

/** Every failed request answers with this. */
export interface ErrorAnswer {
  readonly error: { readonly code: string; readonly message: string; readonly path?: string };
}

/** Peaks: frames under one pair at level 0, the factor between levels, pairs in a tile, and tiles that one request may ask for at most. */
export const PEAK_FRAMES = 256;
export const PEAK_FACTOR = 4;
export const TILE_PAIRS = 1024;
export const MOST_TILES = 8;
/** Largest stretch one request for samples may ask for, in bytes. */
export const LARGEST_PCM_BYTES = 32 * 1024 * 1024;
