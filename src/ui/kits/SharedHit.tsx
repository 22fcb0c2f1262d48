import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { KitView } from '@/contract/views';
import type { Hit } from '@/core/hit/model';
import { freeName } from '@/core/naming/names';
import { useCommands } from '../data/commit';
import { useHits } from '../data/queries';

/** Names the other kits that play a hit and follow its edges, and offers this kit a copy of its own. */
export function SharedHit({ view, hit }: { view: KitView; hit: Stored<Hit> }) {
  const { commit } = useCommands();
  const { data: hits } = useHits();
  const others = (hits?.find((h) => h.id === hit.id)?.kits ?? []).filter((kit) => kit !== view.kit.name);
  if (others.length === 0) return null;
  return (
    <p role="note" className="mt-1 flex items-baseline gap-2 text-[12px] text-soft">
      <span className="min-w-0 flex-1">
        Also played by {others.join(', ')}: cutting it changes {others.length === 1 ? 'that kit' : 'those kits'} too.
      </span>
      <button
        type="button"
        className="flex-none rounded px-1 text-verdigris hover:underline"
        onClick={() =>
          void commit(`made ${hit.name} this kit's own`, ownCopy(view, hit, new Set(hits?.map((h) => h.name))))
        }
      >
        A copy for this kit
      </button>
    </p>
  );
}

/** Copies a hit for this kit; its layers and takes then play the copy. */
export function ownCopy(view: KitView, hit: Stored<Hit>, taken: ReadonlySet<string>): Change[] {
  const { id, rev: _rev, ...value } = hit;
  const copyId = crypto.randomUUID();
  const point = (doc: 'layer' | 'variation') => (row: { id: string; rev: number; hitId: string }) =>
    row.hitId === id ? [{ op: 'update', doc, id: row.id, rev: row.rev, set: { hitId: copyId } } as const] : [];
  return [
    { op: 'create', doc: 'hit', id: copyId, value: { ...value, name: freeName(hit.name, taken) } },
    ...view.layers.flatMap(point('layer')),
    ...view.variations.flatMap(point('variation')),
  ];
}
