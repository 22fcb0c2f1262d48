import type { Change } from '@/contract/edits';
import { likelyDrum } from '@/core/describe/family';
import type { Family } from '@/core/family';
import type { Slice } from '@/core/recording/model';
import type { Stretch } from '../pads/laying';
import { sureness } from '../parts/figures';
import { SURE, stretchOf } from '../slice/stretches';
import type { StoredSlice } from '../slice/use-marks';
import type { ShelfOfSlices, ShelvedSlice } from './use-heard';

/** Puts slices on a named shelf; slices grouped there by estimate get the name too. */
function putOn(slices: readonly ShelvedSlice[], shelf: string): Change[] {
  return slices.flatMap(({ slice }) => (slice.shelf === shelf ? [] : setSlice(slice, { shelf })));
}

/** Moves slices to a shelf. A different family decided for one is removed. */
export function moveTo(slices: readonly ShelvedSlice[], to: ShelfOfSlices, newId: () => string): Change[] {
  const shelf = to.shelf ?? newId();
  const own = slices.filter(({ slice }) => slice.family === null || slice.family === to.family);
  const others = slices.filter((entry) => !own.includes(entry));
  return [
    ...putOn(to.slices, shelf),
    ...putOn(own, shelf),
    ...others.map(({ slice }) => setSlice(slice, { shelf, family: null })),
  ];
}

function setSlice({ id, rev }: StoredSlice, set: Partial<Slice>): Change {
  return { op: 'update', doc: 'slice', id, rev, set };
}

/** Makes a new shelf of slices; those left behind stay together. */
export function partFrom(from: ShelfOfSlices, slices: readonly ShelvedSlice[], newId: () => string): Change[] {
  const gone = new Set(slices.map(({ slice }) => slice.id));
  const rest = from.slices.filter(({ slice }) => !gone.has(slice.id));
  return [...putOn(rest, from.shelf ?? newId()), ...putOn(slices, newId())];
}

/** Gives all slices of a shelf a family. */
export function nameShelf({ slices }: ShelfOfSlices, family: Family | null): Change[] {
  return slices.flatMap(({ slice }) => (slice.family === family ? [] : setSlice(slice, { family })));
}

/** A slice to be laid on a pad: as a person decided, or as estimated with confidence. */
export function stretchOfShelved(entry: ShelvedSlice): Stretch {
  return stretchOf(entry.recording, entry.slice, entry.number, undefined, entry);
}

/** The barest of each shelf, to be laid on pads. */
export function barestOfEach(shelves: readonly ShelfOfSlices[]): Stretch[] {
  return shelves.flatMap(({ slices }) => slices.slice(0, 1)).map(stretchOfShelved);
}

/** A barest slice under this isolation score, about 17 dB, is reported as not bare. */
const NOT_BARE = 40;

/** Doubts about a slice's family or place, a sentence each. */
export function doubtsOf(shelf: ShelfOfSlices): string[] {
  const doubts: string[] = [];
  const barest = shelf.slices[0];
  if (!barest) return doubts;
  if (!likelyDrum(shelf)) doubts.push(`It is likely no drum (${sureness(1 - shelf.drum)}).`);
  else if (shelf.confidence < SURE) doubts.push(`Its family is a guess (${sureness(shelf.confidence)}).`);
  if (barest.heard.isolation.score < NOT_BARE)
    doubts.push(`Even the barest is not bare (isolation ${barest.heard.isolation.score}).`);
  // What a person kept in it on purpose is no doubt.
  const others = barest.heard.also.filter((family) => !barest.slice.also.includes(family));
  if (others.length > 0) doubts.push(`It may hold another sound as well: ${others.join(', ')}.`);
  return doubts;
}

/** Shelves to choose from, by index; without one of them. */
export function shelfOptions(shelves: readonly ShelfOfSlices[], without: ShelfOfSlices | null) {
  return shelves.flatMap((shelf, i) =>
    shelf === without ? [] : [[i, `${i + 1}: ${shelf.family}, ${shelf.slices.length}`] as const],
  );
}
