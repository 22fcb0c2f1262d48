import { z } from 'zod';
import { PadSettings } from '../kit/model';
import { FamilyField, Frame, Id, Name, Tags } from '../model';
import { SPLIT_PARAMETERS } from '../onset/split';
import { shapeOf } from '../parameter/schema';
import { RIGHTS } from '../rights/rights';
import { Source } from '../rights/source';
import { WHATS } from './what';

/** What a person may change about a recording; its audio never changes. */
export const Recording = z.object({
  id: Id,
  title: Name,
  what: z.enum(WHATS).nullable(),
  place: z.string().max(200),
  /** When it was recorded, as the person writes dates. */
  madeOn: z.string().max(40),
  tags: Tags,
  tempoBpm: z.number().min(20).max(400).nullable(),
  /** When it was put in the bin, in ms since 1970; null where it is not there. */
  binnedAt: z.number().int().nullable(),
  rightsKind: z.enum(RIGHTS),
  rightsOwner: z.string().max(200),
  rightsText: z.string().max(2000),
  notes: z.string().max(10000),
  /** The recordings that it was printed from elsewhere, for one that came in a bundle. */
  origins: z.array(Source).max(1000),
  /** It came with the application. */
  supplied: z.boolean(),
  /** Naming pattern of hits taken from it; empty for the usual one. */
  pattern: z.string().max(80),
});
export type Recording = z.infer<typeof Recording>;

/** A bookmark in a recording. */
export const Bookmark = z.object({
  id: Id,
  recordingId: Id,
  frame: Frame,
  label: z.string().max(200),
});
export type Bookmark = z.infer<typeof Bookmark>;

/** How a recording is split; see `core/onset/split`. */
export const SplitFields = z.object(shapeOf(SPLIT_PARAMETERS));

/**
 * How a recording was cut: the settings of the split, and those of new pads with its sounds. One a recording, under the
 * recording's own id.
 */
export const Cut = SplitFields.extend({ id: Id, pad: PadSettings });
export type Cut = z.infer<typeof Cut>;

/** A stretch of a recording. `origin` distinguishes marks set by hand, which survive every new split. */
export const Slice = z
  .object({
    id: Id,
    recordingId: Id,
    startFrame: z.number().int().min(0).max(Number.MAX_SAFE_INTEGER),
    endFrame: z.number().int().min(0).max(Number.MAX_SAFE_INTEGER),
    origin: z.enum(['found', 'hand']),
    family: z.string().max(20).nullable(),
    /** Empty where nobody has named it. */
    name: z.string().trim().max(120),
    locked: z.boolean(),
    keepFrame: Frame.nullable(),
    /** The shelf of slices of one drum that a person chose; null where it is grouped automatically. */
    shelf: Id.nullable(),
    /** Further drums struck with it that a person keeps in it on purpose. */
    also: z.array(FamilyField).max(8),
  })
  .refine((s) => s.endFrame > s.startFrame, 'A slice ends after it starts.');
export type Slice = z.infer<typeof Slice>;
