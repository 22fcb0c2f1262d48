import { clip } from '../parameter/values';
import type { Pad } from './model';
import { type KitValues, PAD_PARAMETERS } from './parameters';

/**
 * A kit's pads as its values for the whole have them: transposed, levelled, their attacks longer and tails shorter, muted where
 * others are alone. The pads' own values are not touched.
 */
export function asKitHas<P extends Pad>(pads: readonly P[], kit: KitValues): readonly P[] {
  const isAnyAlone = pads.some(({ alone }) => alone);
  const { transpose, levelDb, attackMs, tailMs } = kit;
  return pads.map((pad) => {
    const tail =
      tailMs === null
        ? {}
        : {
            levelDecayMs: Math.min(pad.levelDecayMs ?? tailMs, tailMs),
            levelSustain: 0,
            levelReleaseMs: Math.min(pad.levelReleaseMs, tailMs),
          };
    return {
      ...pad,
      ...tail,
      muted: pad.muted || (isAnyAlone && !pad.alone),
      semitones: clip(PAD_PARAMETERS.semitones, pad.semitones + transpose),
      levelDb: clip(PAD_PARAMETERS.levelDb, pad.levelDb + levelDb),
      levelAttackMs:
        attackMs === 0 ? pad.levelAttackMs : clip(PAD_PARAMETERS.levelAttackMs, (pad.levelAttackMs ?? 0) + attackMs),
    };
  });
}

/** A pad as it leaves the kit: muting and hearing alone are for working on it. */
export function heardAgain<P extends Pad>(pad: P): P {
  return pad.muted || pad.alone ? { ...pad, muted: false, alone: false } : pad;
}
