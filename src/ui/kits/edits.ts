import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { KitDocs } from '@/contract/views';
import type { Kit, Layer, Pad, Variation } from '@/core/kit/model';
import { kitSound } from '@/core/kit/pad-sound';
import { copiesOf } from '../pads/laying';

/** Removes a pad and its layers; the hits stay. One with a role stays, with its settings, without a sound. */
export function emptyPad(view: KitDocs, pad: Stored<Pad>): Change[] {
  if (pad.role === '') return [{ op: 'remove', doc: 'pad', id: pad.id, rev: pad.rev }];
  const remove = (doc: 'layer' | 'variation') => (row: { id: string; rev: number; padId: string }) =>
    row.padId === pad.id ? [{ op: 'remove', doc, id: row.id, rev: row.rev } as const] : [];
  return [
    ...view.layers.flatMap(remove('layer')),
    ...view.variations.flatMap(remove('variation')),
    { op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set: { name: pad.role } },
  ];
}

/** Plays another take on a layer, and keeps the current one in that take's place. */
export function takeInstead(
  view: KitDocs,
  pad: Stored<Pad>,
  layer: Stored<Layer>,
  variation: Stored<Variation>,
): Change[] {
  const nameOf = (hitId: string) => view.hits.find((hit) => hit.id === hitId)?.name;
  const name = nameOf(variation.hitId);
  // Renames a pad after its new sound, unless a person named it.
  const named = name !== undefined && pad.name === nameOf(layer.hitId);
  const rename: Change[] = named ? [{ op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set: { name } }] : [];
  return [
    ...rename,
    { op: 'update', doc: 'layer', id: layer.id, rev: layer.rev, set: { hitId: variation.hitId } },
    { op: 'update', doc: 'variation', id: variation.id, rev: variation.rev, set: { hitId: layer.hitId } },
  ];
}

/** A new kit with the same pads and layers, playing the same hits. */
export function copyKit(
  view: KitDocs,
  name: string,
  newId: () => string,
  set: Partial<Kit> = { versionOf: null, keptAt: null },
): { kitId: string; changes: Change[] } {
  const kitId = newId();
  const { id: _id, rev: _rev, ...kit } = view.kit;
  const made: Change = { op: 'create', doc: 'kit', id: kitId, value: { ...kit, name, ...set } };
  return { kitId, changes: [made, ...contentsOf(view, kitId, newId)] };
}

/** Keeps a kit as it is, as a version of it: its chances fall as the kit's do. */
export function keptVersion(view: KitDocs, name: string, now: number, newId: () => string): Change[] {
  const { seed } = kitSound(view.kit.id, view.kit);
  return copyKit(view, name, newId, { versionOf: view.kit.id, keptAt: now, seed }).changes;
}

/** Brings a kit back to what a version of it was; the kit keeps its name. */
export function restoredVersion(view: KitDocs, version: KitDocs, newId: () => string): Change[] {
  const { id, rev } = view.kit;
  const { id: _id, rev: _rev, name: _name, seed: _seed, versionOf: _of, keptAt: _at, ...set } = version.kit;
  const remove = (doc: 'pad' | 'bus') => (row: { id: string; rev: number }) =>
    ({ op: 'remove', doc, id: row.id, rev: row.rev }) as const;
  return [
    { op: 'update', doc: 'kit', id, rev, set },
    ...view.pads.map(remove('pad')),
    ...view.buses.map(remove('bus')),
    ...contentsOf(version, id, newId),
  ];
}

/** Copies of all that lies in a kit, for another one. */
function contentsOf(view: KitDocs, kitId: string, newId: () => string): Change[] {
  const changes: Change[] = [];
  const buses = new Map(view.buses.map(({ id }) => [id, newId()]));
  for (const { id, rev: _rev, ...bus } of view.buses)
    changes.push({ op: 'create', doc: 'bus', id: buses.get(id) as string, value: { ...bus, kitId } });
  for (const { id: _id, rev: _rev, ...step } of view.busSteps)
    changes.push({ op: 'create', doc: 'busStep', id: newId(), value: { ...step, busId: buses.get(step.busId) } });
  for (const { id, rev: _rev, ...pad } of view.pads) {
    const padId = newId();
    const busId = buses.get(pad.busId ?? '') ?? null;
    changes.push({ op: 'create', doc: 'pad', id: padId, value: { ...pad, kitId, busId } });
    changes.push(...copiesOf(view, id, padId, newId));
  }
  return changes;
}
