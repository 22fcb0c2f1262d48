import { z } from 'zod';
import { Id, Name } from '../model';
import { Chain } from './chain-schema';
import { LIVE_NAMES } from './live';
import { PROCESSOR_NAMES } from './processors';

const fields = {
  id: Id,
  position: z.number().min(-1e6).max(1e6),
  processor: z.enum(PROCESSOR_NAMES),
  active: z.boolean(),
};

/** The fields that every step of a hit has; see `Step`. Its parameters are those of its processor. */
export const StepBase = z.object({ ...fields, hitId: Id });

/** The fields that every step of a recording has: its hits inherit it. */
export const RecordingStepBase = z.object({ ...fields, recordingId: Id });

/** The fields that every step of a layer has: its hit sounds so in this layered hit only. */
export const MemberStepBase = z.object({ ...fields, memberId: Id });

/** The fields that every step of a pad has: all its strokes go through it together. */
export const PadStepBase = z.object({ ...fields, processor: z.enum(LIVE_NAMES), padId: Id });

/** The fields that every step of a bus has. */
export const BusStepBase = z.object({ ...fields, processor: z.enum(LIVE_NAMES), busId: Id });

/** A chain kept by a person for a purpose. Its steps are checked against their processors. */
export const Recipe = z.object({
  id: Id,
  name: Name,
  /** What it does, in words; empty where nobody said. */
  about: z.string().max(300),
  steps: Chain.pipe(z.array(z.looseObject({ processor: z.enum(PROCESSOR_NAMES) })).min(1)),
});
export type Recipe = z.infer<typeof Recipe>;
