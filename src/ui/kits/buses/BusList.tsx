'use client';

import { useRef } from 'react';
import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import { placedBuses } from '@/core/kit/buses';
import type { Bus } from '@/core/kit/model';
import { BUS_PARAMETERS } from '@/core/kit/parameters';
import { LONGEST_NAME } from '@/core/naming/names';
import { programOfBus } from '@/core/play/limits';
import { useCommands } from '../../data/commit';
import { dropDraft, setDraft } from '../../data/drafts';
import { useMeters } from '../../pads/use-meters';
import { Parameter } from '../../parts/Parameter';
import { TextField } from '../../parts/TextField';
import { removeBus, SENT_TO } from './bus-edits';

/** The buses of a kit, one under another, each with its meter. */
export function BusList({
  view,
  chosenId,
  onChoose,
}: {
  view: KitView;
  chosenId: string | undefined;
  onChoose: (id: string) => void;
}) {
  const list = useRef<HTMLUListElement>(null);
  useMeters(list);
  const placed = new Map(placedBuses(view.buses).map(({ bus, place }) => [bus.id, place]));
  return (
    <ul ref={list} className="min-w-0">
      {view.buses.map((bus) => (
        <BusRow
          key={bus.id}
          {...{ view, bus }}
          place={placed.get(bus.id)}
          isChosen={bus.id === chosenId}
          onChoose={() => onChoose(bus.id)}
        />
      ))}
    </ul>
  );
}

function BusRow({
  view,
  bus,
  place,
  isChosen,
  onChoose,
}: {
  view: KitView;
  bus: Stored<Bus>;
  place: number | undefined;
  isChosen: boolean;
  onChoose: () => void;
}) {
  const { commit } = useCommands();
  const set = (said: string, fields: Partial<Bus>) => {
    dropDraft('bus', bus.id);
    void commit(`changed the ${said} of the bus ${bus.name}`, [
      { op: 'update', doc: 'bus', id: bus.id, rev: bus.rev, set: fields },
    ]);
  };
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: its fields take the focus, which chooses it
    <li
      data-testid="bus"
      data-chosen={isChosen || undefined}
      className={`border-line border-b px-2 py-1 ${isChosen ? 'bg-selection' : ''}`}
      onClick={onChoose}
      onFocus={onChoose}
    >
      <div className="flex items-center gap-2 text-[12px]">
        <TextField
          label={`Name of the bus ${bus.name}`}
          value={bus.name}
          maxLength={LONGEST_NAME}
          className="min-w-0 flex-1 border border-transparent px-1 font-semibold text-[13px] hover:border-line"
          onCommit={(name) => set('name', { name })}
        />
        <span className="whitespace-nowrap text-soft">{tellsOf(view, bus)}</span>
        <button
          type="button"
          aria-label={`Mute the bus ${bus.name}`}
          aria-pressed={bus.muted}
          className={bus.muted ? 'font-semibold text-madder' : 'text-soft hover:text-ink hover:underline'}
          onClick={() => set(BUS_PARAMETERS.muted.said, { muted: !bus.muted })}
        >
          mute
        </button>
        <button
          type="button"
          aria-label={`Remove the bus ${bus.name}`}
          className="text-soft hover:text-madder hover:underline"
          onClick={() => void commit(`removed the bus ${bus.name}`, removeBus(view, bus))}
        >
          remove
        </button>
      </div>
      <div className={bus.muted ? 'opacity-50' : ''}>
        <Parameter
          of={BUS_PARAMETERS.levelDb}
          value={bus.levelDb}
          onPreview={(levelDb) => (levelDb === null ? dropDraft('bus', bus.id) : setDraft('bus', bus.id, { levelDb }))}
          onCommit={(levelDb) => set(BUS_PARAMETERS.levelDb.said, { levelDb: levelDb as number })}
        />
      </div>
      <div className="h-[3px] w-full bg-paper">
        <div
          data-meter={place === undefined ? undefined : programOfBus(place)}
          aria-hidden
          className="h-full origin-left scale-x-0 bg-verdigris"
        />
      </div>
    </li>
  );
}

/** How many pads play on a bus, or send to it. */
function tellsOf(view: KitView, bus: Bus): string {
  const send = (['roomSendDb', 'echoSendDb'] as const).find((key) => SENT_TO[key] === bus.kind);
  const count = view.pads.filter((pad) => (send ? pad[send] !== null : pad.busId === bus.id)).length;
  const pads = count === 1 ? '1 pad' : `${count} pads`;
  return send ? `${pads} ${count === 1 ? 'sends' : 'send'}` : pads;
}
