import type { RecordingTempo, RecordingView } from '@/contract/views';
import { type Groove, TICKS_PER_QUARTER } from '@/core/groove/model';
import type { Stretch } from '@/core/groove/score';
import { HIT_INITIAL } from '@/core/hit/initial';
import { STRAIGHT } from '@/core/kit/buses';
import { fittedHit } from '@/core/kit/fit';
import { LAYER_INITIAL, PAD_INITIAL } from '@/core/kit/parameters';
import { KIT_PADS } from '@/core/play/limits';
import type { Stroke } from '@/core/play/score';
import type { Sound } from '../sound/sound';
import { beneathDb } from './beneath-store';

/** The engine's pad of the recording that sounds beneath a groove. */
const BENEATH = KIT_PADS + 5;
/** A loop this near to whole beats has them. */
const WHOLE_BEATS = 0.12;

/** Quarter notes from the first downbeat of a recording to its end. */
function quartersOf({ frames, sampleRate, bpm, downbeatFrame }: RecordingTempo): number {
  const quarters = ((frames - downbeatFrame) / sampleRate) * (bpm / 60);
  const whole = Math.round(quarters);
  return whole > 0 && Math.abs(quarters - whole) < WHOLE_BEATS ? whole : quarters;
}

/** Has the engine ready to play the recording from its first downbeat, at a tempo. */
export async function prepareBeneath(
  sound: Sound,
  recording: RecordingTempo,
  recordings: readonly RecordingView[],
  bpm: number,
  current: () => boolean,
): Promise<void> {
  const hit = {
    ...HIT_INITIAL,
    ...{ id: `beneath-${recording.id}`, name: recording.title, family: null, sliceId: null, steps: [] },
    ...{ recordingId: recording.id, startFrame: recording.downbeatFrame, endFrame: recording.frames },
  };
  const isAsIs = Math.abs(recording.bpm - bpm) < 0.01;
  const pad = {
    ...PAD_INITIAL,
    ...{ id: 'beneath', kitId: '', position: BENEATH, name: recording.title, family: null },
    ...{ levelDb: beneathDb.get(), voices: 1, velocityDb: 0, driftCents: 0, driftDb: 0 },
    ...(isAsIs ? {} : { fit: 'stretched' as const, loopBpm: recording.bpm }),
  };
  const layer = { ...LAYER_INITIAL, id: 'beneath', padId: pad.id, hitId: hit.id, position: 0 };
  const fitted = fittedHit(pad, hit, bpm);
  const known = new Map(recordings.map((one) => [one.id, one]));
  const layers = [{ layer: { ...layer, hitId: fitted.id }, hit: fitted }];
  await sound.preparePad(pad, layers, [], known, bpm, STRAIGHT, current);
}

/** The strokes of the recording over a stretch: again whenever it has been through, from its middle where the stretch begins there. */
export function strokesBeneath(
  recording: RecordingTempo,
  { bpm }: Pick<Groove, 'bpm'>,
  { from, to }: Stretch,
  sampleRate: number,
): Stroke[] {
  const length = Math.max(TICKS_PER_QUARTER / 4, quartersOf(recording) * TICKS_PER_QUARTER);
  const framesPerTick = (60 * sampleRate) / (bpm * TICKS_PER_QUARTER);
  const strokes: Stroke[] = [];
  for (let n = Math.floor(from / length); n * length < to; n++) {
    const late = Math.max(0, from - n * length);
    // What is left out of a sound is told in its own time.
    const start = (late * framesPerTick * 1000) / sampleRate;
    strokes.push({
      ...{ at: (n * length + late - from) * framesPerTick, pad: BENEATH, velocity: 127, from: -1, to: -1 },
      offsets: { start },
    });
  }
  return strokes;
}
