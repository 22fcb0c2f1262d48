import { z } from 'zod';
import { Frame, Id, Name } from '@/core/model';
import { Chain } from '@/core/treatment/chain-schema';
import { Browser, RequestKey } from './edits';
import { Prepare } from './imports';
import type { ImportAnswer } from './views';

const Tab = z.string().max(40).default('');
const Ids = z.array(Id).min(1).max(2000);

/** Hits to prepare: silence off the ends, a level, and so on; see `core/hit/prepare`. */
export const PrepareRequest = z.object({ browser: Browser, tab: Tab, ids: Ids, ticks: Prepare });
export type PrepareRequest = z.infer<typeof PrepareRequest>;

/** Hits whose uses are requested. */
export const UsesRequest = z.object({ ids: Ids });

const Printing = z.object({ browser: Browser, tab: Tab });

/** A hit to print, with steps after its own (`core/hit/finish`); as a hit of its own on the recording it becomes. */
export const PrintRequest = Printing.extend({
  finish: Chain.default([]),
  name: Name.optional(),
  asHit: z.boolean().default(false),
});
export type PrintRequest = z.infer<typeof PrintRequest>;

/** A pad to print as one stroke of it sounds. */
export const PrintPadRequest = Printing.extend({ name: Name, velocity: z.number().int().min(1).max(127).default(127) });
export type PrintPadRequest = z.infer<typeof PrintPadRequest>;

/** A groove to print to a recording: played by a kit, all of it or one pad, ringing out or as a loop that seams. */
export const RecordGrooveRequest = Printing.extend({
  kitId: Id,
  padId: Id.nullable().default(null),
  seams: z.boolean().default(false),
});
export type RecordGrooveRequest = z.infer<typeof RecordGrooveRequest>;

/** Answers a printed hit: the recording, and the hit on it where one was asked for. */
export interface PrintAnswer extends ImportAnswer {
  readonly hitId: string | null;
}

/** A recording to print as it sounds, or [startFrame, endFrame) of it. */
export const PrintRecordingRequest = Printing.extend({
  startFrame: Frame.default(0),
  endFrame: Frame.optional(),
});

/** Hits to remove, with their uses. */
export const RemoveRequest = z.object({ browser: Browser, tab: Tab, key: RequestKey, ids: Ids });
export type RemoveRequest = z.infer<typeof RemoveRequest>;

/**
 * Uses of hits: pads that would fall silent, pads that would lose a layer, pads that keep one of them as another take, and
 * the names of layered hits that would lose a layer.
 */
export interface HitUses {
  readonly silent: readonly PadOfKit[];
  readonly thinner: readonly PadOfKit[];
  readonly takes: readonly PadOfKit[];
  readonly layered: readonly string[];
}

export interface PadOfKit {
  readonly pad: string;
  readonly kit: string;
}

/** Headers that describe a rendered hit's samples. */
export const RENDER_HEADERS = {
  sampleRate: 'X-Undercroft-Sample-Rate',
  channelCount: 'X-Undercroft-Channels',
  frames: 'X-Undercroft-Frames',
} as const;
