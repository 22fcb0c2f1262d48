import { HIT_INITIAL } from '../hit/initial';
import { stretchesOf, type TreatedHit, type TreatedMember } from '../hit/key';
import type { Member } from '../layering/model';
import { MEMBER_INITIAL } from '../layering/parameters';
import { msToFrames } from '../signal/units';
import type { LayerWithHit } from './pad-sound';
import { LAYER_INITIAL, type LayerValues } from './parameters';

/** Layers of a pad as those of a layered hit at a sample rate; the pad's own tune is not in them. */
export function memberOf(
  { layer, hit }: LayerWithHit,
  position: number,
  sampleRate: number,
): Omit<Member, 'id' | 'layeredId'> {
  const { levelDb, pan, semitones, cents, offsetMs, inverted } = layer;
  const offsetFrames = Math.round(msToFrames(offsetMs, sampleRate));
  return { ...MEMBER_INITIAL, hitId: hit.id, position, offsetFrames, levelDb, pan, semitones, cents, inverted };
}

/** A pad's layers as a layered hit that is in no library; `ids` of its members are those of the layers. */
export function padAsHit(name: string, layers: readonly LayerWithHit[], sampleRate: number): TreatedHit | null {
  const stretch = layers[0] && stretchesOf(layers[0].hit)[0];
  if (!stretch) return null;
  const { recordingId, startFrame, endFrame } = stretch;
  const members = layers.map(
    (one, position): TreatedMember => ({
      ...memberOf(one, position, sampleRate),
      id: one.layer.id,
      layeredId: '',
      steps: [],
      hit: one.hit,
    }),
  );
  return {
    ...HIT_INITIAL,
    ...{ id: '', name, family: null, sliceId: null, recordingId, startFrame, endFrame },
    ...{ members, steps: [] },
  };
}

/** What a layer of a layered hit has that a layer of a pad cannot have; empty where it can be one. */
export function keptFromPads(member: Pick<TreatedMember, 'bandsDb' | 'steps' | 'muted' | 'alone'>): string[] {
  return [
    ...(member.bandsDb.some((db) => db !== 0) ? ['bands of its own'] : []),
    ...(member.steps.length === 0 ? [] : ['steps of its own']),
    ...(member.muted || member.alone ? ['layers that are muted or alone'] : []),
  ];
}

/** A layer of a layered hit as one of a pad. */
export function padLayerOf(member: Member, sampleRate: number): LayerValues & { readonly hitId: string } {
  const { hitId, levelDb, pan, semitones, cents, inverted, offsetFrames } = member;
  return {
    ...LAYER_INITIAL,
    hitId,
    levelDb,
    pan,
    semitones,
    cents,
    inverted,
    offsetMs: (1000 * offsetFrames) / sampleRate,
  };
}
