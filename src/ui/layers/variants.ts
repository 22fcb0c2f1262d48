import type { Change } from '@/contract/edits';
import type { HitView, ResolvedMember } from '@/contract/views';
import type { Variant } from '@/worker/variants';
import { copyOf } from '../hits/edits';

/** How many other sounds are offered to either side of a layer's own. */
const NEIGHBOURS = 2;

/** Hits that could be in a layer's place: those of its family, in the library's order, without the layered hit itself. */
export function likeLayer(hits: readonly HitView[], { hit }: ResolvedMember, layeredId: string): readonly HitView[] {
  return hits.filter(
    ({ family, binnedAt, id, members }) =>
      family === hit.family && binnedAt === null && id !== layeredId && members.length === 0,
  );
}

/** A layer's own sound and its neighbours, in the library's order. */
export function neighboursOf(hits: readonly HitView[], member: ResolvedMember, layeredId: string): HitView[] {
  const like = likeLayer(hits, member, layeredId);
  const at = like.findIndex(({ id }) => id === member.hitId);
  if (at < 0) return like.slice(0, 2 * NEIGHBOURS + 1);
  const first = Math.max(0, Math.min(at - NEIGHBOURS, like.length - 2 * NEIGHBOURS - 1));
  return like.slice(first, first + 2 * NEIGHBOURS + 1);
}

/** A layered hit with other hits in some of its layers. */
export function withHits(hit: HitView, by: ReadonlyMap<string, HitView>): HitView {
  const members = hit.members.map((member) => {
    const other = by.get(member.id);
    return other ? { ...member, hitId: other.id, hit: other } : member;
  });
  return { ...hit, members };
}

/** A variant as it was rendered: its layers lined up and levelled. */
export function placed(hit: HitView, { members }: Pick<Variant, 'members'>): HitView {
  return { ...hit, members: hit.members.map((member, n) => ({ ...member, ...members[n] })) };
}

/** The changes that keep variants as hits, and as further takes of the pads that play the layered hit. */
export function keptVariants(
  variants: readonly HitView[],
  taken: ReadonlySet<string>,
  pads: readonly { readonly id: string; readonly takes: number }[],
  newId: () => string,
): Change[] {
  const names = new Set(taken);
  return variants.flatMap((variant, n): Change[] => {
    const id = newId();
    const { changes, name } = copyOf(variant, id, variant.name, names, newId);
    names.add(name);
    return [
      ...changes,
      ...pads.map(
        ({ id: padId, takes }): Change => ({
          op: 'create',
          doc: 'variation',
          id: newId(),
          value: { padId, hitId: id, position: takes + n },
        }),
      ),
    ];
  });
}
