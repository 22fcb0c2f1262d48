import type { Hit } from '../hit/model';
import { noteOf } from './layout';
import type { Pad } from './model';

/** What can sound for a role that has no sound. */
export type Substitute<P, H> = { readonly kind: 'pad'; readonly pad: P } | { readonly kind: 'hit'; readonly hit: H };

/**
 * Substitutes for a role without a sound, the best first: pads of the kit that sound and are of its family, by how near
 * their notes lie, then hits of its family, those whose names share words with the role before the others.
 */
export function substitutesFor<P extends Pad, H extends Pick<Hit, 'name' | 'family' | 'binnedAt'>>(
  wanted: Pad,
  sounding: readonly P[],
  hits: readonly H[],
): Substitute<P, H>[] {
  if (wanted.family === null) return [];
  const apart = (pad: P) => Math.abs(noteOf(pad) - noteOf(wanted));
  const words = wordsOf(wanted.role);
  const shared = ({ name }: H) => wordsOf(name).filter((word) => words.includes(word)).length;
  return [
    ...sounding
      .filter(({ id, family }) => family === wanted.family && id !== wanted.id)
      .sort((a, b) => apart(a) - apart(b) || a.position - b.position)
      .map((pad) => ({ kind: 'pad', pad }) as const),
    ...hits
      .filter(({ family, binnedAt }) => family === wanted.family && binnedAt === null)
      .map((hit, i) => ({ hit, i, shared: shared(hit) }))
      .sort((a, b) => b.shared - a.shared || a.i - b.i)
      .map(({ hit }) => ({ kind: 'hit', hit }) as const),
  ];
}

function wordsOf(name: string): string[] {
  return name.toLowerCase().match(/\p{L}+/gu) ?? [];
}
