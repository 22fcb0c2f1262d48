import { shaped } from '../../dynamics/followers';
import type { Values } from '../../parameter/parameter';
import { frameCount } from '../../signal/audio';
import { fromDb } from '../../signal/units';
import type { envelope as declared } from '../envelope';
import type { Process } from '../processor';

/** A release falls by this much, evenly in dB, and is silent with the last frame. */
const RELEASE_DB = 60;

export const envelope: Process<typeof declared.parameters> = (audio, values) => {
  const ms = (1000 * frameCount(audio)) / audio.sampleRate;
  const gains = Float64Array.from({ length: frameCount(audio) }, (_, i) =>
    envelopeAt((1000 * i) / audio.sampleRate, ms - 1000 / audio.sampleRate, values),
  );
  return shaped(audio, gains);
};

/**
 * The gain at a time of a sound that ends at `endMs`: up in a straight line, held, down evenly in dB to the sustained level,
 * and down evenly in dB before the end. Where stages are longer than the sound it ends within them.
 */
export function envelopeAt(ms: number, endMs: number, values: Values<typeof declared.parameters>): number {
  const { attackMs, holdMs, decayMs, sustainDb, releaseMs } = values;
  const rise = ms < attackMs ? ms / attackMs : 1;
  const since = ms - attackMs - holdMs;
  const fallDb = since <= 0 ? 0 : decayMs === 0 ? sustainDb : sustainDb * Math.min(1, since / decayMs);
  const left = endMs - ms;
  if (releaseMs > 0 && left <= 0) return 0;
  const releaseDb = left < releaseMs ? -RELEASE_DB * (1 - left / releaseMs) : 0;
  return rise * fromDb(fallDb + releaseDb);
}
