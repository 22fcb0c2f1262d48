'use client';

import type { KitDocs, KitView } from '@/contract/views';
import { getJson } from '../data/api';
import { useCommands } from '../data/commit';
import { useKits } from '../data/queries';
import { useKitDesk } from '../pads/kit-context';
import { Choice } from '../parts/Choice';
import { complain, tell } from '../parts/notice';
import { laidInto } from './edits';

const newId = () => crypto.randomUUID();

/** Lays all pads of the kit into another one, which is opened. */
export function LayInto({ view }: { view: KitView }) {
  const { commit } = useCommands();
  const { choose } = useKitDesk();
  const others = (useKits().data ?? []).filter(({ id }) => id !== view.kit.id);
  if (others.length === 0 || view.pads.length === 0) return null;
  const lay = async (targetId: string) => {
    const target = await getJson<KitDocs>(`/api/kits/${targetId}`);
    const { changes, moved, left } = laidInto(view, target, newId);
    if (!(await commit(`laid ${view.kit.name} into ${target.kit.name}`, changes))) return;
    const said = moved === 0 ? 'each on its own note' : `${moved} on other notes, since theirs were taken`;
    const rest = left > 0 ? ` ${left} found no place.` : '';
    tell(`${view.pads.length - left} pads of ${view.kit.name} lie in ${target.kit.name}, ${said}.${rest}`);
    choose(targetId);
  };
  return (
    <Choice
      label="Lay all pads into another kit"
      className="quiet-button"
      value={undefined as string | undefined}
      shown="Lay into …"
      options={others.map(({ id, name }) => [id, name] as const)}
      onChoose={(id) => void lay(id).catch((error: Error) => complain(error.message))}
    />
  );
}
