import type { RecordingView, StoryView } from '@/contract/views';
import { quietestStretch } from '@/core/onset/silence';
import type { LearntTone } from '@/worker/pool.worker';
import { getJson, getLevels } from '../data/api';
import { openSound } from '../sound/open-sound';

/** Wanted length of the room tone, and the shortest that is useful, in seconds. */
const WANTED_S = 0.8;
const LEAST_S = 0.1;

/** A stretch of a recording, in its frames. */
export interface RoomStretch {
  readonly start: number;
  readonly end: number;
}

/** The quietest moment of a recording; null where none is long enough. */
export async function quietestMoment(recording: RecordingView): Promise<RoomStretch | null> {
  const { sampleRate, frames } = recording;
  const levels = await getLevels(recording.id);
  const quiet = quietestStretch(levels, WANTED_S * sampleRate) ?? quietestStretch(levels, LEAST_S * sampleRate);
  return quiet && { start: quiet.start, end: Math.min(quiet.end, frames) };
}

/** The room that was heard before the first stroke of a take; null for a recording where it was not. */
export async function roomBefore(recording: RecordingView): Promise<LearntTone | null> {
  if (recording.take?.roomDb == null) return null;
  const { room } = await getJson<StoryView>(`/api/recordings/${recording.id}/story`);
  return room && { room: room.room, humHz: room.humHz, rest: room.rest };
}

/** Learns the room tone in a stretch; null where that is too short. */
export async function learnRoom(recording: RecordingView, { start, end }: RoomStretch): Promise<LearntTone | null> {
  const sound = await openSound();
  return sound.samples.learnRoom(
    recording,
    Math.max(0, Math.round(start)),
    Math.min(recording.frames, Math.round(end)),
  );
}
