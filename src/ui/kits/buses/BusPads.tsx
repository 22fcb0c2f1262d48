'use client';

import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import type { Bus, Pad } from '@/core/kit/model';
import { PAD_PARAMETERS } from '@/core/kit/parameters';
import { useCommands } from '../../data/commit';
import { Glyph } from '../../parts/Glyph';
import { NumberField } from '../../parts/NumberField';
import { onto, type SendKey, sendTo } from './bus-edits';

/** Which pads play on a bus; of the room and the echo, how much each pad sends. */
export function BusPads({ view, bus }: { view: KitView; bus: Stored<Bus> }) {
  const { commit } = useCommands();
  const key: SendKey | null = bus.kind === 'bus' ? null : bus.kind === 'room' ? 'roomSendDb' : 'echoSendDb';
  const onIt = (pad: Pad) => pad.busId === bus.id;
  const all = view.pads.every(onIt);
  const go = (pads: readonly Stored<Pad>[], busId: string | null) => {
    const whom = pads.length === 1 ? (pads[0] as Pad).name : `${pads.length} pads`;
    void commit(
      busId ? `put ${whom} on the bus ${bus.name}` : `took ${whom} off the bus ${bus.name}`,
      onto(pads, busId),
    );
  };
  const send = (pad: Stored<Pad>, of: SendKey, db: number | null) =>
    void commit(
      `changed what ${pad.name} sends`,
      sendTo(view, pad, of, db, () => crypto.randomUUID()),
    );
  return (
    <>
      <header className="mb-1 flex items-center gap-3 text-[12px]">
        <h2 className="font-semibold text-soft">{key ? 'Sent by each pad' : 'Pads on it'}</h2>
        {!key && view.pads.length > 0 && (
          <button
            type="button"
            className="ml-auto text-verdigris hover:underline"
            onClick={() => go(all ? view.pads : view.pads.filter((pad) => !onIt(pad)), all ? null : bus.id)}
          >
            {all ? 'none' : 'all'}
          </button>
        )}
      </header>
      <ul>
        {view.pads.map((pad) => (
          <li key={pad.id} className="flex h-[26px] min-w-0 items-center gap-2 border-line border-b">
            {key ? (
              <>
                <Glyph family={pad.family} size={13} />
                <span className="min-w-0 flex-1 truncate">{pad.role || pad.name}</span>
                <span className="[&_label>span:first-child]:sr-only">
                  <NumberField
                    of={{ ...PAD_PARAMETERS[key], label: `Sent by ${pad.role || pad.name}` }}
                    inline
                    value={pad[key]}
                    onCommit={(db) => send(pad, key, db)}
                    onClear={() => send(pad, key, null)}
                  />
                </span>
              </>
            ) : (
              <label className="flex min-w-0 flex-1 items-center gap-2">
                <input type="checkbox" checked={onIt(pad)} onChange={() => go([pad], onIt(pad) ? null : bus.id)} />
                <Glyph family={pad.family} size={13} />
                <span className="min-w-0 truncate">{pad.role || pad.name}</span>
                {pad.busId !== null && !onIt(pad) && (
                  <span className="ml-auto truncate text-[12px] text-soft">
                    {view.buses.find(({ id }) => id === pad.busId)?.name}
                  </span>
                )}
              </label>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}
