import { z } from 'zod';
import { PadSettings } from '../kit/model';
import { Id, Name } from '../model';
import { SplitFields } from './model';

/** A named split, as far as it differs from the initial one, with settings of new pads, for use on any recording. */
export const Plan = z.object({ id: Id, name: Name, split: SplitFields.partial(), pad: PadSettings });
export type Plan = z.infer<typeof Plan>;
