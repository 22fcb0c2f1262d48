import type { TreatedHit } from '@/core/hit/key';
import { Addition } from '@/core/layering/addition';
import type { LayerSound } from '@/core/layering/layers';
import { linedUp, turned } from '@/core/layering/taken';
import { measured } from '@/core/loudness/measured';
import { extremes } from './columns';
import { layersOf, type RecordingFormat, soundOf } from './sounds';

/** Where a layer of a variant lies, and its level. */
export interface MemberPlace {
  readonly offsetFrames: number;
  readonly inverted: boolean;
  readonly levelDb: number;
}

/** A layered hit with other sounds in it, lined up as the first layer lies and levelled as the sounds they replace. */
export interface Variant {
  readonly members: readonly MemberPlace[];
  /** Lowest and highest sample of each column. */
  readonly wave: Float32Array;
  readonly lufs: number;
  /** What the sum loses under 200 Hz, in dB. */
  readonly lostDb: number;
}

/** Renders variants of a layered hit: each has the same members, some of them with another hit. */
export async function variantsOf(
  hit: TreatedHit,
  variants: readonly TreatedHit[],
  recording: RecordingFormat,
  columns: number,
): Promise<Variant[]> {
  const now = (await layersOf(hit, recording)).map(loudnessOf);
  const made: Variant[] = [];
  for (const variant of variants) {
    const sounds = await layersOf(variant, recording);
    const levelled = sounds.map((sound, n) => {
      const isOther = variant.members?.[n]?.hitId !== hit.members?.[n]?.hitId;
      const by = (now[n] as number) - loudnessOf(sound);
      return isOther && Number.isFinite(by) ? { ...sound, levelDb: sound.levelDb + by } : sound;
    });
    const lined = turned(linedUp(levelled));
    const members = lined.map((sound, n): MemberPlace => {
      const member = variant.members?.[n];
      // The gain of the layer's own hit is no part of the layer's level.
      const ownDb = (sounds[n] as LayerSound).levelDb - (member?.levelDb ?? 0);
      const levelDb = Math.max(-60, Math.min(24, Math.round(10 * (sound.levelDb - ownDb)) / 10));
      return { offsetFrames: sound.offsetFrames, inverted: sound.inverted, levelDb };
    });
    const placed = {
      ...variant,
      members: (variant.members ?? []).map((member, n) => ({ ...member, ...members[n] })),
    };
    const { audio, gain } = await soundOf({ ...placed, id: '' }, recording);
    const room = Math.max(0, ...lined.map((l) => Math.abs(l.offsetFrames)));
    made.push({
      members,
      wave: extremes(audio, gain, { columns }),
      lufs: measured(audio).momentaryLufs,
      lostDb: new Addition(lined, room).lostUnder200HzDb(),
    });
  }
  return made;
}

function loudnessOf({ audio, levelDb }: LayerSound): number {
  return measured(audio).momentaryLufs + levelDb;
}
