import type { HitDocs, KitDocs, KitView, ResolvedMember, StoredHit } from './views';

type Resolved<H extends HitDocs> = Omit<H, 'members'> & Pick<StoredHit, 'members'>;

/**
 * Hits with the hits of their layers inside, at any depth. `all` has the hits that may be layers; a layer whose hit is not
 * there is left out. A layered hit inherits nothing: its layers' hits do.
 */
export function resolvedHits<H extends HitDocs>(
  hits: readonly H[],
  all: readonly HitDocs[] = hits,
): readonly Resolved<H>[] {
  if (hits.every(isWhole)) return hits;
  const byId = new Map([...all, ...hits].map((hit) => [hit.id, hit]));
  const done = new Map<string, StoredHit>();
  return hits.map((hit) => resolved(hit, byId, done, new Set()));
}

/** A kit's view with its layered hits resolved: its hits are those that its pads play. */
export function resolvedKit(view: KitDocs): KitView {
  if (view.hits.every(isWhole)) return { ...view, hits: view.hits };
  const played = new Set([...view.layers, ...view.variations].map(({ hitId }) => hitId));
  return {
    ...view,
    hits: resolvedHits(
      view.hits.filter(({ id }) => played.has(id)),
      view.hits,
    ),
  };
}

function isWhole<H extends HitDocs>(hit: H): hit is H & { readonly members: readonly never[] } {
  return hit.members.length === 0;
}

/** `inside`: the layered hits around it; one of them as a layer, which the server refuses, is left out. */
function resolved<H extends HitDocs>(
  hit: H,
  byId: ReadonlyMap<string, HitDocs>,
  done: Map<string, StoredHit>,
  inside: ReadonlySet<string>,
): Resolved<H> {
  if (isWhole(hit)) return hit;
  const around = new Set([...inside, hit.id]);
  const members = hit.members.flatMap((member): ResolvedMember[] => {
    const found = byId.get(member.hitId);
    if (!found || around.has(found.id)) return [];
    const inner = done.get(found.id) ?? resolved(found, byId, done, around);
    return [{ ...member, hit: inner }];
  });
  const whole = { ...hit, members, inherited: [] };
  done.set(hit.id, whole);
  return whole;
}
