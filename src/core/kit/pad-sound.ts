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

/** Position of a hit's sound in sample memory (floats to frame 0 of each side, first and last frames), and its gain. */
export interface PooledSound {
  readonly left: number;
  readonly right: number;
  readonly start: number;
  readonly end: number;
  readonly sampleRate: number;
  readonly gain: number;
}

type Slots = readonly (PadSlot | LayerSlot)[];

/**
 * The engine's slots that realise each parameter of a pad, and of a layer. The compiler requires every parameter, a
 * test every slot.
 */
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
  // It selects the pad by its note.
  note: [],
} as const satisfies Record<keyof PadValues, Slots>;

export const LAYER_HEARD_BY = {
  levelDb: ['gain'],
  pan: ['panLeft', 'panRight'],
  lowVelocity: ['lowVelocity'],
  highVelocity: ['highVelocity'],
  semitones: ['ratio'],
  cents: ['ratio'],
  offsetMs: ['delay'],
  inverted: ['gain'],
} as const satisfies Record<keyof LayerValues, Slots>;

/** The layers that sound under the take that a pad plays, its first layer's; those for another take are silent. */
export function soundingLayers<L extends { readonly layer: Pick<Layer, 'hitId' | 'withHitId'> }>(
  layers: readonly L[],
): readonly L[] {
  const take = layers[0]?.layer.hitId;
  return layers.filter(({ layer }) => layer.withHitId === null || layer.withHitId === take);
}

/** The group a pad is choked in: its choke group, or a private one where it plays one voice at a time; 0 for none. */
export function groupOf({ chokeGroup, oneVoice, position }: Pick<Pad, 'chokeGroup' | 'oneVoice' | 'position'>): number {
  if (chokeGroup > 0) return chokeGroup;
  return oneVoice ? CHOKE_GROUPS + 1 + position : 0;
}

/**
 * A pad's program at `engineRate`. `soundOf` gives the position of each hit's sound; layers that are not loaded yet are
 * left out. `normaliseGain` is the result of `normaliseGain()` for the pad.
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
  const sounding = soundingLayers(layers);
  const earliest = Math.min(0, ...sounding.map(({ layer }) => layer.offsetMs));
  for (const { layer, hit } of sounding) {
    const sound = soundOf(hit);
    if (!sound) continue;
    const { left: panLeft, right: panRight } = panGains(layer.pan);
    const pitch = pitchRatio(pad.semitones + layer.semitones, pad.cents + layer.cents);
    sounds.push({
      left: sound.left,
      right: sound.right,
      start: Math.min(sound.end, sound.start + Math.round(msToFrames(pad.startMs, sound.sampleRate))),
      end: sound.end,
      ratio: (sound.sampleRate / engineRate) * pitch,
      panLeft,
      panRight,
      lowVelocity: layer.lowVelocity,
      highVelocity: layer.highVelocity,
      gain: fromDb(layer.levelDb) * sound.gain * (layer.inverted ? -1 : 1),
      delay: Math.round(msToFrames(layer.offsetMs - earliest, engineRate)),
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
