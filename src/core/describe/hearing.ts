import type { Family } from '../family';
import type { Candidate } from '../onset/detect';
import type { SoundFigures } from './description';
import { type Chances, type FamilyGuess, guessFamily, guessTogether, likelyDrum } from './family';
import { groupManySounds } from './grouping';
import { type Isolation, innerOnsets, isolationOf, usualOf } from './isolation';
import { Mixtures } from './mixtures';
import { comparable, type Pairs, pairsAmong } from './sameness';
import { tailSources } from './tails';
import { type Bareness, byBareness, cutShortDb } from './wholeness';

/** A slice with its own analysis and a person's decisions. */
export interface ListenedSlice {
  readonly startFrame: number;
  readonly endFrame: number;
  readonly figures: SoundFigures;
  readonly chances: Chances;
  /** Family given by a person; null where none was. */
  readonly family: Family | null;
  /** Shelf chosen by a person; null where none was. */
  readonly shelf: string | null;
}

/** What is known of the recording besides; all slices of one recording share one of these. */
export interface HeardRecording {
  readonly sampleRate: number;
  readonly candidates: readonly Candidate[];
}

/** Result for a slice among the others. */
export interface HeardSlice {
  readonly guess: FamilyGuess;
  /** Its family: decided by a person for it or for another of its group, else estimated. */
  readonly family: Family;
  /** 1 where a person decided. */
  readonly familyConfidence: number;
  readonly isolation: Isolation;
  /** Level at the cut end relative to the slice's peak, in dB; null where the slice rings out. */
  readonly cutShortDb: number | null;
  /** Index of the slice whose tail is most likely the loudest at this one's start; null where nothing rings. */
  readonly tailOf: number | null;
  readonly group: number;
  readonly groupConfidence: number;
  /** Further families that sound in it, the surest first: a hat struck with a snare. */
  readonly also: readonly Family[];
  /** How far the peak of each of these is under the slice's, in dB. */
  readonly alsoDb: readonly number[];
}

/** Slices of one drum, barest first. */
export interface Shelf {
  readonly group: number;
  readonly family: Family;
  readonly confidence: number;
  /** Probability of a drum in its slices; 1 where a person decided what they are. */
  readonly drum: number;
  /** Further families that sound in more than half of its slices. */
  readonly also: readonly Family[];
  /** Indices of its slices. */
  readonly members: readonly number[];
  /** The shelf made by a person, where there is one. */
  readonly shelf: string | null;
}

export interface Hearing {
  readonly slices: readonly HeardSlice[];
  /** Groups of drums, then those that are probably none; the largest first. */
  readonly shelves: readonly Shelf[];
}

/** Confidence of a family that a person gave to another slice of the group. */
const BY_SAMENESS = 0.97;

/**
 * Analyses slices together: groups those of the same drum, applies a person's decision on one slice to its group, rates
 * isolation, and finds what else sounds in each. `recordingOf` gives the recording of the slice at an index. `pairs`
 * compares slices by index, for callers that keep what was compared.
 */
export function hear(
  slices: readonly ListenedSlice[],
  recordingOf: (index: number) => HeardRecording,
  pairs: Pairs = pairsAmong(slices.map(({ figures, chances }) => comparable(figures, chances))),
): Hearing {
  const grouped = groupSlices(slices, recordingOf, pairs);
  const further = alsoIn(slices, grouped, pairs);
  return {
    slices: grouped.slices.map((slice, i) => ({ ...slice, ...at(further, i) })),
    shelves: grouped.shelves.map((shelf) => ({
      ...shelf,
      also: shared(shelf.members.map((i) => at(further, i).also)),
    })),
  };
}

/** Slices by drum, before it is known what else sounds in them. */
export interface Grouped {
  readonly slices: readonly Omit<HeardSlice, keyof AlsoHeard>[];
  readonly shelves: readonly Omit<Shelf, 'also'>[];
}

/** The part of `hear` that groups slices and rates isolation. */
export function groupSlices(
  slices: readonly ListenedSlice[],
  recordingOf: (index: number) => HeardRecording,
  pairs: Pairs,
): Grouped {
  const { groupOf, confidence } = groupManySounds(slices.length, (a, b) => pairs.odds(a, b), slices);
  const membersOf = new Map<number, number[]>();
  for (const [i, group] of groupOf.entries()) membersOf.set(group, [...(membersOf.get(group) ?? []), i]);
  const usualsOf = new Map(
    [...membersOf].map(([group, members]) => [group, usualOf(members.map((i) => at(slices, i).figures.sketch))]),
  );
  const isolations = slices.map((slice, i) => {
    const { candidates, sampleRate } = recordingOf(i);
    const usual = usualsOf.get(groupOf[i] as number) ?? null;
    return isolationOf(slice.figures.sketch, innerOnsets(slice, candidates, sampleRate), usual, sampleRate);
  });
  const familyOf = new Map(
    [...membersOf].map(([group, members]) => [
      group,
      groupFamily(members.map((i) => ({ ...at(slices, i), isolation: at(isolations, i) }))),
    ]),
  );
  const cutShort = slices.map((slice, i) => {
    const { candidates, sampleRate } = recordingOf(i);
    return cutShortDb(slice.figures.sketch, slice, candidates, sampleRate);
  });
  const bareness = slices.map(({ startFrame, figures: { lufs } }, i): Bareness => {
    const { foreignDb } = at(isolations, i);
    return { foreignDb, cutShortDb: cutShort[i] ?? null, lufs, startFrame };
  });
  const tails = tailsIn(slices, recordingOf);
  const heard = slices.map((slice, i): Grouped['slices'][number] => {
    const group = groupOf[i] as number;
    const shared = familyOf.get(group) as GroupFamily;
    return {
      guess: guessFamily(slice.chances),
      family: slice.family ?? shared.family,
      familyConfidence: slice.family ? 1 : shared.confidence,
      isolation: at(isolations, i),
      cutShortDb: cutShort[i] ?? null,
      tailOf: tails[i] ?? null,
      group,
      groupConfidence: slice.shelf === null ? (confidence[i] as number) : 1,
    };
  });
  const told = [...membersOf].map(([group, members]): Grouped['shelves'][number] => {
    const { family, confidence: sure, drum } = familyOf.get(group) as GroupFamily;
    return {
      group,
      family,
      confidence: sure,
      drum,
      members: [...members].sort((a, b) => byBareness(at(bareness, a), at(bareness, b)) || a - b),
      shelf: members.map((i) => at(slices, i).shelf).find((s) => s !== null) ?? null,
    };
  });
  return {
    slices: heard,
    shelves: told.sort((a, b) => Number(likelyDrum(b)) - Number(likelyDrum(a)) || b.members.length - a.members.length),
  };
}

/** For each slice the index of the one that rings on in it, within its own recording. */
function tailsIn(slices: readonly ListenedSlice[], recordingOf: (index: number) => HeardRecording): (number | null)[] {
  const placesOf = new Map<HeardRecording, number[]>();
  for (const i of slices.keys()) {
    const places = placesOf.get(recordingOf(i));
    if (places) places.push(i);
    else placesOf.set(recordingOf(i), [i]);
  }
  const tails: (number | null)[] = slices.map(() => null);
  for (const [{ sampleRate }, places] of placesOf) {
    const own = places.map((i) => {
      const { startFrame, endFrame, figures } = at(slices, i);
      return { startFrame, endFrame, sketch: figures.sketch };
    });
    for (const [k, source] of tailSources(own, sampleRate).entries())
      if (source !== null) tails[places[k] as number] = places[source] as number;
  }
  return tails;
}

function at<T>(list: readonly T[], i: number): T {
  return list[i] as T;
}

interface GroupFamily {
  readonly family: Family;
  readonly confidence: number;
  readonly drum: number;
}

/** The family a person gave most often to a group's slices, else the joint estimate. */
function groupFamily(members: readonly (ListenedSlice & { readonly isolation: Isolation })[]): GroupFamily {
  const said = new Map<Family, number>();
  for (const { family } of members) if (family) said.set(family, (said.get(family) ?? 0) + 1);
  const most = [...said].sort((a, b) => b[1] - a[1])[0];
  if (most) return { family: most[0], confidence: BY_SAMENESS, drum: 1 };
  return guessTogether(
    members.map(({ chances: { main, drum }, isolation: { foreignDb } }) => ({ main, drum, foreignDb })),
  );
}

/** Grouped slices as possible mixtures of one another. */
export function mixturesOf(slices: readonly ListenedSlice[], { slices: grouped, shelves }: Grouped, pairs: Pairs) {
  const mixed = grouped.map(({ family, group, isolation: { foreignDb } }, i) => {
    return { family, group, foreignDb, sketch: at(slices, i).figures.sketch };
  });
  return new Mixtures(mixed, shelves.filter(likelyDrum), (a, b) => pairs.coherence(a, b));
}

type AlsoHeard = Pick<HeardSlice, 'also' | 'alsoDb'>;

/** For each slice the families of other shelves that sound in it; where there are none, by that slice alone. */
function alsoIn(slices: readonly ListenedSlice[], grouped: Grouped, pairs: Pairs): readonly AlsoHeard[] {
  const families = new Set(grouped.shelves.filter(likelyDrum).map(({ family }) => family));
  if (families.size > 1) {
    const peakDb = (i: number) => at(slices, i).figures.peakDb;
    return mixturesOf(slices, grouped, pairs)
      .heard()
      .map((drums, i) => ({
        also: drums.map(({ family }) => family),
        alsoDb: drums.map(({ other, levelDb }) => Math.min(0, peakDb(other) + levelDb - peakDb(i))),
      }));
  }
  return grouped.slices.map(({ guess, family }) => {
    const also = guess.contains.filter((other) => other !== family);
    return { also, alsoDb: also.map(() => 0) };
  });
}

/** Families in more than half of some lists. */
function shared(lists: readonly (readonly Family[])[]): Family[] {
  const counts = new Map<Family, number>();
  for (const list of lists) for (const family of list) counts.set(family, (counts.get(family) ?? 0) + 1);
  return [...counts].filter(([, n]) => n > lists.length / 2).map(([family]) => family);
}
