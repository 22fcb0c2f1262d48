'use client';

import { useMemo, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import type { Bus } from '@/core/kit/model';
import { type BusKind, MOST_BUSES } from '@/core/kit/parameters';
import { useCommands } from '../../data/commit';
import { LiveSteps } from '../LiveSteps';
import { BusList } from './BusList';
import { BusPads } from './BusPads';
import { newBus } from './bus-edits';
import { HeardBefore } from './HeardBefore';

const NOTHING: Readonly<Record<BusKind, string>> = {
  bus: 'Nothing yet. Steps are heard on all pads of the bus together.',
  room: 'Without a room in it, what pads send comes out as it is.',
  echo: 'Without an echo in it, what pads send comes out as it is.',
};

/** The kit's buses: their levels at the left, the steps of the chosen one in the middle, what plays on it at the right. */
export function BusesView({ view }: { view: KitView }) {
  const { commit } = useCommands();
  const [chosenId, setChosenId] = useState<string | null>(null);
  const chosen = view.buses.find(({ id }) => id === chosenId) ?? view.buses[0];
  const add = (kind: BusKind) => {
    const { id, changes } = newBus(view, kind, () => crypto.randomUUID());
    void commit(kind === 'bus' ? 'added a bus' : `gave the kit its ${kind}`, changes);
    setChosenId(id);
  };
  const has = (kind: BusKind) => view.buses.some((bus) => bus.kind === kind);
  const isFull = view.buses.filter(({ kind }) => kind === 'bus').length >= MOST_BUSES;
  return (
    <>
      <section
        aria-label="Buses"
        className="flex w-[40%] min-w-0 flex-col overflow-y-auto border-line border-r px-4 py-2"
      >
        <header className="mb-1 flex flex-none items-center gap-4 text-[12px]">
          <h2 className="font-semibold text-soft">Buses</h2>
          {!isFull && <Add name="new bus" onAdd={() => add('bus')} />}
          {!has('room') && <Add name="room" onAdd={() => add('room')} />}
          {!has('echo') && <Add name="echo" onAdd={() => add('echo')} />}
          {isFull && <span className="text-soft">all {MOST_BUSES} in use</span>}
        </header>
        {view.buses.length === 0 ? (
          <p className="m-auto max-w-[340px] text-center text-soft">
            All pads go straight out. A bus brings some of them together, under one level and the same steps; the room
            and the echo get what each pad sends to them.
          </p>
        ) : (
          <BusList view={view} chosenId={chosen?.id} onChoose={setChosenId} />
        )}
      </section>
      <section aria-label="What the bus does" className="w-[31%] min-w-0 overflow-auto border-line border-r px-4 py-2">
        {chosen && (
          <>
            <h2 className="truncate pr-[60px] font-semibold text-[12px] text-soft">Steps of {chosen.name}</h2>
            <BusSteps key={chosen.id} view={view} bus={chosen} />
          </>
        )}
      </section>
      <section aria-label="Pads of the bus" className="min-w-0 flex-1 overflow-y-auto px-4 py-2">
        {chosen && <BusPads key={chosen.id} view={view} bus={chosen} />}
      </section>
    </>
  );
}

function Add({ name, onAdd }: { name: string; onAdd: () => void }) {
  return (
    <button type="button" className="text-verdigris hover:underline" onClick={onAdd}>
      + {name}
    </button>
  );
}

function BusSteps({ view, bus }: { view: KitView; bus: Stored<Bus> }) {
  const steps = useMemo(() => view.busSteps.filter(({ busId }) => busId === bus.id), [view.busSteps, bus.id]);
  const sampleRate = view.recordings[0]?.sampleRate ?? 48_000;
  return (
    <LiveSteps
      doc="busStep"
      owner={{ busId: bus.id }}
      name={bus.name}
      steps={steps}
      sampleRate={sampleRate}
      nothing={NOTHING[bus.kind]}
      besides={(step) =>
        bus.kind === 'bus' && step.processor === 'compressor' ? (
          <HeardBefore key={step.id} view={view} bus={bus} step={step} />
        ) : null
      }
    />
  );
}
