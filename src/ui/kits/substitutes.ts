import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { HitView, KitView } from '@/contract/views';
import type { Pad } from '@/core/kit/model';
import { LAYER_INITIAL } from '@/core/kit/parameters';
import { type Substitute, substitutesFor } from '@/core/kit/substitutes';
import { copiesOf } from '../pads/laying';

/** A substitute for a role of a kit. */
export type KitSubstitute = Substitute<Stored<Pad>, HitView>;

/** Roles of a kit that have no sound. */
export function missingRoles(view: KitView): readonly Stored<Pad>[] {
  return view.pads.filter(({ id, role }) => role !== '' && !view.layers.some(({ padId }) => padId === id));
}

/** What can sound for a role of a kit, the best first. */
export function substitutesIn(view: KitView, pad: Pad, hits: readonly HitView[]): readonly KitSubstitute[] {
  const sounding = view.pads.filter(({ id }) => view.layers.some(({ padId }) => padId === id));
  return substitutesFor(pad, sounding, hits);
}

/** The name of a substitute as it is offered. */
export function nameOfSubstitute(substitute: KitSubstitute): string {
  return substitute.kind === 'hit' ? substitute.hit.name : substitute.pad.name;
}

/** Changes that let a role sound as its substitute does; the role keeps its note, name and settings. */
export function substituted(view: KitView, pad: Stored<Pad>, substitute: KitSubstitute, newId: () => string): Change[] {
  const set = { name: nameOfSubstitute(substitute) };
  const named: Change = { op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set };
  if (substitute.kind === 'pad') return [named, ...copiesOf(view, substitute.pad.id, pad.id, newId)];
  const layer = { padId: pad.id, hitId: substitute.hit.id, position: 0, ...LAYER_INITIAL };
  return [named, { op: 'create', doc: 'layer', id: newId(), value: layer }];
}

/** Changes that give every role without a sound its first substitute, and the roles for which there is none. */
export function allSubstituted(view: KitView, hits: readonly HitView[], newId: () => string) {
  const changes: Change[] = [];
  const without: string[] = [];
  let filled = 0;
  for (const pad of missingRoles(view)) {
    const [first] = substitutesIn(view, pad, hits);
    if (!first) without.push(pad.role);
    else {
      changes.push(...substituted(view, pad, first, newId));
      filled++;
    }
  }
  return { changes, filled, without };
}
