import { z } from 'zod';
import { LONGEST_NAME } from '../naming/names';

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

export const Id = z.string().regex(/^[0-9a-z-]{8,40}$/, 'An id has 8 to 40 letters, digits and hyphens.');
export const Name = z
  .string()
  .min(1, 'A name needs at least one character.')
  .refine((s) => [...s].length <= LONGEST_NAME, `A name has at most ${LONGEST_NAME} characters.`)
  .refine((s) => !/[\u0000-\u001f\u007f]/.test(s), 'A name cannot hold control characters.')
  .refine((s) => s.trim() !== '', 'A name needs at least one visible character.');
export const Frame = z.number().int().min(0).max(Number.MAX_SAFE_INTEGER);

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
});
export type Hit = z.infer<typeof Hit>;
