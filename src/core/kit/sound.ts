import type { Hit } from '../hit/model';
import { type LayerSound, type PadSound, panGains } from '../play/sound';
import { fromDb, msToFrames, pitchRatio } from '../signal/units';
import { CHOKE_GROUPS, type Layer, type Pad } from './model';

/** A layer of a pad with its hit. */
export interface LayerWithHit {
  readonly layer: Layer;
  readonly hit: Hit;
}

/** Where a recording's stretch lies in sample memory: floats to the first frame of each side, and the frame it holds first. */
export interface PooledSource {
  readonly left: number;
  readonly right: number;
  readonly firstFrame: number;
  readonly sampleRate: number;
}

/** The group in which a pad is choked: its choke group, or one of its own where it plays one voice at a time; 0 for none. */
export function groupOf({ chokeGroup, oneVoice, position }: Pick<Pad, 'chokeGroup' | 'oneVoice' | 'position'>): number {
  if (chokeGroup > 0) return chokeGroup;
  return oneVoice ? CHOKE_GROUPS + 1 + position : 0;
}

/**
 * A pad as the engine plays it at `engineRate`. `sourceOf` tells where each hit's audio lies; layers whose audio is not
 * there yet are left out. `normaliseGain` is what `normaliseGain()` of the same pad gives.
 */
export function padSound(
  pad: Pad,
  layers: readonly LayerWithHit[],
  engineRate: number,
  sourceOf: (hit: Hit) => PooledSource | null,
  normaliseGain: number,
): PadSound {
  const { left, right } = panGains(pad.pan);
  const level = fromDb(pad.levelDb) * normaliseGain;
  const sounds: LayerSound[] = [];
  for (const { layer, hit } of layers) {
    const source = sourceOf(hit);
    if (!source) continue;
    const pitch = pitchRatio(pad.semitones + layer.semitones, pad.cents + layer.cents);
    sounds.push({
      left: source.left,
      right: source.right,
      start: hit.startFrame - source.firstFrame,
      end: hit.endFrame - source.firstFrame,
      ratio: (source.sampleRate / engineRate) * pitch,
      gain: fromDb(layer.levelDb) * fromDb(hit.gainDb),
      delay: 0,
    });
  }
  return {
    gainLeft: left * level,
    gainRight: right * level,
    held: pad.mode === 'held',
    chokeGroup: groupOf(pad),
    fadeOutFrames: msToFrames(pad.fadeOutMs, engineRate),
    layers: sounds,
  };
}
