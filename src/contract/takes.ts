import { z } from 'zod';
import { Frame, Id, Name } from '@/core/model';

/** Kinds of input that a take can come from. */
export const TAKE_INPUTS = ['device', 'output', 'drummer', 'simulated'] as const;

/** Where a take came from. */
export const TakeSource = z.object({
  input: z.enum(TAKE_INPUTS),
  /** The input in words: the device's name, the rhythm and its speed. */
  label: z.string().max(300),
  /** Delay of the input in ms as the browser tells it; null where it does not. */
  latencyMs: z.number().min(0).max(10_000).nullable(),
});
export type TakeSource = z.infer<typeof TakeSource>;

/** Room tone before the first stroke: RMS level in dBFS, and the spectrum in the format of the noise reduction's parameters. */
export const TakeRoom = z.object({
  levelDb: z.number().min(-200).max(20),
  room: z.string().max(20_000),
  humHz: z.number().min(20).max(1000).nullable(),
  rest: z.string().max(20_000),
});
export type TakeRoom = z.infer<typeof TakeRoom>;

/** Begins a take under an id of the page's own, so that a request sent again begins nothing twice. */
export const BeginTake = z.object({
  id: Id,
  sessionId: Id,
  number: z.number().int().min(1).max(100_000),
  title: Name,
  sampleRate: z.number().int().min(8000).max(192_000),
  channelCount: z.number().int().min(1).max(8),
  source: TakeSource,
});
export type BeginTake = z.infer<typeof BeginTake>;

/** Frames of a take, 32-bit floats, channels interleaved, are the body; `from` is the first one's place in the take. */
export const TakePiece = z.object({ from: z.coerce.number().pipe(Frame) });

/** How many frames of a take are stored. */
export interface TakenFrames {
  readonly frames: number;
}

/** Ends a take of so many frames. */
export const EndTake = z.object({
  frames: Frame,
  room: TakeRoom.nullable(),
  /** Stretches that were lost before they came to the page; there is silence instead. */
  gaps: z.array(z.object({ frame: Frame, frames: Frame })).max(1000),
  /** The recordings that are heard in it, for their rights. */
  heard: z.array(Id).max(2000),
  tempoBpm: z.number().min(20).max(400).nullable(),
});
export type EndTake = z.infer<typeof EndTake>;

/** What a recording shows of the take it is. */
export interface TakeView {
  readonly sessionId: string;
  readonly number: number;
  readonly source: TakeSource;
  /** It ended without being stopped. */
  readonly isCutOff: boolean;
  /** Level of the room before the first stroke, in dBFS; null where it was not heard. */
  readonly roomDb: number | null;
}
