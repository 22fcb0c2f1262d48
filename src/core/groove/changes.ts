import { placedBuses } from '../kit/buses';
import type { Bus, Pad } from '../kit/model';
import { BUS_PARAMETERS, type KitValues } from '../kit/parameters';
import type { Programs } from '../kit/programs';
import { asKitHas } from '../kit/whole-kit';
import { shareOf } from '../parameter/values';
import { programOfBus } from '../play/limits';
import { PROGRAM_FLOATS, SILENT, writeProgram } from '../play/program';
import { type Change, MOST_CHANGES, MOST_PATCH_FLOATS, type Patch, type Stroke } from '../play/score';
import type { BusStep, LiveStep, PadStep } from '../treatment/live';
import {
  laneValue,
  type Movable,
  type MovableParameter,
  movableOfBus,
  movableOfKit,
  movableOfPad,
  namedSteps,
  withParameter,
} from './lanes';
import { type GrooveLane, type GrooveRow, TICKS_PER_QUARTER } from './model';
import { padOfRow, type Stretch } from './score';

/** A kit with all that lanes can move. */
export interface MovedKit {
  readonly kit: KitValues;
  readonly pads: readonly Pad[];
  readonly steps: readonly PadStep[];
  readonly buses: readonly Bus[];
  readonly busSteps: readonly BusStep[];
}

/** A lane with the parameter it moves here. */
interface Moving {
  readonly lane: GrooveLane;
  readonly of: Movable;
}
/** A place of the engine with the lanes that move it, and its program with a value of each; with null as it is without lanes. */
interface Place {
  readonly place: number;
  readonly moving: readonly Moving[];
  readonly write: (values: readonly number[] | null, into: Float64Array) => void;
}

/** Moving sounds are told where they are so often; rarer where that would be more than so many in all. */
const EVERY_S = 0.01;
const MOST_STEPS = 8000;
/** Steps of a parameter's bar that are told apart: under a cent of a pad's tune. */
const GRAINS = 16_384;

/** The bus a lane names: the room or the echo by what it is, another one by its name. */
export function busOfLane<B extends Bus>({ bus }: Pick<GrooveLane, 'bus'>, buses: readonly B[]): B | undefined {
  return buses.find(({ kind, name }) => (kind === 'bus' ? name === bus : kind === bus));
}

/**
 * The changes that lanes make to a kit's programs over a stretch, in frames from its beginning. `strokes` are those of the same
 * score: each begins with the lanes' values at its frame. Lanes for what the kit does not have are ignored. `isCut` where a
 * score cannot hold all changes: the rest are left out.
 */
export function changesOf(
  { bpm }: { readonly bpm: number },
  lanes: readonly GrooveLane[],
  rows: readonly GrooveRow[],
  kit: MovedKit,
  programs: Programs,
  { from, to }: Stretch,
  strokes: readonly Stroke[],
  sampleRate: number,
): { readonly changes: readonly Change[]; readonly isCut: boolean } {
  const drawn = lanes.filter(({ points }) => points.length > 0);
  if (drawn.length === 0) return { changes: [], isCut: false };
  const places = placesOf(drawn, rows, kit, programs);
  const framesPerTick = (60 * sampleRate) / (bpm * TICKS_PER_QUARTER);
  const length = (to - from) * framesPerTick;
  const every = Math.max(EVERY_S * sampleRate, (places.length * length) / MOST_STEPS);
  const changes: Change[] = [];
  let floats = 0;
  for (const place of places) {
    const own = strokes.filter(({ pad }) => pad === place.place).map(({ at }) => at);
    const known = new Set<Patch>();
    for (const change of changesOfPlace(place, { from, to }, framesPerTick, every, own)) {
      if (!known.has(change.patch)) floats += change.patch.length;
      known.add(change.patch);
      if (changes.length >= MOST_CHANGES || floats > MOST_PATCH_FLOATS) return { changes, isCut: true };
      changes.push(change);
    }
  }
  return { changes, isCut: false };
}

function placesOf(
  lanes: readonly GrooveLane[],
  rows: readonly GrooveRow[],
  kit: MovedKit,
  programs: Programs,
): readonly Place[] {
  const ofKit = movingOf(
    lanes.filter(({ rowId, bus }) => rowId === null && bus === ''),
    movableOfKit(),
  );
  const byPad = new Map<Pad, GrooveLane[]>();
  const byRow = new Map(rows.map((row) => [row.id, row]));
  for (const lane of lanes) {
    const row = lane.rowId === null ? undefined : byRow.get(lane.rowId);
    const pad = row && padOfRow(row, kit.pads)?.pad;
    if (pad) byPad.set(pad, [...(byPad.get(pad) ?? []), lane]);
  }
  const asHeard = new Map(asKitHas(kit.pads, kit.kit).map(({ position, muted }) => [position, muted]));
  const pads = (ofKit.length > 0 ? kit.pads : [...byPad.keys()]).flatMap((pad): Place[] => {
    const program = programs.pad(pad.position);
    const steps = kit.steps.filter(({ padId }) => padId === pad.id);
    const own = movingOf(byPad.get(pad) ?? [], movableOfPad(steps));
    const moving = [...ofKit, ...own];
    if (!program || moving.length === 0) return [];
    const plain = { ...pad, muted: asHeard.get(pad.position) ?? pad.muted, alone: false };
    const write = (values: readonly number[] | null, into: Float64Array) => {
      const ofOwn = values?.slice(ofKit.length) ?? null;
      const set = withValues(plain, own, ofOwn);
      const [heard] = asKitHas([set], withValues(kit.kit, ofKit, values));
      writeProgram(program(heard ?? set, withSteps(steps, own, ofOwn)), into);
    };
    return [{ place: pad.position, moving, write }];
  });
  const buses = placedBuses(kit.buses).flatMap(({ bus, place }): Place[] => {
    const program = programs.bus(place);
    const steps = kit.busSteps.filter(({ busId }) => busId === bus.id);
    const own = lanes.filter((lane) => lane.rowId === null && lane.bus !== '' && busOfLane(lane, kit.buses) === bus);
    const moving = movingOf(own, movableOfBus(steps, BUS_PARAMETERS));
    if (!program || moving.length === 0) return [];
    const write = (values: readonly number[] | null, into: Float64Array) =>
      writeProgram(
        { ...SILENT, steps: program(withValues(bus, moving, values), withSteps(steps, moving, values)) },
        into,
      );
    return [{ place: programOfBus(place), moving, write }];
  });
  return [...pads, ...buses];
}

/** Pairs each lane with the parameter it moves; lanes whose step or list entry does not exist are dropped. */
function movingOf(lanes: readonly GrooveLane[], movable: readonly MovableParameter[]): readonly Moving[] {
  return lanes.flatMap((lane): Moving[] => {
    const found = movable.find(({ step, parameter }) => step === lane.step && parameter === lane.parameter);
    return found ? [{ lane, of: found.of }] : [];
  });
}

function withValues<T extends object>(value: T, moving: readonly Moving[], values: readonly number[] | null): T {
  let set = value;
  if (!values) return set;
  for (const [i, { lane }] of moving.entries())
    if (lane.step === '') set = withParameter(set, lane.parameter, values[i] as number);
  return set;
}

function withSteps<S extends LiveStep>(
  steps: readonly S[],
  moving: readonly Moving[],
  values: readonly number[] | null,
): readonly S[] {
  if (!values) return steps;
  return namedSteps(steps).map(([name, step]) => {
    let set = step;
    for (const [i, { lane }] of moving.entries())
      if (lane.step === name) set = withParameter(set, lane.parameter, values[i] as number);
    return set;
  });
}

/** The patches of a place by the values of its lanes: each holds every figure that any of them changes. */
class Patches {
  private readonly found = new Map<string, { values: readonly number[]; differs: Map<number, number> }>();
  private readonly base = new Float64Array(PROGRAM_FLOATS);
  private readonly now = new Float64Array(PROGRAM_FLOATS);
  private readonly slots = new Set<number>();

  constructor(private readonly place: Place) {
    place.write(null, this.base);
  }

  /** Notes values that will be asked for; gives their name. */
  see(values: readonly number[]): string {
    const name = values
      .map((value, i) => Math.round(shareOf((this.place.moving[i] as Moving).of, value) * GRAINS))
      .join(' ');
    if (this.found.has(name)) return name;
    this.place.write(values, this.now);
    const differs = new Map<number, number>();
    for (let slot = 0; slot < PROGRAM_FLOATS; slot++) {
      if (this.now[slot] === this.base[slot]) continue;
      differs.set(slot, this.now[slot] as number);
      this.slots.add(slot);
    }
    this.found.set(name, { values, differs });
    return name;
  }

  /** The patches of all that were seen, by name. */
  made(): ReadonlyMap<string, Patch> {
    const slots = [...this.slots];
    return new Map(
      [...this.found].map(([name, { differs }]) => [
        name,
        slots.flatMap((slot) => [slot, differs.get(slot) ?? (this.base[slot] as number)]),
      ]),
    );
  }
}

function changesOfPlace(
  place: Place,
  { from, to }: Stretch,
  framesPerTick: number,
  every: number,
  strokes: readonly number[],
): Change[] {
  const length = (to - from) * framesPerTick;
  const tickAt = (frame: number) => from + frame / framesPerTick;
  const valuesAt = (tick: number, before: boolean) =>
    place.moving.map(({ lane, of }) => laneValue(lane, of, tick, before) ?? of.low);
  const points = place.moving.flatMap(({ lane }) =>
    lane.points.filter(({ tick }) => tick > from && tick < to).map(({ tick }) => (tick - from) * framesPerTick),
  );
  const corners = [...new Set([0, ...points, ...strokes.filter((at) => at > 0 && at < length), length])].sort(
    (a, b) => a - b,
  );
  const patches = new Patches(place);
  const told: { readonly at: number; readonly over: number; readonly name: string }[] = [];
  let reached = '';
  for (const [i, start] of corners.slice(0, -1).entries()) {
    const end = corners[i + 1] as number;
    // The tick of a point that frames cannot say exactly is still that of the point.
    const [first, last] = [roundTick(tickAt(start)), roundTick(tickAt(end))];
    const here = patches.see(valuesAt(first, false));
    if (here !== reached) told.push({ at: start, over: 0, name: here });
    reached = here;
    const isStill =
      patches.see(valuesAt(last, true)) === here && patches.see(valuesAt((first + last) / 2, false)) === here;
    if (isStill) continue;
    const count = Math.max(1, Math.ceil((end - start) / every));
    for (let n = 0; n < count; n++) {
      const at = start + ((end - start) * n) / count;
      const next = start + ((end - start) * (n + 1)) / count;
      const name = patches.see(valuesAt(n + 1 === count ? last : tickAt(next), true));
      if (name !== reached) told.push({ at, over: Math.max(1, next - at), name });
      reached = name;
    }
  }
  const made = patches.made();
  return told.map(({ at, over, name }) => ({ at, over, place: place.place, patch: made.get(name) as Patch }));
}

/** A tick to a thousandth. */
function roundTick(tick: number): number {
  return Math.round(tick * 1000) / 1000;
}
