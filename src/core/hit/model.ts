import { z } from 'zod';
import { EdgesHz } from '../layering/model';
import { FamilyField, Frame, Id, Name, Tags } from '../model';
import { VoiceSourceSchema } from '../voice/model';

/**
 * A named drum sound. It owns its source: recording, start and end are copied, so that cutting the recording again
 * never changes it. `sliceId` is lineage only. Treatment is stored in its steps. A hit with members is their sum instead;
 * its stretch is then that of the sound it was made around. A hit with a voice is a stroke of that; its recording is the
 * stroke with which it began, which gives it a place in lists and its rights.
 */
export const Hit = z.object({
  id: Id,
  name: Name,
  family: FamilyField.nullable(),
  recordingId: Id,
  startFrame: Frame,
  endFrame: Frame,
  sliceId: Id.nullable(),
  /** Fundamental in hertz, estimated or set; null where there is none. */
  rootHz: z.number().min(8).max(20000).nullable(),
  tempoBpm: z.number().min(20).max(400).nullable(),
  tags: Tags,
  /** A doubt about its name or family, one sentence; empty once a person has checked. */
  doubt: z.string().max(500),
  /** Starts of further strikes inside it, in frames of the recording. */
  strikes: z.array(Frame).max(64),
  /** Whether the steps of its recording are applied before its own. */
  inherits: z.boolean(),
  /** Edges between the bands among which its layers share the spectrum, in hertz; empty where they do not. */
  edgesHz: EdgesHz,
  voice: VoiceSourceSchema.nullable(),
  binnedAt: z.number().int().nullable(),
});
export type Hit = z.infer<typeof Hit>;
