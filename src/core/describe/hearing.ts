import type { Family } from '../family';
import type { Candidate } from '../onset/detect';
import type { SoundFigures } from './description';
import { type Chances, type FamilyGuess, guessFamily, guessTogether, likelyDrum } from './family';
import { groupManySounds } from './grouping';
import { type Isolation, innerOnsets, isolationOf, usualOf } from './isolation';
import { comparable, oddsAmong } from './sameness';
import { tailSources } from './tails';
import { type Bareness, byBareness, cutShortDb } from './wholeness';

/** A slice with what was found by listening to it alone, and what a person has said of it. */
export interface ListenedSlice {
  readonly startFrame: number;
  readonly endFrame: number;
  readonly figures: SoundFigures;
  readonly chances: Chances;
  /** The family that a person gave it; null where none did. */
  readonly family: Family | null;
  /** The shelf that a person put it on; null where none did. */
  readonly shelf: string | null;
}

/** What else is known of the recording that a slice is of; slices that are told the same one are of one recording. */
export interface HeardRecording {
  readonly sampleRate: number;
  readonly candidates: readonly Candidate[];
}

/** What a slice is heard as among the others. */
export interface HeardSlice {
  readonly guess: FamilyGuess;
  /** What it is taken for: what a person said of it or of another of its group, else the guess. */
  readonly family: Family;
  /** 1 where a person said so. */
  readonly familyConfidence: number;
  readonly isolation: Isolation;
  /** How loud it still is where it is cut off, in dB against its loudest; null where it rings out. */
  readonly cutShortDb: number | null;
  /** Place in the list of the slice whose tail is likeliest loudest at its start; null where nothing rings. */
  readonly tailOf: number | null;
  readonly group: number;
  readonly groupConfidence: number;
}

/** Slices of one drum, barest first. */
export interface Shelf {
  readonly group: number;
  readonly family: Family;
  readonly confidence: number;
  /** How likely a drum is struck in its slices; 1 where a person has said what they are. */
  readonly drum: number;
  /** Families heard in more than half of its slices. */
  readonly contains: readonly Family[];
  /** Places in the list of slices. */
  readonly members: readonly number[];
  /** The shelf that a person made, where one did. */
  readonly shelf: string | null;
}

export interface Hearing {
  readonly slices: readonly HeardSlice[];
  /** Those of drums, then those that are likelier none; with most slices first. */
  readonly shelves: readonly Shelf[];
}

/** How sure a family is that another slice of the same group was given by a person. */
const BY_SAMENESS = 0.97;

/**
 * Listens to slices together: groups those of the same drum, lets what a person has said of one speak for its group, and tells how bare
 * each is. `recordingOf` tells which recording the slice at a place in the list is of. `oddsOf` tells of the slices at two places how much
 * likelier they are the same drum than not, for who knows it from before.
 */
export function hear(
  slices: readonly ListenedSlice[],
  recordingOf: (index: number) => HeardRecording,
  oddsOf = oddsAmong(slices.map(({ figures, chances }) => comparable(figures, chances))),
): Hearing {
  const { groupOf, confidence } = groupManySounds(slices.length, oddsOf, slices);
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
  const heard = slices.map((slice, i): HeardSlice => {
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
  const told = [...membersOf].map(([group, members]): Shelf => {
    const { family, confidence: sure, drum } = familyOf.get(group) as GroupFamily;
    return {
      group,
      family,
      confidence: sure,
      drum,
      contains: sharedContents(members.map((i) => at(heard, i).guess)),
      members: [...members].sort((a, b) => byBareness(at(bareness, a), at(bareness, b)) || a - b),
      shelf: members.map((i) => at(slices, i).shelf).find((s) => s !== null) ?? null,
    };
  });
  return {
    slices: heard,
    shelves: told.sort((a, b) => Number(likelyDrum(b)) - Number(likelyDrum(a)) || b.members.length - a.members.length),
  };
}

/** For each slice the place of the one that rings on in it, each recording's slices by themselves. */
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

/** What a person said most often of a group's slices, else what all of them together are likeliest. */
function groupFamily(members: readonly (ListenedSlice & { readonly isolation: Isolation })[]): GroupFamily {
  const said = new Map<Family, number>();
  for (const { family } of members) if (family) said.set(family, (said.get(family) ?? 0) + 1);
  const most = [...said].sort((a, b) => b[1] - a[1])[0];
  if (most) return { family: most[0], confidence: BY_SAMENESS, drum: 1 };
  return guessTogether(
    members.map(({ chances: { main, drum }, isolation: { foreignDb } }) => ({ main, drum, foreignDb })),
  );
}

function sharedContents(guesses: readonly FamilyGuess[]): Family[] {
  const counts = new Map<Family, number>();
  for (const { contains } of guesses) for (const family of contains) counts.set(family, (counts.get(family) ?? 0) + 1);
  return [...counts].filter(([, n]) => n > guesses.length / 2).map(([family]) => family);
}
