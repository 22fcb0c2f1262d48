import { fromDb } from '../signal/units';
import { OFF_DB, type VoiceSettings } from './parameters';

/** A part of a voice over time, as it is at full velocity without variation. */
export interface PartShape {
  readonly part: 'tone' | 'noise' | 'metal';
  /** Gain at so many ms after the stroke, linear; the envelope of the part's loudest, whatever it plays. */
  readonly gainAt: (ms: number) => number;
}

/** A decay's time is until 60 dB less, a sweep's until a hundredth of it is left. */
const DECAY = Math.log(1e-3);
const SWEEP = Math.log(1e-2);

/** The envelopes of the parts that are on. */
export function partShapes(voice: VoiceSettings): readonly PartShape[] {
  const parts = [
    { part: 'tone', db: voice.toneDb, attackMs: voice.toneAttackMs, decayMs: voice.toneDecayMs },
    { part: 'noise', db: voice.noiseDb, attackMs: voice.noiseAttackMs, decayMs: voice.noiseDecayMs },
    { part: 'metal', db: voice.metalDb, attackMs: 0, decayMs: voice.metalDecayMs },
  ] as const;
  return parts
    .filter(({ db }) => db > OFF_DB)
    .map(({ part, db, attackMs, decayMs }) => {
      const gain = fromDb(db + voice.levelDb);
      // Several bursts: what is heard of them together falls from the last one on.
      const held = part === 'noise' ? (voice.bursts - 1) * voice.spacingMs : 0;
      return {
        part,
        gainAt: (ms) =>
          ms < attackMs
            ? (gain * ms) / attackMs
            : gain * Math.exp((DECAY * Math.max(0, ms - attackMs - held)) / Math.max(1, decayMs)),
      };
    });
}

/** The tone's pitch in Hz so many ms after the stroke; null where the voice has no tone. */
export function pitchShape({ toneDb, toneHz, sweep, sweepMs }: VoiceSettings): ((ms: number) => number) | null {
  if (toneDb <= OFF_DB) return null;
  return (ms) => toneHz * 2 ** ((sweep / 12) * Math.exp((SWEEP * ms) / Math.max(1, sweepMs)));
}
