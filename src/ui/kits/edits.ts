import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { KitView } from '@/contract/views';
import type { Pad } from '@/core/kit/model';

/** Takes a pad's sounds off it; its layers go with it, its hits stay. */
export function emptyPad(pad: Stored<Pad>): Change[] {
  return [{ op: 'remove', doc: 'pad', id: pad.id, rev: pad.rev }];
}

/** A new kit with the same pads and layers; both kits play the same hits. */
export function copyKit(view: KitView, name: string, newId: () => string): { kitId: string; changes: Change[] } {
  const kitId = newId();
  const changes: Change[] = [{ op: 'create', doc: 'kit', id: kitId, value: { name } }];
  for (const { id, rev: _rev, ...pad } of view.pads) {
    const padId = newId();
    changes.push({ op: 'create', doc: 'pad', id: padId, value: { ...pad, kitId } });
    for (const { id: _id, rev: _r, ...layer } of view.layers.filter((l) => l.padId === id)) {
      changes.push({ op: 'create', doc: 'layer', id: newId(), value: { ...layer, padId } });
    }
  }
  return { kitId, changes };
}
