import type { Change } from '@/contract/edits';
import type { KitView, StoredHit } from '@/contract/views';
import { useCommands } from '../../data/commit';
import { useHits } from '../../data/queries';
import { copyOf } from '../../hits/edits';

/** Names the other kits that play a hit and follow its edges, and offers this kit a copy of its own. */
export function SharedHit({ view, hit }: { view: KitView; hit: StoredHit }) {
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
function ownCopy(view: KitView, hit: StoredHit, taken: ReadonlySet<string>): Change[] {
  const { id } = hit;
  const copyId = crypto.randomUUID();
  const point = (doc: 'layer' | 'variation') => (row: { id: string; rev: number; hitId: string }) =>
    row.hitId === id ? [{ op: 'update', doc, id: row.id, rev: row.rev, set: { hitId: copyId } } as const] : [];
  return [
    ...copyOf(hit, copyId, hit.name, taken, () => crypto.randomUUID()).changes,
    ...view.layers.flatMap(point('layer')),
    ...view.variations.flatMap(point('variation')),
  ];
}
