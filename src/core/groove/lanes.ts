import { KIT_PARAMETERS, PAD_PARAMETERS } from '../kit/parameters';
import type { NumberParameter, Parameters } from '../parameter/parameter';
import { shareOf, valueAt } from '../parameter/values';
import { LIVE_PARAMETERS, LIVE_PROCESSORS, type LiveName, type LiveStep } from '../treatment/live';
import type { GrooveLane, LanePoint } from './model';

/** A number that a lane can move. */
export type Movable = NumberParameter<never> | NumberParameter<null>;

/** Names a parameter within a pad, a bus or the kit: the live step it belongs to ('' for none), and its key. */
export interface Moved {
  readonly step: string;
  readonly parameter: string;
}
export interface MovableParameter extends Moved {
  readonly of: Movable;
  /** What it is called: "cutoff", "drive of the saturation". */
  readonly label: string;
}

/** Parameters that need sounds rendered anew, or say which sound or note it is: they stay as they are while it plays. */
const FIXED: ReadonlySet<string> = new Set([
  ...['normaliseDbfs', 'loopBpm', 'note', 'voices'],
  ...['tempoBpm', 'evenVelocity', 'velocityCurve'],
  ...['sizeM', 'decayS', 'preDelayMs', 'timeMs'],
]);

function movableOf(parameters: Parameters, step: string, about: string): MovableParameter[] {
  return Object.entries(parameters).flatMap(([parameter, of]): MovableParameter[] =>
    of.kind === 'number' && !FIXED.has(parameter) ? [{ step, parameter, of, label: `${of.said}${about}` }] : [],
  );
}

/** The name by which a lane knows the `n`th step of a processor, from 0. */
export function stepName(processor: LiveName, n: number): string {
  return `${processor} ${n + 1}`;
}

/** Pairs each step with the name that lanes store for it, such as "saturation 1". */
export function namedSteps<S extends LiveStep>(steps: readonly S[]): readonly (readonly [name: string, step: S])[] {
  const counts = new Map<string, number>();
  return steps.map((step) => {
    const n = counts.get(step.processor) ?? 0;
    counts.set(step.processor, n + 1);
    return [stepName(step.processor, n), step] as const;
  });
}

/** What of a step lanes can move. A room is laid once: only how much of it is heard can move. */
function movableOfStep(name: string, step: LiveStep): MovableParameter[] {
  const about = ` of the ${LIVE_PROCESSORS[step.processor].label.toLowerCase()}`;
  const parameters: Parameters = LIVE_PARAMETERS[step.processor];
  const { mix } = LIVE_PARAMETERS[step.processor];
  const own = step.processor === 'room' ? movableOf({ mix }, name, about) : movableOf(parameters, name, about);
  const lists = Object.entries(parameters).flatMap(([key, list]) => {
    if (list.kind !== 'list') return [];
    const items = (step as unknown as Record<string, readonly unknown[]>)[key] ?? [];
    return items.flatMap((_, i) =>
      movableOf(list.item, name, ` of point ${i + 1}${about}`).map((one) => ({
        ...one,
        parameter: `${key}.${i}.${one.parameter}`,
      })),
    );
  });
  return [...own, ...lists];
}

/** The parameters of a pad that a lane can move: its own, and those of its live steps. */
export function movableOfPad(steps: readonly LiveStep[]): MovableParameter[] {
  return [
    ...movableOf(PAD_PARAMETERS, '', ''),
    ...namedSteps(steps).flatMap(([name, step]) => movableOfStep(name, step)),
  ];
}

/** The parameters of a bus that a lane can move: its own, and those of its live steps. */
export function movableOfBus(steps: readonly LiveStep[], parameters: Parameters): MovableParameter[] {
  return [...movableOf(parameters, '', ''), ...namedSteps(steps).flatMap(([name, step]) => movableOfStep(name, step))];
}

/** The parameters of a whole kit that a lane can move. */
export function movableOfKit(): MovableParameter[] {
  return movableOf(KIT_PARAMETERS, '', '');
}

/** A value with one of its parameters set, also inside a list; itself where it has no such parameter. */
export function withParameter<T extends object>(value: T, parameter: string, set: number): T {
  const [key = '', index, inner] = parameter.split('.');
  const held = (value as Record<string, unknown>)[key];
  if (index === undefined || inner === undefined) return { ...value, [key]: set };
  if (!Array.isArray(held) || !held[Number(index)]) return value;
  const items = held.map((item, i) => (i === Number(index) ? { ...item, [inner]: set } : item));
  return { ...value, [key]: items };
}

/** A parameter's value in a document, also inside a list; null where it has none. */
export function parameterIn(value: object, parameter: string): number | null {
  const [key = '', index, inner] = parameter.split('.');
  const held = (value as Record<string, unknown>)[key];
  const found = inner === undefined ? held : (held as Record<string, unknown>[] | undefined)?.[Number(index)]?.[inner];
  return typeof found === 'number' ? found : null;
}

/**
 * The value of a lane at a tick; null for an empty one. Before its first point it has that one's value, after its last that
 * one's. At a jump it is what it jumps to, or, from `before`, what it comes from.
 */
export function laneValue(
  { points, holds }: Pick<GrooveLane, 'points' | 'holds'>,
  of: Movable,
  tick: number,
  before = false,
): number | null {
  const first = points[0];
  if (!first) return null;
  // The last point at or before the tick; of several at it, with `before`, none.
  let low = 0;
  let high = points.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    const at = (points[middle] as LanePoint).tick;
    if (before ? at < tick : at <= tick) low = middle + 1;
    else high = middle;
  }
  const last = points[low - 1];
  const next = points[low];
  const within = (value: number) => Math.min(of.high, Math.max(of.low, value));
  if (!last) return within(first.value);
  if (!next || holds || next.tick === last.tick) return within(last.value);
  const share = (tick - last.tick) / (next.tick - last.tick);
  const [from, to] = [shareOf(of, last.value), shareOf(of, next.value)];
  return within(valueAt(of, from + share * (to - from)));
}

/** Points with those of a stretch replaced: what lies outside keeps its values up to its ends. */
export function replaced(
  lane: Pick<GrooveLane, 'points' | 'holds'>,
  of: Movable,
  from: number,
  to: number,
  drawn: readonly LanePoint[],
): LanePoint[] {
  const { points } = lane;
  const before = points.filter(({ tick }) => tick < from);
  const after = points.filter(({ tick }) => tick > to);
  const at = (tick: number, isBefore: boolean): LanePoint[] => {
    const value = laneValue(lane, of, tick, isBefore);
    return value === null ? [] : [{ tick, value }];
  };
  // Points at both ends keep the values outside the stretch. A single point needs none: it replaces the one at its tick.
  const start = from < to && before.length > 0 && !lane.holds ? at(from, true) : [];
  const end = from < to && after.length > 0 ? at(to, false) : [];
  return [...before, ...start, ...drawn, ...end, ...after];
}

/** Points without those that a line through their neighbours would give within so much of the bar, 0 to 1. */
export function thinned(points: readonly LanePoint[], of: Movable, tolerance: number): LanePoint[] {
  if (points.length < 3) return [...points];
  // Ramer, Douglas and Peucker: the point farthest from the line is kept, and both sides are thinned likewise.
  const keep = new Uint8Array(points.length);
  keep[0] = 1;
  keep[points.length - 1] = 1;
  const open: [number, number][] = [[0, points.length - 1]];
  for (let part = open.pop(); part; part = open.pop()) {
    const [a, b] = part;
    const [from, to] = [points[a] as LanePoint, points[b] as LanePoint];
    const [low, high] = [shareOf(of, from.value), shareOf(of, to.value)];
    let worst = tolerance;
    let at = -1;
    for (let i = a + 1; i < b; i++) {
      const { tick, value } = points[i] as LanePoint;
      const share = to.tick === from.tick ? 0 : (tick - from.tick) / (to.tick - from.tick);
      const off = Math.abs(shareOf(of, value) - (low + share * (high - low)));
      if (off > worst) {
        worst = off;
        at = i;
      }
    }
    if (at < 0) continue;
    keep[at] = 1;
    open.push([a, at], [at, b]);
  }
  return points.filter((_, i) => keep[i] === 1);
}
