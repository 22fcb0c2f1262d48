import { z } from 'zod';
import { Family } from '../hit/model';
import { Id, Name } from '../model';

export const PAD_COUNT = 32;
export const CHOKE_GROUPS = 8;

export const Kit = z.object({ id: Id, name: Name });
export type Kit = z.infer<typeof Kit>;

/** How a pad plays: a one-shot sounds to its end, `held` only while the pad is down. */
export const PlayMode = z.enum(['one-shot', 'held']);

/** One playable place in a kit. Positions count from the lowest row's left end; see `layout.ts`. */
export const Pad = z.object({
  id: Id,
  kitId: Id,
  position: z
    .number()
    .int()
    .min(0)
    .max(PAD_COUNT - 1),
  name: Name,
  family: Family.nullable(),
  levelDb: z.number().min(-60).max(24),
  /** Peak in dBFS that the sum of the layers is brought to before the level; null leaves it as it is. */
  normaliseDbfs: z.number().min(-60).max(0).nullable(),
  semitones: z.number().int().min(-24).max(24),
  cents: z.number().min(-100).max(100),
  pan: z.number().min(-1).max(1),
  mode: PlayMode,
  chokeGroup: z.number().int().min(0).max(CHOKE_GROUPS),
  /** Fade before the end of the sound, so that a cut tail does not click. */
  fadeOutMs: z.number().min(0).max(2000),
  /** MIDI note where it is not the place's own. */
  note: z.number().int().min(0).max(127).nullable().default(null),
  /** A new strike fades out what the pad still sounds. */
  oneVoice: z.boolean().default(false),
});
export type Pad = z.infer<typeof Pad>;

/** What a new pad gets from a plan besides its place, name and sound. */
export const PadSettings = Pad.pick({
  levelDb: true,
  normaliseDbfs: true,
  semitones: true,
  cents: true,
  pan: true,
  mode: true,
  chokeGroup: true,
  fadeOutMs: true,
}).partial();
export type PadSettings = z.infer<typeof PadSettings>;

/** One of the hits that sound together on a pad. */
export const Layer = z.object({
  id: Id,
  padId: Id,
  hitId: Id,
  /** Order on the pad, lowest first. */
  position: z.number().int().min(0).max(1000),
  levelDb: z.number().min(-60).max(24),
  semitones: z.number().int().min(-24).max(24),
  cents: z.number().min(-100).max(100),
});
export type Layer = z.infer<typeof Layer>;

/** Another take of what a pad plays: a stroke of the same drum that it could play instead. */
export const Variation = z.object({
  id: Id,
  padId: Id,
  hitId: Id,
  /** Order among the pad's variations, the barest first. */
  position: z.number().int().min(0).max(1000),
});
export type Variation = z.infer<typeof Variation>;

/** What a pad plays as when nothing has been changed. */
export const PAD_DEFAULTS = {
  levelDb: 0,
  normaliseDbfs: null,
  semitones: 0,
  cents: 0,
  pan: 0,
  mode: 'one-shot',
  chokeGroup: 0,
  fadeOutMs: 2,
  note: null,
  oneVoice: false,
} as const satisfies Partial<Pad>;

export const LAYER_DEFAULTS = { levelDb: 0, semitones: 0, cents: 0 } as const satisfies Partial<Layer>;
