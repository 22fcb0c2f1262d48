import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { GrooveView, KitView } from '@/contract/views';
import { busOfLane } from '@/core/groove/changes';
import {
  type Movable,
  type MovableParameter,
  movableOfBus,
  movableOfKit,
  movableOfPad,
  namedSteps,
  parameterIn,
} from '@/core/groove/lanes';
import type { GrooveLane, LanePoint } from '@/core/groove/model';
import { NOTE_PARAMETERS } from '@/core/groove/parameters';
import { BUS_PARAMETERS } from '@/core/kit/parameters';
import { liveValues } from '@/core/treatment/live';
import { rowMade } from './edits';
import type { ShownRow } from './rows';

/** Values of single notes that the lane can show. */
export const NOTE_VALUES = ['velocity', 'levelDb', 'semitones', 'pan', 'filterOctaves', 'startMs'] as const;
export type NoteValue = (typeof NOTE_VALUES)[number];

/** What the lane shows: a value of the chosen row's notes, or a parameter over time. */
export type LaneShown =
  | { readonly kind: 'note'; readonly value: NoteValue }
  | { readonly kind: 'pad'; readonly step: string; readonly parameter: string }
  | { readonly kind: 'bus'; readonly bus: string; readonly step: string; readonly parameter: string }
  | { readonly kind: 'kit'; readonly parameter: string };

export interface LaneChoice {
  readonly shown: LaneShown;
  readonly name: string;
  readonly of: Movable;
  /** Where it stands without a lane, to draw from; null where it has no number. */
  readonly rest: number | null;
  readonly lane: Stored<GrooveLane> | null;
}

export function isSameLane(a: LaneShown, b: LaneShown): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

/** Everything a lane can show for a row, what has points first after the notes' values. */
export function laneChoices(
  { lanes }: Pick<GrooveView, 'lanes'>,
  kit: KitView | null,
  row: ShownRow | undefined,
): LaneChoice[] {
  const notes = NOTE_VALUES.map((value): LaneChoice => {
    const of = NOTE_PARAMETERS[value];
    return {
      shown: { kind: 'note', value },
      name: `${of.label.toLowerCase()} of each note`,
      ...{ of, rest: of.bipolar ? 0 : of.low, lane: null },
    };
  });
  const ids = new Set(row?.rows.map(({ id }) => id));
  const ofPad = row?.pad ? padChoices(lanes, kit, row, ids) : [];
  const ofBuses = (kit?.buses ?? []).flatMap((bus) => {
    const steps = (kit?.busSteps ?? []).filter(({ busId }) => busId === bus.id);
    const name = bus.kind === 'bus' ? bus.name : bus.kind;
    return movableOfBus(steps, BUS_PARAMETERS).map(
      (one): LaneChoice => ({
        shown: { kind: 'bus', bus: name, step: one.step, parameter: one.parameter },
        name: `${one.label}, ${bus.name}`,
        of: one.of,
        rest: valueIn(bus, steps, one),
        lane: found(lanes, one, (lane) => lane.rowId === null && lane.bus !== '' && busOfLane(lane, [bus]) === bus),
      }),
    );
  });
  const ofKit = movableOfKit().map(
    (one): LaneChoice => ({
      shown: { kind: 'kit', parameter: one.parameter },
      name: `${one.label}, whole kit`,
      of: one.of,
      rest: kit ? parameterIn(kit.kit, one.parameter) : null,
      lane: found(lanes, one, (lane) => lane.rowId === null && lane.bus === ''),
    }),
  );
  const moving = [...ofPad, ...ofBuses, ...ofKit];
  const isDrawn = ({ lane }: LaneChoice) => lane !== null && lane.points.length > 0;
  return [...notes, ...moving.filter(isDrawn), ...moving.filter((one) => !isDrawn(one))];
}

function padChoices(
  lanes: readonly Stored<GrooveLane>[],
  kit: KitView | null,
  { pad, name }: ShownRow,
  rowIds: ReadonlySet<string>,
): LaneChoice[] {
  if (!pad) return [];
  const steps = (kit?.steps ?? []).filter(({ padId }) => padId === pad.id);
  return movableOfPad(steps).map(
    (one): LaneChoice => ({
      shown: { kind: 'pad', step: one.step, parameter: one.parameter },
      name: `${one.label}, ${name}`,
      of: one.of,
      rest: valueIn(pad, steps, one),
      lane: found(lanes, one, ({ rowId }) => rowId !== null && rowIds.has(rowId)),
    }),
  );
}

function found(
  lanes: readonly Stored<GrooveLane>[],
  { step, parameter }: MovableParameter,
  isOf: (lane: GrooveLane) => boolean,
): Stored<GrooveLane> | null {
  return lanes.find((lane) => lane.step === step && lane.parameter === parameter && isOf(lane)) ?? null;
}

function valueIn(
  owner: object,
  steps: Parameters<typeof namedSteps>[0],
  { step, parameter }: MovableParameter,
): number | null {
  if (step === '') return parameterIn(owner, parameter);
  const of = namedSteps(steps).find(([name]) => name === step)?.[1];
  return of ? parameterIn(liveValues(of), parameter) : null;
}

/** Changes that give a lane other points: it is made with its first, and goes with its last. */
export function laneChanged(
  view: GrooveView,
  row: ShownRow | undefined,
  { shown, lane }: LaneChoice,
  points: readonly LanePoint[],
  holds: boolean,
  newId: () => string,
): Change[] {
  if (shown.kind === 'note') return [];
  if (lane)
    return points.length === 0
      ? [{ op: 'remove', doc: 'grooveLane', id: lane.id, rev: lane.rev }]
      : [{ op: 'update', doc: 'grooveLane', id: lane.id, rev: lane.rev, set: { points, holds } }];
  if (points.length === 0) return [];
  const own = shown.kind === 'pad' && row ? rowMade(view, row, newId) : null;
  if (shown.kind === 'pad' && !own) return [];
  const value = {
    ...{ grooveId: view.groove.id, rowId: own?.id ?? null, bus: shown.kind === 'bus' ? shown.bus : '' },
    ...{ step: shown.kind === 'kit' ? '' : shown.step, parameter: shown.parameter, holds, points },
  };
  return [...(own?.changes ?? []), { op: 'create', doc: 'grooveLane', id: newId(), value }];
}
