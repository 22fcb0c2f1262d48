import { z } from 'zod';
import { Id, Name } from '../model';
import { LONGEST_PERFORMANCE_S } from './limits';

/** What was played on a kit: a Standard MIDI File of the pads' notes, so that it plays any kit. */
export const Performance = z.object({
  id: Id,
  name: Name,
  seconds: z.number().min(0).max(LONGEST_PERFORMANCE_S),
  strokes: z.number().int().min(1).max(200_000),
  midi: z.base64({ error: 'A performance is a MIDI file in base64.' }).max(4_000_000),
});
export type Performance = z.infer<typeof Performance>;
