import { chancesOf } from '../../../src/core/describe/chances';
import { Describer, type SoundFigures } from '../../../src/core/describe/description';
import { groupSounds } from '../../../src/core/describe/grouping';
import { hear } from '../../../src/core/describe/hearing';
import { innerOnsets, isolationOf, usualOf } from '../../../src/core/describe/isolation';
import { comparable, pairsAmong } from '../../../src/core/describe/sameness';
import { BANDS } from '../../../src/core/describe/sketch';
import { tailSources } from '../../../src/core/describe/tails';
import { detectOnsets } from '../../../src/core/onset/detect';
import { peakOf } from '../../../src/core/signal/audio';
import { RATE } from '../fluid';
import type { Group } from '../patterns';
import { type Loop, makeLoop, type TrueSlice } from './loops';
import { familyOfKey, type Kit, REPORT_KITS, TUNING_KITS } from './percussion';
import { adjustedRand, type Guessed } from './score';
import { strokeLoop } from './strokes';

export const GROUPS: readonly Group[] = ['plain', 'busy', 'overlapping'];
const KITS = ['fluid 0', 'fluid 25', 'fluid 32', 'pearl', 'zeppelin'];
const TUNED = ['tim 0', 'bank 25', 'sonivox'];
const SEEDS = [11, 12];
const UNLIKE_SEED = 13;
/** From so many decibels on a slice counts as bare; where the barest of a drum has less, there is no bare one to find. */
const BARE_DB = 20;
const AS_GOOD_DB = 1;

/** What a slice is taken for, and whether it is said to hold a family of which no drum was struck. */
export interface SliceGuess extends Guessed {
  readonly strange: boolean;
  /** How sure it is told to stand on the right shelf, and whether it does: with its like, or alone where there is none. */
  readonly shelf: Guessed;
}

export interface GroupReport {
  /** Means of the adjusted Rand index, by kind of loop. */
  readonly rand: Readonly<Record<string, number>>;
  /** The same of loops in which no two strokes of a drum are alike, as they are played; those above are made of samples. */
  readonly unlikeRand: number;
  /** The same where groups are told by the spectrum alone: its nearest cosine over a fixed share. */
  readonly plainRand: number;
  /** Of slices with a tail of -30 dB at least in them, those whose tail is told to be of the drum that was loudest before; and by the slice before. */
  readonly tails: { readonly of: number; readonly right: number; readonly byPlace: number };
  /** What slices are taken for among the others of their loop; right where a drum of that family was struck. */
  readonly families: readonly SliceGuess[];
  readonly bare: { readonly of: number; readonly ours: number; readonly byLevel: number; readonly byGap: number };
}

/** Kits whose loops are reported on. */
export function loopKits(tuning: boolean): readonly Kit[] {
  return tuning ? TUNING_KITS.filter((k) => TUNED.includes(k.name)) : REPORT_KITS.filter((k) => KITS.includes(k.name));
}

/** Groups and isolation on loops of the report kits (or of the tuning kits). */
export function reportGroups(folder: string, tuning: boolean): GroupReport {
  const describer = new Describer(RATE);
  const kits = loopKits(tuning);
  const scores = new Map<string, number[]>();
  const plain: number[] = [];
  const unlike: number[] = [];
  const bare = { of: 0, ours: 0, byLevel: 0, byGap: 0 };
  const tails = { of: 0, right: 0, byPlace: 0 };
  const families: SliceGuess[] = [];
  for (const kit of kits) {
    for (const group of GROUPS) {
      for (const seed of tuning ? [1, 2] : SEEDS) {
        const loop = makeLoop(kit, group, seed, folder);
        const { sounds, score } = grouped(loop, describer);
        scores.set(group, [...(scores.get(group) ?? []), score]);
        const truth = loop.slices.map((s) => s.drums);
        plain.push(adjustedRand(byCosine(sounds), truth));
        rankBare(loop, sounds, bare);
        nameTails(loop, sounds, tails);
        families.push(...nameFamilies(kit, loop, sounds));
      }
      unlike.push(grouped(strokeLoop(kit, group, UNLIKE_SEED, 1, folder), describer).score);
    }
  }
  const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / Math.max(1, values.length);
  const rand = Object.fromEntries([...scores].map(([group, values]) => [group, mean(values)]));
  return {
    rand: { ...rand, all: mean([...scores.values()].flat()) },
    unlikeRand: mean(unlike),
    plainRand: mean(plain),
    tails,
    families,
    bare,
  };
}

function nameFamilies(kit: Kit, { slices }: Loop, sounds: readonly SoundFigures[]): SliceGuess[] {
  const listened = slices.map(({ startFrame, endFrame }, i) => {
    const figures = sounds[i] as SoundFigures;
    return {
      startFrame,
      endFrame,
      figures,
      chances: chancesOf(figures),
      family: null,
      shelf: null,
    };
  });
  const recording = { sampleRate: RATE, candidates: [] };
  const heard = hear(listened, () => recording).slices;
  const groups = heard.map(({ group }) => group);
  const drums = slices.map((slice) => slice.drums);
  return heard.flatMap(({ also, family, familyConfidence, groupConfidence }, i) => {
    const keys = slices[i]?.keys ?? [];
    if (keys.some((key) => kit.without?.includes(key))) return [];
    const struck: readonly string[] = keys.map(familyOfKey);
    return [
      {
        confidence: familyConfidence,
        right: struck.includes(family),
        strange: also.some((other) => !struck.includes(other)),
        shelf: { confidence: groupConfidence, right: standsRight(i, groups, drums) },
      },
    ];
  });
}

/** Whether half of the others of its group, at the least, are of the drum of one; of one that is alone, whether no other is. */
export function standsRight(i: number, groups: readonly number[], drums: readonly string[]): boolean {
  const others = [...groups.keys()].filter((k) => k !== i && groups[k] === groups[i]);
  const alike = (k: number) => drums[k] === drums[i];
  if (others.length === 0) return drums.filter((drum) => drum === drums[i]).length === 1;
  return others.filter(alike).length >= others.length / 2;
}

/** Tails quieter than this are hardly a reason. */
const TAIL_DB = -30;

function nameTails(
  { slices }: Loop,
  sounds: readonly SoundFigures[],
  tails: { of: number; right: number; byPlace: number },
): void {
  const told = tailSources(
    slices.map((slice, i) => ({ ...slice, sketch: (sounds[i] as SoundFigures).sketch })),
    RATE,
  );
  for (const [i, { ringing }] of slices.entries()) {
    const { reasons } = isolationOf((sounds[i] as SoundFigures).sketch, [], null, RATE);
    const source = told[i];
    if (ringing === null || source === null || source === undefined) continue;
    if (!reasons.some(({ kind, db }) => kind === 'tail before' && db > TAIL_DB)) continue;
    tails.of++;
    if (slices[source]?.keys.includes(ringing)) tails.right++;
    if (slices[i - 1]?.keys.includes(ringing)) tails.byPlace++;
  }
}

/** The sounds of a loop, and how near their groups are to the truth. */
function grouped(loop: Loop, describer: Describer): { sounds: SoundFigures[]; score: number } {
  const sounds = loop.slices.map(({ startFrame, endFrame }) => describer.describe(loop.samples, startFrame, endFrame));
  const ready = sounds.map((sound) => comparable(sound, chancesOf(sound)));
  const pairs = pairsAmong(ready);
  const { groupOf } = groupSounds(sounds.length, (a, b) => pairs.odds(a, b));
  const truth = loop.slices.map((s) => s.drums);
  const score = adjustedRand(groupOf, truth);
  console.log(
    `  ${loop.name.padEnd(24)} ${loop.slices.length} slices, ${new Set(truth).size} drums, ${new Set(groupOf).size} groups: ${score.toFixed(2)}`,
  );
  return { sounds, score };
}

/** Each sound with the first of those before it whose mean spectrum points the same way, within a share tuned on the tuning kits. */
function byCosine(sounds: readonly SoundFigures[]): number[] {
  const vectors = sounds.map(({ sketch }) => {
    const sums = new Float64Array(BANDS);
    sketch.powers.forEach((p, i) => {
      sums[i % BANDS] = (sums[i % BANDS] as number) + p;
    });
    const logs = sums.map((p) => Math.log10(p / Math.max(...sums) + 1e-4) + 4);
    const length = Math.hypot(...logs);
    return logs.map((x) => x / length);
  });
  const groupOf: number[] = [];
  let count = 0;
  for (const [i, vector] of vectors.entries()) {
    const near = vectors.findIndex(
      (other, j) => j < i && other.reduce((sum, x, b) => sum + x * (vector[b] as number), 0) > 0.97,
    );
    groupOf.push(near >= 0 ? (groupOf[near] as number) : count++);
  }
  return groupOf;
}

/** Whether the slice that is told to be the barest of its drum is bare, and whether level or the gap before it would have told. */
function rankBare(
  loop: Loop,
  sounds: readonly SoundFigures[],
  bare: { of: number; ours: number; byLevel: number; byGap: number },
): void {
  const candidates = detectOnsets(loop.samples, RATE);
  for (const drum of new Set(loop.slices.map((s) => s.drums))) {
    const members = loop.slices.flatMap((slice, i) =>
      slice.drums === drum ? [{ slice, i, sound: sounds[i] as SoundFigures }] : [],
    );
    const best = Math.max(...members.map((m) => m.slice.bareDb));
    const worst = Math.min(...members.map((m) => m.slice.bareDb));
    // Where all are as bare, any order finds one.
    if (members.length < 2 || best < BARE_DB || worst >= BARE_DB) continue;
    const usual = usualOf(members.map((m) => m.sound.sketch));
    const firstBy = (value: (m: (typeof members)[number]) => number) =>
      members.reduce((a, b) => (value(b) > value(a) ? b : a)).slice.bareDb;
    const isBare = (db: number) => db >= Math.min(BARE_DB, best - AS_GOOD_DB);
    const score = (m: (typeof members)[number]) =>
      isolationOf(m.sound.sketch, innerOnsets(m.slice, candidates, RATE), usual, RATE).foreignDb * -1;
    bare.of++;
    if (isBare(firstBy(score))) bare.ours++;
    if (isBare(firstBy((m) => peakOf([loop.samples], m.slice.startFrame, m.slice.startFrame + 0.05 * RATE))))
      bare.byLevel++;
    if (isBare(firstBy((m) => gapBefore(loop.slices, m.slice)))) bare.byGap++;
  }
}

function gapBefore(slices: readonly TrueSlice[], slice: TrueSlice): number {
  const before = slices.filter((s) => s.startFrame < slice.startFrame).at(-1);
  return slice.startFrame - (before?.startFrame ?? Number.NEGATIVE_INFINITY);
}
