import { threadKernel } from '../kernel/kernel';
import { logistic } from './network';

/** Sounds in groups of the same drum: for each sound the number of its group, from 0 in order of first appearance. */
export interface Grouping {
  readonly groupOf: readonly number[];
  /** 0..1 for each sound: how surely it belongs to its group and to no other. */
  readonly confidence: readonly number[];
}

/** What a person has said of a sound: the shelf it stands on, its family; null where nothing. */
export interface Said {
  readonly shelf: string | null;
  readonly family: string | null;
}

/** Whether a person has said that two sounds are the same drum, or that they are not; null where neither follows from what was said. */
function saidSame(a: Said | undefined, b: Said | undefined): boolean | null {
  if (!a || !b) return null;
  if (a.shelf !== null && b.shelf !== null) return a.shelf === b.shelf;
  return a.family !== null && b.family !== null && a.family !== b.family ? false : null;
}

/** Log odds down to which groups are joined: even ones. */
const LEAST_ODDS = 0;
/**
 * What it adds to the log odds of two sounds that they are like the same others, from its mean. Both settings are those at which the
 * groups of the tuning kits, none learnt from, are nearest the truth.
 */
const COMPANY = 4;
const USUAL_COMPANY = 0.6;

/**
 * Groups sounds by average linkage: the two groups whose sounds are likeliest the same drum, in the mean of all pairs, are joined as
 * long as that is not unlikely (R. Sokal, C. Michener, "A statistical method for evaluating systematic relationships",
 * University of Kansas Science Bulletin 38, 1958). The number of groups follows. `said` holds what a person has said of each sound:
 * those of one shelf stay together, those of different shelves apart, and so do those of different families that no shelf holds
 * together. Two sounds are the likelier the same the more they are
 * like the same others (R. Jarvis, E. Patrick, "Clustering using a similarity measure based on shared near neighbors", IEEE Trans.
 * Computers 22, 1973).
 */
export function groupSounds(
  count: number,
  odds: (a: number, b: number) => number,
  said: readonly Said[] = [],
): Grouping {
  const pair = new Float32Array(count * count);
  for (let a = 0; a < count; a++) {
    for (let b = a + 1; b < count; b++) {
      const same = saidSame(said[a], said[b]);
      const value = same === null ? odds(a, b) : same ? MUST : -MUST;
      pair[a * count + b] = value;
      pair[b * count + a] = value;
    }
  }
  addCompany(pair, count);
  const groupOf = averageLinkage(pair, count, LEAST_ODDS);
  return { groupOf, confidence: confidences(pair, groupOf, count) };
}

const NOTHING_SAID: Said = { shelf: null, family: null };
/** Said by a person, which nothing outweighs. */
const MUST = 1e6;

/** Adds to the odds of all pairs what company they keep tells: the cosine of how likely they are the same as each of the others. */
function addCompany(pair: Float32Array, count: number): void {
  const kernel = threadKernel();
  const wide = 4 * Math.ceil(count / 4);
  const chances = new Float32Array(count * wide);
  for (let a = 0; a < count; a++)
    for (let b = 0; b < count; b++) if (a !== b) chances[a * wide + b] = logistic(pair[a * count + b] as number);
  kernel.within(() => {
    const at = kernel.lay(chances);
    const product = (a: number, b: number) => kernel.run.dotProduct(at + 4 * a * wide, at + 4 * b * wide, wide);
    const squares = Float64Array.from({ length: count }, (_, a) => product(a, a));
    for (let a = 0; a < count; a++) {
      for (let b = a + 1; b < count; b++) {
        // Of either row its chance of being the same as the other is left out.
        const own = (chances[a * wide + b] as number) ** 2;
        const both = ((squares[a] as number) - own) * ((squares[b] as number) - own);
        const shared = both > 1e-12 ? product(a, b) / Math.sqrt(both) : 0;
        const odds = (pair[a * count + b] as number) + COMPANY * (shared - USUAL_COMPANY);
        pair[a * count + b] = odds;
        pair[b * count + a] = odds;
      }
    }
  });
}

/** Of more sounds than this, some are grouped with one another and the others put to them: all pairs of thousands take minutes. */
export const MOST_PAIRED = 1000;
/** Members of a group that another sound is held against, spread over it. */
const HELD_AGAINST = 6;

/**
 * `groupSounds` for any number of sounds: of many, every so many-th - and all that a person has put in a group - are grouped, and each of
 * the others joins the group it is likeliest the same drum as, in the mean of some of its members, or stands alone.
 */
export function groupManySounds(
  count: number,
  odds: (a: number, b: number) => number,
  said: readonly Said[] = [],
): Grouping {
  if (count <= MOST_PAIRED) return groupSounds(count, odds, said);
  const every = count / MOST_PAIRED;
  const first = new Set(Array.from({ length: MOST_PAIRED }, (_, i) => Math.floor(i * every)));
  for (const [i, { shelf }] of said.entries()) if (shelf !== null) first.add(i);
  const chosen = [...first].sort((a, b) => a - b);
  const base = groupSounds(
    chosen.length,
    (a, b) => odds(chosen[a] as number, chosen[b] as number),
    chosen.map((i) => said[i] ?? NOTHING_SAID),
  );
  const groupOf = new Array<number>(count).fill(-1);
  const confidence = new Array<number>(count).fill(0);
  const members = new Map<number, number[]>();
  for (const [k, i] of chosen.entries()) {
    const group = base.groupOf[k] as number;
    groupOf[i] = group;
    confidence[i] = base.confidence[k] as number;
    members.set(group, [...(members.get(group) ?? []), i]);
  }
  const heldAgainst = [...members].map(([group, all]) => {
    const step = Math.max(1, all.length / HELD_AGAINST);
    const some = Array.from(
      { length: Math.min(HELD_AGAINST, all.length) },
      (_, n) => all[Math.floor(n * step)] as number,
    );
    // Which families were said of any of them: one that was said to be another does not join.
    const families = new Set(all.flatMap((i) => said[i]?.family ?? []));
    return { group, some, families };
  });
  let next = members.size;
  for (let i = 0; i < count; i++) {
    if (groupOf[i] !== -1) continue;
    const family = said[i]?.family ?? null;
    const means = heldAgainst.map(({ some, families }) =>
      family !== null && families.size > 0 && !families.has(family)
        ? -MUST
        : some.reduce((sum, other) => sum + odds(i, other), 0) / some.length,
    );
    const best = means.indexOf(Math.max(...means));
    const most = means[best] as number;
    const second = Math.max(-8, ...means.filter((_, g) => g !== best));
    const joined = most > LEAST_ODDS ? heldAgainst[best] : undefined;
    groupOf[i] = joined?.group ?? next++;
    if (family !== null) joined?.families.add(family);
    confidence[i] = logistic((most > LEAST_ODDS ? most - second : -most) / 2);
  }
  return { groupOf, confidence };
}

/**
 * Numbers of the groups that sounds come to by average linkage, down to `least` as the mean of all pairs, of which `pair` holds a
 * table. Nearest neighbours are kept for each group, and sums of odds between groups are added when groups are joined.
 */
export function averageLinkage(pair: Float32Array, count: number, least: number): number[] {
  const sums = Float64Array.from(pair);
  const size = new Float64Array(count).fill(1);
  const alive = Array.from({ length: count }, (_, i) => i);
  const joinedTo = Int32Array.from({ length: count }, (_, i) => i);
  const mean = (a: number, b: number) => (sums[a * count + b] as number) / ((size[a] as number) * (size[b] as number));
  const nearest = new Int32Array(count).fill(-1);
  const look = (a: number) => {
    let best = -1;
    for (const b of alive) if (b !== a && (best < 0 || mean(a, b) > mean(a, best))) best = b;
    nearest[a] = best;
  };
  for (const a of alive) look(a);
  while (alive.length > 1) {
    let [from, best] = [-1, least];
    for (const a of alive) {
      const b = nearest[a] as number;
      if (mean(a, b) > best) [from, best] = [a, mean(a, b)];
    }
    if (from < 0) break;
    const other = nearest[from] as number;
    const [keep, gone] = from < other ? [from, other] : [other, from];
    for (const c of alive) {
      if (c === keep || c === gone) continue;
      const sum = (sums[keep * count + c] as number) + (sums[gone * count + c] as number);
      sums[keep * count + c] = sum;
      sums[c * count + keep] = sum;
    }
    size[keep] = (size[keep] as number) + (size[gone] as number);
    joinedTo[gone] = keep;
    alive.splice(alive.indexOf(gone), 1);
    if (alive.length < 2) break;
    look(keep);
    for (const c of alive) {
      if (c === keep) continue;
      if (nearest[c] === keep || nearest[c] === gone) look(c);
      else if (mean(c, keep) > mean(c, nearest[c] as number)) nearest[c] = keep;
    }
  }
  const numbers = new Map<number, number>();
  return Array.from({ length: count }, (_, i) => {
    let root = i;
    while (joinedTo[root] !== root) root = joinedTo[root] as number;
    const known = numbers.get(root) ?? numbers.size;
    numbers.set(root, known);
    return known;
  });
}

function confidences(pair: Float32Array, groupOf: readonly number[], count: number): number[] {
  return groupOf.map((own, a) => {
    const sums = new Map<number, { sum: number; n: number }>();
    for (let b = 0; b < count; b++) {
      if (b === a) continue;
      const group = sums.get(groupOf[b] as number) ?? { sum: 0, n: 0 };
      group.sum += Math.max(-8, Math.min(8, pair[a * count + b] as number));
      group.n++;
      sums.set(groupOf[b] as number, group);
    }
    const mean = (g: { sum: number; n: number } | undefined, none: number) => (g ? g.sum / g.n : none);
    const inOwn = mean(sums.get(own), 2);
    sums.delete(own);
    const inOther = Math.max(-8, ...[...sums.values()].map((g) => g.sum / g.n));
    return logistic((inOwn - inOther) / 2);
  });
}
