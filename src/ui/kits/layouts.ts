import type { Change } from '@/contract/edits';
import type { KitDocs } from '@/contract/views';
import type { LayoutPlace } from '@/core/kit/model';
import { PAD_INITIAL } from '@/core/kit/parameters';
import { copiesOf } from '../pads/laying';

/**
 * Gives a kit the roles of a layout: a pad that lies at a role's place has it from then on, other places get an empty pad.
 * What lies elsewhere stays as it is, without a role.
 */
export function laidOut(view: KitDocs, places: readonly LayoutPlace[], newId: () => string): Change[] {
  const byPlace = new Map(view.pads.map((pad) => [pad.position, pad]));
  const own = new Set(places.map(({ position }) => position));
  const roles = places.map(({ position, role, family, note, settings }): Change => {
    const pad = byPlace.get(position);
    if (!pad) {
      const value = { kitId: view.kit.id, ...PAD_INITIAL, position, name: role, role, family, note, ...settings };
      return { op: 'create', doc: 'pad', id: newId(), value };
    }
    const sounds = view.layers.some(({ padId }) => padId === pad.id);
    const name = sounds ? {} : { name: role };
    const set = { ...name, role, family: pad.family ?? family, note, ...settings };
    return { op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set };
  });
  const others = view.pads.flatMap((pad): Change[] => {
    if (own.has(pad.position) || pad.role === '') return [];
    const sounds = view.layers.some(({ padId }) => padId === pad.id);
    if (!sounds) return [{ op: 'remove', doc: 'pad', id: pad.id, rev: pad.rev }];
    return [{ op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set: { role: '' } }];
  });
  return [...roles, ...others];
}

/** A new kit with the pads of another, their roles and settings, without their sounds. */
export function emptiedKit(view: KitDocs, name: string, newId: () => string): { kitId: string; changes: Change[] } {
  const kitId = newId();
  const { id: _id, rev: _rev, ...kit } = view.kit;
  const changes: Change[] = [{ op: 'create', doc: 'kit', id: kitId, value: { ...kit, name } }];
  for (const { id, rev: _padRev, ...pad } of view.pads) {
    const padId = newId();
    const role = pad.role || pad.name;
    changes.push({ op: 'create', doc: 'pad', id: padId, value: { ...pad, kitId, role, name: role } });
    changes.push(...copiesOf(view, id, padId, newId).filter((change) => change.doc === 'padStep'));
  }
  return { kitId, changes };
}
