import { z } from 'zod';
import { FamilyField, Id, Name } from '../model';
import { LONGEST_NAME } from '../naming/names';
import { shapeOf } from '../parameter/schema';
import { KIT_PADS } from '../play/limits';
import {
  BUS_KINDS,
  BUS_PARAMETERS,
  KIT_PARAMETERS,
  LAYER_PARAMETERS,
  LAYOUT_PARAMETERS,
  PAD_PARAMETERS,
  PLANNED_PARAMETERS,
  ROLE_PARAMETERS,
} from './parameters';

export const Kit = z.object({
  id: Id,
  name: Name,
  author: z.string().max(LONGEST_NAME),
  /** What it is, in a sentence or two. */
  about: z.string().max(600),
  /** Words by which it is found. */
  words: z.array(z.string().min(1).max(40)).max(24),
  notes: z.string().max(6000),
  /** It came with the application. */
  supplied: z.boolean(),
  /** Seed of its chances, for one that was opened from a bundle; null for one of its own. */
  seed: z.number().int().min(0).max(0xffffff).nullable(),
  /** The kit that this is a version of, kept on purpose, and when that was, in ms since 1970; null for a kit itself. */
  versionOf: Id.nullable(),
  keptAt: z.number().int().nullable(),
  ...shapeOf(KIT_PARAMETERS),
});
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
  /** What it is in its kit's layout; empty where it has no role. A pad with a role may have no sound yet. */
  role: z.string().max(LONGEST_NAME),
  /** The bus it plays on; null for the output itself, as for one that is not there (any more). */
  busId: Id.nullable(),
  ...shapeOf(PAD_PARAMETERS),
});
export type Pad = z.infer<typeof Pad>;

/** Where sounds of a kit come together: pads that name it, or what all send to the kit's room or echo. */
export const Bus = z.object({
  id: Id,
  kitId: Id,
  /** Order among the kit's buses. */
  position: z.number().min(-1e6).max(1e6),
  name: Name,
  kind: z.enum(BUS_KINDS),
  ...shapeOf(BUS_PARAMETERS),
});
export type Bus = z.infer<typeof Bus>;

export const PadSettings = z.object(shapeOf(PLANNED_PARAMETERS)).partial();
export type PadSettings = z.infer<typeof PadSettings>;

/** A place of a layout: what lies there in every kit that has it, and how that plays. */
const LayoutPlace = z.object({
  position: z
    .number()
    .int()
    .min(0)
    .max(KIT_PADS - 1),
  role: z.string().min(1).max(LONGEST_NAME),
  family: FamilyField.nullable(),
  /** MIDI note, where it differs from the place's own. */
  note: z.number().int().min(0).max(127).nullable(),
  settings: z.object(shapeOf(ROLE_PARAMETERS)).partial(),
});
export type LayoutPlace = z.infer<typeof LayoutPlace>;

/** Roles of a kit's places without sounds: the same role on the same note in every kit. */
export const Layout = z.object({
  id: Id,
  name: Name,
  places: z.array(LayoutPlace).min(1).max(KIT_PADS),
  /** What it tells of the whole kit, where it does. */
  kitValues: z.object(shapeOf(LAYOUT_PARAMETERS)).partial(),
});
export type Layout = z.infer<typeof Layout>;

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
