import { chancesOf } from '../../../src/core/describe/chances';
import { Describer } from '../../../src/core/describe/description';
import { hear } from '../../../src/core/describe/hearing';
import { detectOnsets } from '../../../src/core/onset/detect';
import { selectOnsets, slicesFromOnsets } from '../../../src/core/onset/select';
import { type Region, SPLIT_INITIAL } from '../../../src/core/onset/split';
import { RATE, renderNotes } from '../fluid';
import { DRUMS, type Note, PROGRAMS, pattern } from '../patterns';
import { stemsOf, trueSlice } from './loops';
import { otherSounds } from './notes';
import { cached, familyOfKey, type Kit, oneShots, renderKit } from './percussion';
import { type Guessed, toldApart } from './score';

export interface Song {
  readonly samples: Float32Array;
  readonly slices: readonly (Region & { readonly keys: readonly number[] })[];
}

/** What is told of one slice of a song. */
interface SongSlice {
  /** Whether a drum is struck in it, and not notes alone. */
  readonly drum: boolean;
  /** How likely it is told that one is. */
  readonly score: number;
  /** How sure its family is told to be; right where a drum of it is struck. */
  readonly family: Guessed;
}

export interface SongReport {
  readonly slices: readonly SongSlice[];
  /** Of pairs of a slice with a drum and one of notes alone, those told apart by how likely a drum is; and by how sure the family is without that. */
  readonly apart: number;
  readonly apartByFamily: number;
}

/** Drums under bass, keys and guitar: which slices have a drum at all, and which. */
export function reportSongs(kits: readonly Kit[], font: string, seeds: readonly number[], folder: string): SongReport {
  const describer = new Describer(RATE);
  const slices: SongSlice[] = [];
  const byFamily: { score: number; drum: boolean }[] = [];
  for (const kit of kits) {
    for (const seed of seeds) {
      const song = makeSong(kit, font, seed, folder);
      const listened = song.slices.map(({ startFrame, endFrame }) => {
        const figures = describer.describe(song.samples, startFrame, endFrame);
        return { startFrame, endFrame, figures, chances: chancesOf(figures), family: null, shelf: null };
      });
      const recording = { sampleRate: RATE, candidates: [] };
      for (const [i, { family, familyConfidence, guess }] of hear(listened, () => recording).slices.entries()) {
        const keys = song.slices[i]?.keys ?? [];
        if (keys.some((key) => kit.without?.includes(key))) continue;
        const right = (keys.map(familyOfKey) as readonly string[]).includes(family);
        const drum = keys.length > 0;
        slices.push({ drum, score: guess.drum, family: { confidence: familyConfidence, right } });
        byFamily.push({ drum, score: Math.max(...(listened[i]?.chances.main ?? [])) });
      }
    }
  }
  return { slices, apart: toldApart(slices), apartByFamily: toldApart(byFamily) };
}

/** A song of a kit under the bass, keys and guitar of a font: slices as detection finds them, with the drums struck in each; none where notes begin alone. */
export function makeSong(kit: Kit, font: string, seed: number, folder: string): Song {
  const { notes, bpm } = pattern('under music', seed);
  const secondsPerTick = 60 / bpm / 480;
  const seconds = Math.max(...notes.map(({ tick }) => tick)) * secondsPerTick + 2;
  const isDrum = ({ channel }: Note) => channel === DRUMS;
  const stemOf = stemsOf(notes.filter(isDrum));
  const stems = new Map(
    [...new Set(stemOf.values())].map((stem) => {
      const own = notes.filter((note) => stemOf.get(note) === stem);
      return [
        stem,
        cached(folder, `song ${kit.name} ${seed} ${stem}`, () => renderKit(kit, own, seconds, folder, bpm)),
      ];
    }),
  );
  const others = notes.filter((note) => !isDrum(note));
  const music = cached(folder, `song ${kit.name} ${seed} music`, () =>
    renderNotes([font], others, bpm, seconds, folder, [], PROGRAMS),
  );
  const samples = Float32Array.from(music, (x, i) =>
    [...stems.values()].reduce((sum, stem) => sum + (stem[i] as number), x),
  );
  const onsets = selectOnsets(detectOnsets(samples, RATE), SPLIT_INITIAL, RATE);
  const slices = slicesFromOnsets(onsets, samples.length).map((region) => ({
    ...region,
    keys: trueSlice(region, stemOf, stems, secondsPerTick)[0]?.keys ?? [],
  }));
  return { samples, slices };
}

/** Sounds alone: drums of the kits beside notes and effects of a font, told apart by how likely a drum is. */
export function reportOthers(
  kits: readonly Kit[],
  velocities: readonly number[],
  font: string,
  name: string,
  folder: string,
) {
  const describer = new Describer(RATE);
  const score = (samples: Float32Array) => chancesOf(describer.describe(samples, 0, samples.length)).drum;
  const drums = oneShots(kits, velocities, folder).map(({ samples }) => ({ score: score(samples), drum: true }));
  const others = otherSounds(font, name, folder).map((samples) => ({ score: score(samples), drum: false }));
  return { drums, others, apart: toldApart([...drums, ...others]) };
}
