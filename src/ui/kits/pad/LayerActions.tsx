import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { useRouter } from 'next/navigation';
import type { Stored } from '@/contract/documents';
import type { KitDocs, KitView } from '@/contract/views';
import type { Layer, Pad } from '@/core/kit/model';
import { getJson } from '../../data/api';
import { useCommands } from '../../data/commit';
import { useHits, useKits } from '../../data/queries';
import { complain, tell } from '../../parts/notice';
import { apart, asOneHit, layersToKit, whyNotApart } from '../layered';
import { heardLayers } from '../layers';

interface LayerActionsProps {
  readonly view: KitView;
  readonly pad: Stored<Pad>;
  readonly layers: readonly Stored<Layer>[];
  readonly chosen: Stored<Layer> | undefined;
}

const newId = () => crypto.randomUUID();

/** What can be done with all layers of a pad: one hit of them and back, and beside the same roles of another kit. */
export function LayerActions({ view, pad, layers, chosen }: LayerActionsProps) {
  const { commit } = useCommands();
  const router = useRouter();
  const hits = useHits();
  const others = (useKits().data ?? []).filter(({ id }) => id !== view.kit.id);
  const heard = heardLayers(view, layers);
  const one = heard.find(({ layer }) => layer.id === chosen?.id) ?? heard[0];
  const isLayered = (one?.hit.members.length ?? 0) > 0;
  const whyNot = one && isLayered ? whyNotApart(one.hit, layers.length - 1) : '';
  const isEmpty = layers.length < 2 && !isLayered && others.length === 0;
  const join = async () => {
    const id = newId();
    const taken = new Set([...(hits.data ?? []), ...view.hits].map(({ name }) => name));
    const answer = await commit(`made one hit of the layers of ${pad.name}`, asOneHit(pad, heard, taken, id, newId));
    if (answer)
      tell(`${pad.name} plays one layered hit now.`, {
        action: { label: 'Open its layers', onClick: () => router.push(`/hits/${id}/layers`) },
      });
  };
  const copy = async (kitId: string, name: string, pads: readonly Stored<Pad>[]) => {
    const to = await getJson<KitDocs>(`/api/kits/${kitId}`);
    const { changes, pads: reached, missing } = layersToKit(view, pads, to, newId);
    if (changes.length > 0) await commit(`copied layers of ${view.kit.name} to ${name}`, changes);
    const left = missing.length > 0 ? ` No pad of that role, or no room, for ${missing.join(', ')}.` : '';
    tell(
      changes.length > 0
        ? `${changes.length === 1 ? 'One layer lies' : `${changes.length} layers lie`} beside ${reached.join(', ')} of ${name} now.${left}`
        : `Nothing was copied to ${name}: ${left.trim() || 'no pad has a sound beside its first one.'}`,
    );
  };
  const copying = (kitId: string, name: string, pads: readonly Stored<Pad>[]) => () =>
    void copy(kitId, name, pads).catch((error: Error) => complain(error.message));
  if (isEmpty) return null;
  return (
    <Menu as="span">
      <MenuButton className="rounded px-1 text-[12px] text-verdigris hover:underline">more …</MenuButton>
      <MenuItems
        anchor="bottom end"
        className="z-30 w-[340px] rounded-lg border border-edge bg-sheet p-1 shadow-lg [--anchor-gap:4px]"
      >
        {layers.length > 1 && <Item label="One layered hit of them" onClick={() => void join()} />}
        {one && isLayered && (
          <Item
            label={`Open the layers of ${one.hit.name}`}
            onClick={() => router.push(`/hits/${one.hit.id}/layers`)}
          />
        )}
        {one && isLayered && (
          <Item
            label={`Lay the layers of ${one.hit.name} apart`}
            why={whyNot}
            onClick={() => void commit(`laid the layers of ${one.hit.name} apart on ${pad.name}`, apart(one, newId))}
          />
        )}
        {layers.length > 1 &&
          others.map(({ id, name }) => (
            <Item key={id} label={`Beside the same role of ${name}`} onClick={copying(id, name, [pad])} />
          ))}
        {others.map(({ id, name }) => (
          <Item
            key={id}
            label={`All layers of this kit beside the roles of ${name}`}
            onClick={copying(id, name, view.pads)}
          />
        ))}
      </MenuItems>
    </Menu>
  );
}

/** An entry; one that is not possible says why. */
function Item({ label, why = '', onClick }: { label: string; why?: string; onClick: () => void }) {
  return (
    <MenuItem disabled={why !== ''}>
      <button
        type="button"
        className="block w-full rounded px-2 py-1 text-left data-disabled:text-soft data-focus:bg-selection"
        onClick={onClick}
      >
        {label}
        {why && <span className="block text-[12px]">{why}</span>}
      </button>
    </MenuItem>
  );
}
