import type { TreatedHit } from '../hit/key';
import { panGains } from '../play/gains';
import type { LayerSlot, LayerSound, PadSlot, PadSound } from '../play/program';
import { fromDb, msToFrames, pitchRatio } from '../signal/units';
import type { Layer, Pad } from './model';
import { CHOKE_GROUPS, type LayerValues, type PadValues } from './parameters';

/** A layer of a pad with its hit. */
export interface LayerWithHit {
  readonly layer: Layer;
  readonly hit: TreatedHit;
}

/** Where a hit's sound lies in sample memory: floats to frame 0 of each side, its first and last frames, and the gain it is played with. */
export interface PooledSound {
  readonly left: number;
  readonly right: number;
  readonly start: number;
  readonly end: number;
  readonly sampleRate: number;
  readonly gain: number;
}

type Slots = readonly (PadSlot | LayerSlot)[];

/** The engine's slots that each parameter of a pad, and of a layer, is heard by; the compiler asks for every one, a test for no other. */
export const HEARD_BY = {
  levelDb: ['gainLeft', 'gainRight'],
  normaliseDbfs: ['gainLeft', 'gainRight'],
  pan: ['gainLeft', 'gainRight'],
  semitones: ['ratio'],
  cents: ['ratio'],
  mode: ['held'],
  chokeGroup: ['chokeGroup'],
  oneVoice: ['chokeGroup'],
  fadeOutMs: ['fadeOutFrames'],
  startMs: ['start'],
  // It tells which note plays the pad.
  note: [],
} as const satisfies Record<keyof PadValues, Slots>;

export const LAYER_HEARD_BY = {
  levelDb: ['gain'],
  semitones: ['ratio'],
  cents: ['ratio'],
} as const satisfies Record<keyof LayerValues, Slots>;

/** The group in which a pad is choked: its choke group, or one of its own where it plays one voice at a time; 0 for none. */
export function groupOf({ chokeGroup, oneVoice, position }: Pick<Pad, 'chokeGroup' | 'oneVoice' | 'position'>): number {
  if (chokeGroup > 0) return chokeGroup;
  return oneVoice ? CHOKE_GROUPS + 1 + position : 0;
}

/**
 * A pad as the engine plays it at `engineRate`. `soundOf` tells where each hit's sound lies; layers whose sound is not
 * there yet are left out. `normaliseGain` is what `normaliseGain()` of the same pad gives.
 */
export function padSound(
  pad: Pad,
  layers: readonly LayerWithHit[],
  engineRate: number,
  soundOf: (hit: TreatedHit) => PooledSound | null,
  normaliseGain: number,
): PadSound {
  const { left, right } = panGains(pad.pan);
  const level = fromDb(pad.levelDb) * normaliseGain;
  const sounds: LayerSound[] = [];
  for (const { layer, hit } of layers) {
    const sound = soundOf(hit);
    if (!sound) continue;
    const pitch = pitchRatio(pad.semitones + layer.semitones, pad.cents + layer.cents);
    sounds.push({
      left: sound.left,
      right: sound.right,
      start: Math.min(sound.end, sound.start + Math.round(msToFrames(pad.startMs, sound.sampleRate))),
      end: sound.end,
      ratio: (sound.sampleRate / engineRate) * pitch,
      gain: fromDb(layer.levelDb) * sound.gain,
      delay: 0,
    });
  }
  return {
    gainLeft: left * level,
    gainRight: right * level,
    held: pad.mode === 'held' ? 1 : 0,
    bus: 0,
    chokeGroup: groupOf(pad),
    fadeOutFrames: msToFrames(pad.fadeOutMs, engineRate),
    layers: sounds,
  };
}
