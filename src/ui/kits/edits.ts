import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { KitDocs } from '@/contract/views';
import type { Kit, Layer, Pad, Variation } from '@/core/kit/model';
import { kitSound } from '@/core/kit/pad-sound';
import { BANK_SIZE } from '@/core/kit/parameters';
import { asKitHas } from '@/core/kit/whole-kit';
import { KIT_PADS } from '@/core/play/limits';
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
  set: Partial<Kit> = { versionOf: null, keptAt: null, supplied: false },
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
  const {
    id: _id,
    rev: _rev,
    name: _name,
    supplied: _supplied,
    seed: _seed,
    versionOf: _of,
    keptAt: _at,
    ...set
  } = version.kit;
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

/** What became of a kit that was laid into another one. */
export interface LaidInto {
  readonly changes: readonly Change[];
  /** Pads that lie elsewhere than in their own kit, and those that found no place. */
  readonly moved: number;
  readonly left: number;
}

/**
 * Lays all pads of a kit into another one, as they sound there: each on its own place where that is free, else on the first
 * free one from the second bank on, with the note of that place. Its buses come along.
 */
export function laidInto(view: KitDocs, target: KitDocs, newId: () => string): LaidInto {
  const taken = new Set(target.pads.map(({ position }) => position));
  const free = (position: number) => {
    if (!taken.has(position)) return position;
    for (let i = 0; i < KIT_PADS; i++) {
      const place = (BANK_SIZE + i) % KIT_PADS;
      if (!taken.has(place)) return place;
    }
    return null;
  };
  let moved = 0;
  // Those that another one, heard alone, silences are not muted themselves.
  const own = new Map(view.pads.map(({ id, muted }) => [id, muted]));
  const sounding = asKitHas(view.pads, view.kit).map((pad) => ({
    ...pad,
    muted: own.get(pad.id) === true,
    alone: false,
  }));
  const pads = sounding.flatMap((pad) => {
    const position = free(pad.position);
    if (position === null) return [];
    taken.add(position);
    if (position === pad.position) return [pad];
    moved++;
    return [{ ...pad, position, note: null }];
  });
  const order = Math.max(-1, ...target.buses.map(({ position }) => position)) + 1;
  // It has a room and an echo of its own, if any.
  const kinds = new Set(target.buses.map(({ kind }) => kind));
  const buses = view.buses
    .filter(({ kind }) => kind === 'bus' || !kinds.has(kind))
    .map((bus) => ({ ...bus, position: bus.position + order }));
  const laid = {
    ...view,
    pads,
    buses,
    busSteps: view.busSteps.filter(({ busId }) => buses.some(({ id }) => id === busId)),
  };
  return { changes: contentsOf(laid, target.kit.id, newId), moved, left: view.pads.length - pads.length };
}
