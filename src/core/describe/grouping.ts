import { threadKernel } from '../kernel/kernel';
import { logistic } from './network';

/** Sounds grouped by drum: the group number of each sound, from 0 in order of first appearance. */
export interface Grouping {
  readonly groupOf: readonly number[];
  /** For each sound, 0..1, the confidence that it belongs to this group and no other. */
  readonly confidence: readonly number[];
}

/** What a person decided about a sound: its shelf and its family; null where nothing. */
export interface Said {
  readonly shelf: string | null;
  readonly family: string | null;
}

/**
 * Whether decisions of a person make two sounds the same drum (true) or different ones (false); null where they say
 * neither.
 */
function saidSame(a: Said | undefined, b: Said | undefined): boolean | null {
  if (!a || !b) return null;
  if (a.shelf !== null && b.shelf !== null) return a.shelf === b.shelf;
  return a.family !== null && b.family !== null && a.family !== b.family ? false : null;
}

/** Groups are joined down to this log odds: even odds. */
const LEAST_ODDS = 0;
/**
 * Weight of shared neighbours in the log odds of a pair. Both settings minimise the error on the tuning kits, none of
 * which the network has seen.
 */
const COMPANY = 4;
const USUAL_COMPANY = 0.6;

/**
 * Groups sounds by average linkage: the two groups with the highest mean odds over all pairs are joined, while those
 * odds are at least even (R. Sokal, C. Michener, "A statistical method for evaluating systematic relationships",
 * University of Kansas Science Bulletin 38, 1958). The number of groups follows. `said` holds a person's decisions:
 * sounds of one shelf stay together, those of different shelves apart, and so do those of different families unless a
 * shelf holds both. Shared neighbours raise the odds of a pair (R. Jarvis, E. Patrick, "Clustering using a similarity
 * measure based on shared near neighbors", IEEE Trans. Computers 22, 1973).
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
/** A person's decision outweighs any estimate. */
const MUST = 1e6;

/** Adds shared-neighbour evidence to all pairs: the cosine of their rows of probabilities. */
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
        // Leaves out of both rows the pair's own probability.
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

/**
 * Above this many sounds only some are clustered, and the others assigned: all pairs of thousands would take minutes.
 */
export const MOST_PAIRED = 1000;
/** Members of a group that another sound is compared with, spread evenly over the group. */
const HELD_AGAINST = 6;

/**
 * `groupSounds` for any number of sounds. Of many, a regular sample and all sounds placed by a person are clustered;
 * each of the others joins the group with the highest mean odds over some of its members, or stands alone.
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
    // Families that a person gave to members: a sound given another family does not join.
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
 * Group numbers after average linkage of the pairs in `pair`, down to a mean of `least`. Keeps the nearest neighbour of
 * each group, and adds sums of odds when groups are joined.
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
