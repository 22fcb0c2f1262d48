import { z } from 'zod';
import { FamilyField, Name } from '@/core/model';
import { VoiceSourceSchema } from '@/core/voice/model';
import { Browser, RequestKey } from './edits';

const By = { browser: Browser, tab: z.string().max(40).default(''), key: RequestKey };

/** A hit to make of the struck voice. */
export const MakeVoice = z.object({ ...By, name: Name, family: FamilyField, voice: VoiceSourceSchema });
export type MakeVoice = z.input<typeof MakeVoice>;

export interface MadeVoice {
  readonly hitId: string;
  readonly recordingId: string;
}

/** Strokes of a voice to print: so many at each velocity, one after another in a recording, and each a hit of its own. */
export const PrintStrokes = z.object({
  ...By,
  velocities: z.array(z.number().int().min(1).max(127)).min(1).max(16),
  each: z.number().int().min(1).max(16),
});
export type PrintStrokes = z.input<typeof PrintStrokes>;

export interface PrintedStrokes {
  readonly recordingId: string;
  /** In the order in which they were struck. */
  readonly strokes: readonly { readonly hitId: string; readonly velocity: number }[];
}
