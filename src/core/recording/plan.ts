import { z } from 'zod';
import { PadSettings } from '../kit/model';
import { Id, Name } from '../model';
import { Split } from '../onset/split';

/** A named way of splitting, as far as it differs from the initial one, with what new pads should get, to be used again on any recording. */
export const Plan = z.object({ id: Id, name: Name, split: Split.partial(), pad: PadSettings });
export type Plan = z.infer<typeof Plan>;

/** A split as it is carried to another recording: what belongs to the first one's own time stays behind. */
export function carriedSplit(split: Split): Split {
  return { ...split, downbeatFrame: null };
}
