import type { SampleEncoding } from '@/core/format/pcm';
import type { Said } from '@/core/format/said';
import type { WholeGroove } from '@/core/groove/midi';
import type { Groove, GrooveLane, GrooveNote, GrooveRow } from '@/core/groove/model';
import type { Hit } from '@/core/hit/model';
import type { Bus, Kit, Layer, Pad, Variation } from '@/core/kit/model';
import type { Member } from '@/core/layering/model';
import type { Candidate } from '@/core/onset/detect';
import type { Bookmark, Cut, Recording, Slice } from '@/core/recording/model';
import type { Rhythm } from '@/core/rhythm/rhythm';
import type { BusStep, PadStep } from '@/core/treatment/live';
import type { HitStep, MemberStep, RecordingStep } from '@/core/treatment/step';
import type { Stored } from './documents';
import type { TakeRoom, TakeView } from './takes';

/** A recording as lists and pages show it: its editable fields, and fixed ones. */
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
  /** Why its analysis was given up, if it was; it can be retried. */
  readonly unlistened: string | null;
  /** Mean of each channel's samples, full scale at 1: the constant offset that can be removed. */
  readonly channelMeans: readonly number[];
  readonly sliceCount: number;
  /** Hits that were taken from it, and pads that play one of them. */
  readonly hitCount: number;
  readonly padCount: number;
  readonly kits: readonly string[];
  /** What is done to all of it, in order: its hits inherit these steps. */
  readonly steps: readonly Stored<RecordingStep>[];
  /** The take it was recorded as; null for one that came in otherwise. */
  readonly take: TakeView | null;
  /** Names of other files with the same audio, imported later. */
  readonly otherNames: readonly string[];
}

/** The kind of file it was imported from. */
export type StoredKind = 'wav' | 'aiff' | 'flac' | 'mp3' | 'vorbis' | 'opus' | 'aac' | 'alac';

export interface CutView {
  readonly recording: RecordingView;
  readonly cut: Stored<Cut> | null;
  readonly slices: readonly Stored<Slice>[];
  readonly candidates: readonly Candidate[];
  readonly story: StoryView;
}

/** Descriptions of single slices; the page groups them. */
export interface SoundsView {
  readonly sounds: readonly {
    /** In the order in which they were described. */
    readonly id: number;
    readonly startFrame: number;
    readonly endFrame: number;
    /** As base64; see `core/describe/pack`. Null for those the requester has already. */
    readonly figures: string | null;
  }[];
  /** Slices still to be described. */
  readonly unheard: number;
  /** The recording's rhythm, as of its last computation; null before. */
  readonly rhythm: Rhythm | null;
}

/** A recording's metadata. */
export interface StoryView {
  readonly bookmarks: readonly Stored<Bookmark>[];
  /** Metadata of its file; null where it was imported before that was stored. */
  readonly said: Said | null;
  /** Every name under which this audio was imported, the first one first. */
  readonly files: readonly { readonly fileName: string; readonly path: string }[];
  /** Where percussive sound is alone, as base64; see `core/overview/pack`. Null before the analysis. */
  readonly overview: string | null;
  /** The room before the first stroke of a take; null where that was not heard. */
  readonly room: TakeRoom | null;
}

/** A layer of a layered hit with its own steps, in order. */
export interface StoredMember extends Stored<Member> {
  readonly steps: readonly Stored<MemberStep>[];
}

/** A hit with its own documents, as lists and views carry it: the hits of its layers are beside it. */
export interface HitDocs extends Stored<Hit> {
  /** The steps of its recording, in order. */
  readonly inherited: readonly Stored<RecordingStep>[];
  readonly steps: readonly Stored<HitStep>[];
  readonly members: readonly StoredMember[];
}

/** A hit with everything it is made of; see `resolvedHits`. */
export interface StoredHit extends HitDocs {
  readonly members: readonly ResolvedMember[];
}

export interface ResolvedMember extends StoredMember {
  readonly hit: StoredHit;
}

/** A hit as the list carries it. */
export interface ListedHit extends HitDocs {
  readonly kits: readonly string[];
}

/** A hit as the library shows it; its recording is in the list of recordings. */
export interface HitView extends StoredHit {
  readonly kits: readonly string[];
}

/** What would lose its sound with a recording. */
export interface Dependents {
  readonly hits: readonly { readonly id: string; readonly name: string }[];
  readonly pads: readonly { readonly pad: string; readonly kit: string }[];
}

export interface KitView<H = StoredHit> {
  readonly kit: Stored<Kit>;
  readonly pads: readonly Stored<Pad>[];
  readonly layers: readonly Stored<Layer>[];
  /** What all strokes of each pad go through, in order. */
  readonly steps: readonly Stored<PadStep>[];
  readonly buses: readonly Stored<Bus>[];
  readonly busSteps: readonly Stored<BusStep>[];
  readonly variations: readonly Stored<Variation>[];
  /** Those its pads play, and the hits of their layers. */
  readonly hits: readonly H[];
  readonly recordings: readonly RecordingView[];
}

/** A kit as the server sends it. */
export type KitDocs = KitView<HitDocs>;

export interface KitListEntry {
  readonly id: string;
  readonly name: string;
  /** Pads with a sound. */
  readonly padCount: number;
  /** The kit that it is a version of, and when it was kept; null for a kit itself. */
  readonly versionOf: string | null;
  readonly keptAt: number | null;
  readonly author: string;
  readonly about: string;
  readonly words: readonly string[];
  readonly supplied: boolean;
}

/** Answer to a request for the supplied starter kit. */
export interface SuppliedAnswer {
  readonly kitId: string;
  readonly name: string;
  readonly hits: number;
  /** It was there already; nothing was stored. */
  readonly known: boolean;
}

export interface ImportAnswer {
  readonly recordingId: string;
  readonly title: string;
  /** The same audio existed already; nothing new was stored. */
  readonly duplicate: boolean;
  readonly warnings: readonly string[];
}

/** A part of a list: some of its rows in order, or the changes since an earlier part. */
export interface ListPage<T> {
  /** Pass it as `since` for the changes from here on. */
  readonly cursor: string;
  readonly rows: readonly T[];
  /** Rows that no longer exist. */
  readonly gone: readonly string[];
  /** Pass it as `after` for the rows behind these; null where there are none. */
  readonly next: string | null;
  /** These rows replace the list. */
  readonly whole: boolean;
}

/** Every failed request is answered with this. */
export interface ErrorAnswer {
  readonly error: { readonly code: string; readonly message: string; readonly path?: string };
}

/**
 * Peaks: frames under one pair at level 0, the factor between levels, pairs in a tile, and most tiles of one request.
 */
export const PEAK_FRAMES = 256;
export const PEAK_FACTOR = 4;
export const TILE_PAIRS = 1024;
export const MOST_TILES = 8;
/** Largest request for samples, in bytes. */
export const LARGEST_PCM_BYTES = 32 * 1024 * 1024;

/** A recording's rhythm as a groove; null while its slices are being listened to. */
export interface HeardGroove {
  readonly groove: WholeGroove | null;
}

export interface GrooveListEntry {
  readonly id: string;
  readonly name: string;
  readonly bars: number;
  readonly bpm: number;
  readonly noteCount: number;
}

/** A groove with its rows, in order, their notes, by time, and its lanes. */
export interface GrooveView {
  readonly groove: Stored<Groove>;
  readonly rows: readonly Stored<GrooveRow>[];
  readonly notes: readonly Stored<GrooveNote>[];
  readonly lanes: readonly Stored<GrooveLane>[];
}

/** A recording's tempo, heard in it or written down. */
export interface RecordingTempo {
  readonly id: string;
  readonly title: string;
  readonly bpm: number;
  readonly frames: number;
  readonly sampleRate: number;
  /** Frame of its first downbeat, 0 where that is not known. */
  readonly downbeatFrame: number;
}

/** What was made of a bundle. */
export interface BundleAnswer {
  readonly kitId: string;
  readonly name: string;
  readonly pads: number;
  /** Samples that the workspace had already. */
  readonly known: number;
}
