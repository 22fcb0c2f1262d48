import { z } from 'zod';
import { FamilyField, Id, Name } from '../model';
import { shapeOf } from '../parameter/schema';
import { KIT_PADS } from '../play/limits';
import { KIT_PARAMETERS, LAYER_PARAMETERS, PAD_PARAMETERS, PLANNED_PARAMETERS } from './parameters';

export const Kit = z.object({ id: Id, name: Name, ...shapeOf(KIT_PARAMETERS) });
export type Kit = z.infer<typeof Kit>;

/** One playable place in a kit. Positions count from the left end of the lowest row; see `layout.ts`. */
export const Pad = z.object({
  id: Id,
  kitId: Id,
  position: z
    .number()
    .int()
    .min(0)
    .max(KIT_PADS - 1),
  name: Name,
  family: FamilyField.nullable(),
  ...shapeOf(PAD_PARAMETERS),
});
export type Pad = z.infer<typeof Pad>;

export const PadSettings = z.object(shapeOf(PLANNED_PARAMETERS)).partial();
export type PadSettings = z.infer<typeof PadSettings>;

/** One of the hits that sound together on a pad. */
export const Layer = z.object({
  id: Id,
  padId: Id,
  hitId: Id,
  /** Order on the pad, lowest first. */
  position: z.number().int().min(0).max(1000),
  /** It sounds only while the pad plays this hit as its take; null under every take. */
  withHitId: Id.nullable(),
  ...shapeOf(LAYER_PARAMETERS),
});
export type Layer = z.infer<typeof Layer>;

/** Another take for a pad: a stroke of the same drum that it could play instead. */
export const Variation = z.object({
  id: Id,
  padId: Id,
  hitId: Id,
  /** Order among the pad's variations, the barest first. */
  position: z.number().int().min(0).max(1000),
});
export type Variation = z.infer<typeof Variation>;
