import type { RecordingView } from '@/contract/views';
import { quietestStretch } from '@/core/onset/silence';
import { getLevels } from '../data/api';
import { openSound } from '../sound/sound';

/** Wanted length of the room tone, and the shortest that is useful, in seconds. */
const WANTED_S = 0.8;
const LEAST_S = 0.1;

export interface LearntRoom {
  /** The spectrum of the noise, packed. */
  readonly room: string;
  readonly atS: number;
}

/** Learns the room tone from the quietest moment of a recording; null where there is none long enough. */
export async function learnRoom(recording: RecordingView): Promise<LearntRoom | null> {
  const { sampleRate } = recording;
  const levels = await getLevels(recording.id);
  const quiet = quietestStretch(levels, WANTED_S * sampleRate) ?? quietestStretch(levels, LEAST_S * sampleRate);
  if (!quiet) return null;
  const sound = await openSound();
  const room = await sound.samples.learnNoise(recording, quiet.start, Math.min(quiet.end, recording.frames));
  return room ? { room, atS: quiet.start / sampleRate } : null;
}
