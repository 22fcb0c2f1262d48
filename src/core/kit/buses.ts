import { STEP_KINDS, type StepSound } from '../live/figures';
import { ECHO_BUS, ROOM_BUS } from '../play/limits';
import { fromDb } from '../signal/units';
import type { BusStep } from '../treatment/live';
import { type Laid, liveSteps } from './live-steps';
import type { Bus, Pad } from './model';
import { type BusKind, MOST_BUSES } from './parameters';

/** A kit's buses with what they do. */
export interface Busing {
  readonly buses: readonly Bus[];
  readonly busSteps: readonly BusStep[];
}
export const NO_BUSES: Busing = { buses: [], busSteps: [] };

/** Where a pad's sound goes: the engine's bus, and whether what it sends comes to anything. */
export interface Route {
  readonly bus: number;
  readonly room: boolean;
  readonly echo: boolean;
}
export const STRAIGHT: Route = { bus: 0, room: false, echo: false };

/** The engine's bus of each of a kit's, from 1 on; those beyond the most are left out. */
export function placedBuses<B extends Bus>(
  buses: readonly B[],
): readonly { readonly bus: B; readonly place: number }[] {
  const of = (wanted: BusKind) => buses.filter(({ kind }) => kind === wanted);
  const own = of('bus')
    .toSorted((a, b) => a.position - b.position)
    .slice(0, MOST_BUSES);
  return [
    ...own.map((bus, i) => ({ bus, place: i + 1 })),
    ...of('room')
      .slice(0, 1)
      .map((bus) => ({ bus, place: ROOM_BUS })),
    ...of('echo')
      .slice(0, 1)
      .map((bus) => ({ bus, place: ECHO_BUS })),
  ];
}

/** The route of a pad. Without its bus it goes straight out; a muted bus keeps what its pads send as well. */
export function routeOf({ busId }: Pick<Pad, 'busId'>, buses: readonly Bus[]): Route {
  const placed = placedBuses(buses);
  const own = placed.find(({ bus }) => bus.kind === 'bus' && bus.id === busId);
  const has = (kind: BusKind) => own?.bus.muted !== true && placed.some(({ bus }) => bus.kind === kind);
  return { bus: own?.place ?? 0, room: has('room'), echo: has('echo') };
}

/** What the engine does on a bus: its steps, then its level. */
export function busSound(
  bus: Bus,
  steps: readonly BusStep[],
  rate: number,
  laidOf: (step: { readonly id: string }) => Laid | null,
): StepSound[] {
  const gain = bus.muted ? 0 : fromDb(bus.levelDb);
  const level = { kind: STEP_KINDS.indexOf('level'), form: 0, length: 0, on: 1, mix: 1, figures: [gain] };
  const own = steps.filter(({ busId }) => busId === bus.id);
  return [...liveSteps(own, rate, laidOf), level];
}
