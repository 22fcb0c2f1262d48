import { detectOnsets } from '../../../src/core/onset/detect';
import { selectOnsets, slicesFromOnsets } from '../../../src/core/onset/select';
import { type AttackSplit, type Region, SPLIT_INITIAL } from '../../../src/core/onset/split';
import { RATE } from '../fluid';
import { DRUMS, type Group, type Note, pattern } from '../patterns';
import { cached, type Kit, renderKit } from './percussion';

/** A slice as detection found it in a rendered loop, with what is true of it. */
export interface TrueSlice extends Region {
  /** Keys struck at its start, in rising order, joined: the drum, or the drums struck as one. */
  readonly drums: string;
  readonly keys: readonly number[];
  /** Energy of what is struck at its start over all else in the slice, what rings on of earlier strokes of the same drum too, in dB. */
  readonly bareDb: number;
  /** The key that was loudest in the 20 ms before it of those not struck at its start; null where nothing sounded. */
  readonly ringing: number | null;
}

export interface Loop {
  readonly name: string;
  readonly group: Group;
  readonly bpm: number;
  readonly samples: Float32Array;
  readonly slices: readonly TrueSlice[];
  /** Frame of the first downbeat. */
  readonly downbeat: number;
}

/** Hats silence each other, so that they can only be rendered together. */
export const HATS: readonly number[] = [42, 44, 46];
/** A stroke belongs to the slice that starts this near to it. */
const BEFORE_S = 0.015;
const AFTER_S = 0.025;
const LEAST_ENERGY = 1e-9;
/** What rings is told by what sounds from so long before a start to so long before it. */
const [RINGS_FRAMES, CLEAR_FRAMES] = [Math.round(0.023 * RATE), Math.round(0.003 * RATE)];

/** A loop of a kit: a pattern, each drum rendered by itself, so that it is known what sounds in every slice. */
export function makeLoop(kit: Kit, group: Group, seed: number, folder: string, split: Partial<AttackSplit> = {}): Loop {
  const { notes, bpm } = pattern(group, seed);
  const drums = notes.filter((note) => note.channel === DRUMS);
  const secondsPerTick = 60 / bpm / 480;
  const lastTick = Math.max(...drums.map((note) => note.tick));
  const seconds = lastTick * secondsPerTick + 2;
  const stems = new Map<string, Float32Array>();
  const stemOf = stemsOf(drums);
  for (const stem of new Set(stemOf.values())) {
    const own = drums.filter((note) => stemOf.get(note) === stem);
    stems.set(
      stem,
      cached(folder, `loop ${kit.name} ${group} ${seed} ${stem}`, () => renderKit(kit, own, seconds, folder, bpm)),
    );
  }
  const samples = new Float32Array(Math.round(seconds * RATE));
  for (const stem of stems.values())
    for (let i = 0; i < samples.length; i++) samples[i] = (samples[i] as number) + (stem[i] as number);
  const found = selectOnsets(detectOnsets(samples, RATE), { ...SPLIT_INITIAL, ...split }, RATE);
  const slices = slicesFromOnsets(found, samples.length).flatMap((region) =>
    trueSlice(region, stemOf, stems, secondsPerTick),
  );
  return {
    name: `${kit.name} ${group} ${seed}`,
    group,
    bpm,
    samples,
    slices,
    downbeat: Math.round(480 * secondsPerTick * RATE),
  };
}

/**
 * Stems that strokes are rendered on: those of one drum on three by turns, so that what rings on of a stroke is not taken for part of
 * the next one; hats, which silence each other, on one.
 */
export function stemsOf(notes: readonly Note[]): ReadonlyMap<Note, string> {
  const counts = new Map<number, number>();
  return new Map(
    notes.map((note) => {
      const n = counts.get(note.key) ?? 0;
      counts.set(note.key, n + 1);
      return [note, HATS.includes(note.key) ? 'hats' : `${note.key} ${'abc'[n % 3]}`];
    }),
  );
}

/** What is true of a slice of a loop whose drums are known one by one. */
export function trueSlice(
  region: Region,
  stemOf: ReadonlyMap<Note, string>,
  stems: ReadonlyMap<string, Float32Array>,
  secondsPerTick: number,
): TrueSlice[] {
  const at = region.startFrame / RATE;
  const struck = [...stemOf.keys()].filter(({ tick }) => {
    const off = tick * secondsPerTick - at;
    return off >= -BEFORE_S && off < AFTER_S;
  });
  const end = Math.min(region.endFrame, region.startFrame + RATE * 2);
  const energy = (stem: Float32Array | undefined) => {
    let sum = 0;
    for (let i = region.startFrame; stem && i < end; i++) sum += (stem[i] as number) ** 2;
    return sum;
  };
  const own = new Set(struck.map((note) => stemOf.get(note)));
  const keys = [...new Set(struck.map(({ key }) => key))].sort((a, b) => a - b);
  let [inside, outside] = [LEAST_ENERGY, LEAST_ENERGY];
  for (const [key, stem] of stems) {
    if (own.has(key)) inside += energy(stem);
    else outside += energy(stem);
  }
  if (keys.length === 0) return [];
  const earlier = [...stemOf].filter(([{ tick }]) => at - tick * secondsPerTick > BEFORE_S);
  // The last stroke before it on each stem.
  const last = new Map(earlier.sort(([a], [b]) => a.tick - b.tick).map(([note, stem]) => [stem, note.key]));
  let [loudest, ringing]: [number, number | null] = [LEAST_ENERGY, null];
  for (const [name, key] of last) {
    // A kit may have no sound for a key.
    const stem = stems.get(name);
    let sum = 0;
    for (let i = region.startFrame - RINGS_FRAMES; i < region.startFrame - CLEAR_FRAMES; i++)
      sum += (stem?.[i] ?? 0) ** 2;
    if (sum > loudest) [loudest, ringing] = [sum, key];
  }
  return [{ ...region, keys, drums: keys.join('+'), bareDb: 10 * Math.log10(inside / outside), ringing }];
}
