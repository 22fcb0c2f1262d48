import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { KitDocs } from '@/contract/views';
import type { Bus, Pad } from '@/core/kit/model';
import type { BusKind } from '@/core/kit/parameters';
import { freeName } from '@/core/naming/names';

/** The name that a bus begins with, and the step of one that is sent to. */
const BEGUN: Readonly<
  Record<BusKind, { readonly name: string; readonly step: Readonly<Record<string, unknown>> | null }>
> = {
  bus: { name: 'Bus', step: null },
  room: { name: 'Room', step: { processor: 'room', mix: 1 } },
  echo: { name: 'Echo', step: { processor: 'echo', period: '1/8', mix: 1 } },
};

export type SendKey = 'roomSendDb' | 'echoSendDb';
/** What the sends go to. */
export const SENT_TO: Readonly<Record<SendKey, Exclude<BusKind, 'bus'>>> = { roomSendDb: 'room', echoSendDb: 'echo' };

/** Adds a bus to a kit; a room or an echo comes with its step, all wet. */
export function newBus(
  view: KitDocs,
  kind: BusKind,
  newId: () => string,
): { readonly id: string; readonly changes: Change[] } {
  const { name: begun, step } = BEGUN[kind];
  const id = newId();
  const taken = new Set(view.buses.map(({ name }) => name));
  const name =
    kind === 'bus' ? freeName(`${begun} ${view.buses.filter((b) => b.kind === 'bus').length + 1}`, taken) : begun;
  const position = 1 + Math.max(-1, ...view.buses.map((bus) => bus.position));
  const bus: Change = { op: 'create', doc: 'bus', id, value: { kitId: view.kit.id, position, name, kind } };
  if (!step) return { id, changes: [bus] };
  return {
    id,
    changes: [bus, { op: 'create', doc: 'busStep', id: newId(), value: { busId: id, position: 0, ...step } }],
  };
}

/** Removes a bus; the pads that played on it go straight out. */
export function removeBus(view: KitDocs, bus: Stored<Bus>): Change[] {
  const onIt = view.pads.filter(({ busId }) => busId === bus.id);
  return [...onto(onIt, null), { op: 'remove', doc: 'bus', id: bus.id, rev: bus.rev }];
}

/** Has pads play on a bus, or straight out for null. */
export function onto(pads: readonly Stored<Pad>[], busId: string | null): Change[] {
  return pads.map((pad) => ({ op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set: { busId } }));
}

/** Sets how much a pad sends; the first one brings the kit its room or its echo. */
export function sendTo(
  view: KitDocs,
  pad: Stored<Pad>,
  key: SendKey,
  db: number | null,
  newId: () => string,
): Change[] {
  const kind = SENT_TO[key];
  const has = db === null || view.buses.some((bus) => bus.kind === kind);
  return [
    ...(has ? [] : newBus(view, kind, newId).changes),
    { op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set: { [key]: db } },
  ];
}
