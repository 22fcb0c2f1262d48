import { z } from 'zod';
import { shapeOf } from '../parameter/schema';
import { VOICE_PARAMETERS } from './parameters';

/** See `VoiceSource`. */
export const VoiceSourceSchema = z.object({
  settings: z.object(shapeOf(VOICE_PARAMETERS)).partial(),
  seed: z.number().int().min(0).max(0xffff_ffff),
  velocity: z.number().int().min(1).max(127),
});
