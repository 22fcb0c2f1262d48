import { CHANCE_UNIT, seedOf } from './chance';
import { MAX_LAYERS, MAX_PADS } from './limits';
import { LAYER, layerAt, PAD } from './program';

/** How often takes came, and which came last, by the lowest take of a pad that was in question. */
export interface TakeMemory {
  readonly counts: Float64Array;
  readonly last: Int32Array;
}

export function newTakes(): TakeMemory {
  const places = MAX_PADS * MAX_LAYERS;
  return { counts: new Float64Array(places), last: new Int32Array(places).fill(-1) };
}

export function rewindTakes({ counts, last }: TakeMemory): void {
  counts.fill(0);
  last.fill(-1);
}

const TAKE_CHANCE = 17;

/**
 * The layer of a struck pad that plays as its take: of those for the velocity the next in turn, or one at random that is
 * not the last again (order 1). -1 where there is none. Takes for other velocities have a turn of their own, as
 * `seq_position` of the SFZ format has it. Allocates nothing.
 */
export function takeFor(
  memory: TakeMemory,
  programs: Float64Array,
  program: number,
  pad: number,
  velocity: number,
  seed: number,
): number {
  const layers = programs[program + PAD.layerCount] as number;
  let count = 0;
  let first = -1;
  for (let l = 0; l < layers; l++) {
    if (!isInQuestion(programs, program + layerAt(l), velocity)) continue;
    if (first < 0) first = l;
    count++;
  }
  if (count <= 1) return first;
  const place = pad * MAX_LAYERS + first;
  const turn = memory.counts[place] as number;
  memory.counts[place] = turn + 1;
  let wanted = turn % count;
  if (programs[program + PAD.takeOrder] === 1) {
    const last = memory.last[place] as number;
    // One of the others: those after the last one move down by one.
    const others = last >= 0 && last < count ? count - 1 : count;
    wanted = Math.floor(seedOf(seed, TAKE_CHANCE) * CHANCE_UNIT * others);
    if (others < count && wanted >= last) wanted++;
  }
  memory.last[place] = wanted;
  for (let l = first; l < layers; l++) {
    if (!isInQuestion(programs, program + layerAt(l), velocity)) continue;
    if (wanted === 0) return l;
    wanted--;
  }
  return first;
}

function isInQuestion(programs: Float64Array, at: number, velocity: number): boolean {
  return (
    programs[at + LAYER.take] === 1 &&
    velocity >= (programs[at + LAYER.lowVelocity] as number) &&
    velocity <= (programs[at + LAYER.highVelocity] as number)
  );
}
