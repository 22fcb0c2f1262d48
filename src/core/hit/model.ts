import { z } from 'zod';
import { Frame, Id, Name, Tags } from '../model';

/** The kinds of drum sound, in the order of the pads' rows. */
export const FAMILIES = [
  'kick',
  'tom',
  'snare',
  'rim',
  'clap',
  'closed hat',
  'open hat',
  'cymbal',
  'percussion',
  'tonal',
  'voice',
  'effect',
] as const;
export const Family = z.enum(FAMILIES);
export type Family = z.infer<typeof Family>;

/** Largest constant offset that is taken off, full scale at 1: what stands further off is no sound. */
export const MOST_DC = 1000;

/**
 * A named drum sound. It owns its source: recording, start and end are copied, so that cutting the recording anew never
 * changes it. `sliceId` is lineage only.
 */
export const Hit = z.object({
  id: Id,
  name: Name,
  family: Family.nullable(),
  recordingId: Id,
  startFrame: Frame,
  endFrame: Frame,
  sliceId: Id.nullable(),
  /** What is added to its level before any pad's own. */
  gainDb: z.number().min(-60).max(60).default(0),
  /** What is taken off each channel of the recording, full scale at 1; none where empty. Floats may stand far off. */
  dc: z.array(z.number().min(-MOST_DC).max(MOST_DC)).max(8).default([]),
  /** Fundamental in hertz where it has one and it was found or told. */
  rootHz: z.number().min(8).max(20000).nullable().default(null),
  tempoBpm: z.number().min(20).max(400).nullable().default(null),
  tags: Tags.default([]),
  /** What speaks against its name or family, a sentence; empty once a person has looked. */
  doubt: z.string().max(500).default(''),
  /** Starts of further strikes inside it, frames of the recording. */
  strikes: z.array(Frame).max(64).default([]),
  binnedAt: z.number().int().nullable().default(null),
});
export type Hit = z.infer<typeof Hit>;

/** A hit as it is taken from its recording when nothing has been done to it. */
export const HIT_DEFAULTS = {
  gainDb: 0,
  dc: [],
  rootHz: null,
  tempoBpm: null,
  tags: [],
  doubt: '',
  strikes: [],
  binnedAt: null,
} satisfies Partial<Hit>;
