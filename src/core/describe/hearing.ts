import type { Family } from '../hit/model';
import type { Candidate } from '../onset/detect';
import { type FamilyGuess, guessFamily } from './family';
import { groupManySounds } from './grouping';
import { type Isolation, innerOnsets, isolationOf, usualOf } from './isolation';
import { comparable, withOdds } from './sameness';
import { SAMENESS_NETWORK } from './sameness-weights';
import type { SoundFigures } from './sound';

/** A slice with what was found by listening to it alone, and what a person has said of it. */
export interface ListenedSlice {
  readonly startFrame: number;
  readonly endFrame: number;
  readonly figures: SoundFigures;
  readonly chances: { readonly main: Float64Array; readonly contains: Float64Array };
  /** The family that a person gave it; null where none did. */
  readonly family: Family | null;
  /** The shelf that a person put it on; null where none did. */
  readonly shelf: string | null;
}

/** What a slice is heard as among the others. */
export interface HeardSlice {
  readonly guess: FamilyGuess;
  /** What it is taken for: what a person said of it or of another of its group, else the guess. */
  readonly family: Family;
  /** 1 where a person said so. */
  readonly familyConfidence: number;
  readonly isolation: Isolation;
  readonly group: number;
  readonly groupConfidence: number;
}

/** Slices of one drum, barest first. */
export interface Shelf {
  readonly group: number;
  readonly family: Family;
  readonly confidence: number;
  /** Families heard in more than half of its slices. */
  readonly contains: readonly Family[];
  /** Places in the list of slices. */
  readonly members: readonly number[];
  /** The shelf that a person made, where one did. */
  readonly shelf: string | null;
}

export interface Hearing {
  readonly slices: readonly HeardSlice[];
  /** Those with most slices first. */
  readonly shelves: readonly Shelf[];
}

/** How sure a family is that another slice of the same group was given by a person. */
const BY_SAMENESS = 0.97;

/** Odds of pairs that were worked out before, by numbers that tell sounds apart; what has changed since is only what was said of them. */
export class KnownOdds {
  private readonly odds = new Map<number, number>();

  of(a: number, b: number, work: () => number): number {
    const key = Math.min(a, b) * 2 ** 26 + Math.max(a, b);
    const known = this.odds.get(key);
    if (known !== undefined) return known;
    const found = work();
    if (this.odds.size < MOST_KNOWN) this.odds.set(key, found);
    return found;
  }
}

/** Pairs of some 2,000 sounds: beyond that they would take more memory than working them out again takes time. */
const MOST_KNOWN = 2_000_000;

/**
 * Listens to slices together: groups those of the same drum, lets what a person has said of one speak for its group, and tells how bare
 * each is. `candidates` are those of the recording that the slice at a place in the list is of. `known` remembers pairs from one call to the next,
 * by numbers of the sounds.
 */
export function hear(
  slices: readonly ListenedSlice[],
  candidatesOf: (index: number) => readonly Candidate[],
  sampleRateOf: (index: number) => number,
  known: { readonly odds: KnownOdds; readonly soundOf: (index: number) => number } | null = null,
): Hearing {
  const ready = slices.map(({ figures, chances }) => comparable(figures, chances));
  const shelves = slices.map((s) => s.shelf);
  const { groupOf, confidence } = withOdds(ready, SAMENESS_NETWORK, (odds) => {
    const remembered =
      known && ((a: number, b: number) => known.odds.of(known.soundOf(a), known.soundOf(b), () => odds(a, b)));
    return groupManySounds(slices.length, remembered ?? odds, shelves);
  });
  const membersOf = new Map<number, number[]>();
  for (const [i, group] of groupOf.entries()) membersOf.set(group, [...(membersOf.get(group) ?? []), i]);
  const usualsOf = new Map(
    [...membersOf].map(([group, members]) => [group, usualOf(members.map((i) => at(slices, i).figures.sketch))]),
  );
  const familyOf = new Map(
    [...membersOf].map(([group, members]) => [group, groupFamily(members.map((i) => at(slices, i)))]),
  );
  const heard = slices.map((slice, i): HeardSlice => {
    const group = groupOf[i] as number;
    const isolation = isolationOf(
      slice.figures.sketch,
      innerOnsets(slice, candidatesOf(i), sampleRateOf(i)),
      usualsOf.get(group) ?? null,
    );
    const shared = familyOf.get(group) as GroupFamily;
    return {
      guess: guessFamily(slice.chances),
      family: slice.family ?? shared.family,
      familyConfidence: slice.family ? 1 : shared.confidence,
      isolation,
      group,
      groupConfidence: slice.shelf === null ? (confidence[i] as number) : 1,
    };
  });
  const told = [...membersOf].map(([group, members]): Shelf => {
    const { family, confidence: sure } = familyOf.get(group) as GroupFamily;
    return {
      group,
      family,
      confidence: sure,
      contains: sharedContents(members.map((i) => at(heard, i).guess)),
      members: [...members].sort((a, b) => at(heard, a).isolation.foreignDb - at(heard, b).isolation.foreignDb),
      shelf: members.map((i) => at(slices, i).shelf).find((s) => s !== null) ?? null,
    };
  });
  return { slices: heard, shelves: told.sort((a, b) => b.members.length - a.members.length) };
}

function at<T>(list: readonly T[], i: number): T {
  return list[i] as T;
}

interface GroupFamily {
  readonly family: Family;
  readonly confidence: number;
}

/** What a person said most often of a group's slices, else what all of them together are likeliest. */
function groupFamily(members: readonly ListenedSlice[]): GroupFamily {
  const said = new Map<Family, number>();
  for (const { family } of members) if (family) said.set(family, (said.get(family) ?? 0) + 1);
  const most = [...said].sort((a, b) => b[1] - a[1])[0];
  if (most) return { family: most[0], confidence: BY_SAMENESS };
  // The mean of probabilities, and not their product: slices of one drum are wrong together.
  const count = members[0]?.chances.main.length ?? 0;
  const main = Float64Array.from(
    { length: count },
    (_, f) => members.reduce((sum, m) => sum + (m.chances.main[f] as number), 0) / members.length,
  );
  return guessFamily({ main, contains: new Float64Array(count) });
}

function sharedContents(guesses: readonly FamilyGuess[]): Family[] {
  const counts = new Map<Family, number>();
  for (const { contains } of guesses) for (const family of contains) counts.set(family, (counts.get(family) ?? 0) + 1);
  return [...counts].filter(([, n]) => n > guesses.length / 2).map(([family]) => family);
}
