import { spectrumOf } from '@/core/describe/spectrum';
import { heardMembers, type TreatedHit } from '@/core/hit/key';
import { Addition, type Cause, type Mend, mendsOf } from '@/core/layering/addition';
import { LOST_DB, THIRD_OCTAVES_HZ } from '@/core/layering/bands';
import { type LayerSound, sumOf } from '@/core/layering/layers';
import { attackOf } from '@/core/layering/line-up';
import { proposedShares, type Shared } from '@/core/layering/share';
import { type LineUpBy, linedUp, turned } from '@/core/layering/taken';
import { measured } from '@/core/loudness/measured';
import { type Audio, toMono } from '@/core/signal/audio';
import { fromDb, toDb } from '@/core/signal/units';
import { layersOf, type RecordingFormat } from './sounds';

/** Longest part of a layer that the page gets to draw, in seconds. */
const DRAWN_S = 8;

/** A layer as it is drawn: its samples with its hit's gain, without its place in the sum. */
export interface Lane {
  /** Tells its samples; the same key has the same ones. */
  readonly key: string;
  /** One channel at the sum's rate, at most `DRAWN_S` of it; null where the asker has them. */
  readonly samples: Float32Array<ArrayBuffer> | null;
  /** The frame of its own in which its strongest attack begins. */
  readonly attackFrame: number;
}

export interface Lanes {
  readonly sampleRate: number;
  readonly lanes: readonly Lane[];
}

/** A level in dB: peak and true peak against full scale, highest momentary loudness in LUFS. */
export interface Levels {
  readonly peakDbfs: number;
  readonly truePeakDbtp: number;
  readonly lufs: number;
}

/** Levels of every layer as it lies in the sum, and of the sum before its steps. */
export interface LevelsOfLayers {
  readonly layers: readonly Levels[];
  readonly sum: Levels;
}

/** How layers lie once they are lined up, in the order of the members. */
export interface LinedUp {
  readonly layers: readonly {
    readonly offsetFrames: number;
    readonly inverted: boolean;
    readonly movedFrames: number;
  }[];
  readonly sampleRate: number;
  /** What the sum loses under 200 Hz before and after, in dB. */
  readonly lostDb: number;
  readonly stillLostDb: number;
}

/** A band of a sum that loses more than 3 dB, and between which members. */
export interface LostBand {
  readonly band: number;
  readonly db: number;
  readonly cause: Cause | null;
}

/** A change that gives back what a sum loses; `layer` is the member's place. */
export type MendFound = Mend & {
  readonly ms: number;
  /** The edges of the bands, where one of them is moved instead. */
  readonly edgesHz?: readonly number[];
};

/** What a sum of layers has over their own powers. Places of layers are those among all members. */
export interface Added {
  /** By third octave (`THIRD_OCTAVES_HZ`), in dB; null where nothing is heard. */
  readonly bands: readonly (number | null)[];
  /** What is lost under 200 Hz, in dB. */
  readonly lostDb: number;
  readonly lost: readonly LostBand[];
  readonly mends: readonly MendFound[];
}

/** Layers to draw; `known` are the keys of those the asker has. */
export async function lanes(hit: TreatedHit, recording: RecordingFormat, known: readonly string[]): Promise<Lanes> {
  const sounds = await layersOf(hit, recording);
  const sampleRate = sounds[0]?.audio.sampleRate ?? recording.sampleRate;
  return {
    sampleRate,
    lanes: sounds.map((sound, n) => {
      const key = keyOf(hit, n, sound);
      const mono = toMono(sound.audio);
      return {
        key,
        samples: known.includes(key) ? null : drawn(mono, ownGain(hit, n, sound), sampleRate),
        attackFrame: attackOf(mono, sampleRate),
      };
    }),
  };
}

const identities = new WeakMap<Audio, number>();
let nextIdentity = 1;

/** Layers are cached as they are: the same object has the same samples. */
function keyOf(hit: TreatedHit, n: number, sound: LayerSound): string {
  const known = identities.get(sound.audio) ?? nextIdentity++;
  identities.set(sound.audio, known);
  return `${known} ${ownGain(hit, n, sound)}`;
}

/** The linear gain of a layer's hit, without the layer's level. */
function ownGain(hit: TreatedHit, n: number, { levelDb }: LayerSound): number {
  return fromDb(levelDb - (hit.members?.[n]?.levelDb ?? 0));
}

function drawn(mono: Float32Array, gain: number, sampleRate: number): Float32Array<ArrayBuffer> {
  const out = new Float32Array(Math.min(mono.length, Math.round(DRAWN_S * sampleRate)));
  for (let i = 0; i < out.length; i++) out[i] = (mono[i] as number) * gain;
  return out;
}

export async function layerLevels(hit: TreatedHit, recording: RecordingFormat): Promise<LevelsOfLayers> {
  const sounds = await layersOf(hit, recording);
  return {
    layers: sounds.map((sound) => levelsOf(sound.audio, sound.levelDb)),
    sum: levelsOf(sumOf(heard(hit, sounds)).audio, 0),
  };
}

/** Layers are measured once, however often another one is changed. */
const measuredLevels = new WeakMap<Audio, Levels>();

function levelsOf(audio: Audio, moreDb: number): Levels {
  const known = measuredLevels.get(audio) ?? measuredNow(audio);
  measuredLevels.set(audio, known);
  const { peakDbfs, truePeakDbtp, lufs } = known;
  return { peakDbfs: peakDbfs + moreDb, truePeakDbtp: truePeakDbtp + moreDb, lufs: lufs + moreDb };
}

function measuredNow(audio: Audio): Levels {
  const { peak, truePeak, momentaryLufs } = measured(audio);
  return { peakDbfs: toDb(peak), truePeakDbtp: toDb(truePeak), lufs: momentaryLufs };
}

/**
 * Layers brought together by their attacks or their lows, and polarities turned that cancel. What is muted is moved too, and
 * does not count in what is lost.
 */
export async function lineUp(hit: TreatedHit, recording: RecordingFormat, by: LineUpBy): Promise<LinedUp> {
  const sounds = await layersOf(hit, recording);
  const lined = turned(linedUp(sounds, by));
  const [before, after] = [heard(hit, sounds), heard(hit, lined)];
  const sum = new Addition(before, roomOf([...before, ...after]));
  return {
    layers: lined.map(({ offsetFrames, inverted }, i) => ({
      offsetFrames,
      inverted,
      movedFrames: offsetFrames - (sounds[i] as LayerSound).offsetFrames,
    })),
    sampleRate: sounds[0]?.audio.sampleRate ?? recording.sampleRate,
    lostDb: sum.lostUnder200HzDb(),
    stillLostDb: sum.lostUnder200HzDb(after),
  };
}

/** What the sum of the layers that are heard has over their own powers, and what would mend it. */
export async function addition(hit: TreatedHit, recording: RecordingFormat): Promise<Added> {
  const sounds = await layersOf(hit, recording);
  const places = heardPlaces(hit);
  const layers = heard(hit, sounds);
  const [first] = layers;
  if (!first) return { bands: [], lostDb: 0, lost: [], mends: [] };
  const { sampleRate } = first.audio;
  const sum = new Addition(layers, roomOf(layers));
  const bands = sum.bands();
  const placed = <T extends Mend>(mend: T) => ({
    ...mend,
    layer: places[mend.layer] as number,
    ms: (1000 * mend.frames) / sampleRate,
  });
  const lost = bands.flatMap((db, band): LostBand[] => {
    if (db === null || db >= LOST_DB) return [];
    const cause = sum.causeIn(band);
    const of = cause && { ...cause, layers: cause.layers.map((n) => places[n]) as [number, number] };
    return [{ band, db, cause: of }];
  });
  const worst = lost.reduce<LostBand | null>((most, one) => (most && most.db <= one.db ? most : one), null);
  const mends = mendsOf(layers);
  const more = worst ? mendsOf(layers, worst.band).filter((mend) => !mends.some((m) => isSame(m, mend))) : [];
  const edges = worst ? await edgeMend(hit, recording, sum, worst) : [];
  return {
    bands,
    lostDb: sum.lostUnder200HzDb(),
    lost,
    mends: [...[...mends, ...more].map(placed), ...edges],
  };
}

function isSame(a: Mend, b: Mend): boolean {
  return a.layer === b.layer && a.frames === b.frames && a.turns === b.turns;
}

/** An edge near a band is moved by thirds of an octave, up to this many. */
const MOST_THIRDS = 3;
const LEAST_GAIN_DB = 1;

/** The move of one edge that gives back most in a band that loses; none where there is no edge near it. */
async function edgeMend(
  hit: TreatedHit,
  recording: RecordingFormat,
  now: Addition,
  { band }: LostBand,
): Promise<MendFound[]> {
  const hz = THIRD_OCTAVES_HZ[band] as number;
  const near = hit.edgesHz.flatMap((edge, n) => (Math.abs(Math.log2(edge / hz)) <= 1 ? [n] : []));
  const tried: MendFound[] = [];
  for (const n of near)
    for (let thirds = -MOST_THIRDS; thirds <= MOST_THIRDS; thirds++) {
      const edgesHz = hit.edgesHz.map((edge, i) => (i === n ? Math.round(edge * 2 ** (thirds / 3)) : edge));
      if (thirds === 0 || edgesHz.some((edge, i) => i > 0 && edge <= (edgesHz[i - 1] as number) * 1.1)) continue;
      const moved = { ...hit, edgesHz };
      const layers = heard(moved, await layersOf(moved, recording));
      const sum = new Addition(layers, roomOf(layers));
      const gainDb = (sum.bands()[band] ?? 0) - (now.bands()[band] ?? 0);
      const lows = sum.gainDb(20, 200) - now.gainDb(20, 200);
      if (gainDb >= LEAST_GAIN_DB && lows > -0.5)
        tried.push({ layer: -1, frames: 0, ms: 0, turns: false, gainDb, band, edgesHz });
    }
  return tried.sort((a, b) => b.gainDb - a.gainDb).slice(0, 1);
}

/** How the spectrum could be shared, and the spectrum of each layer without its bands, in dB (`SPECTRUM_HZ`). */
export interface Sharing {
  readonly proposed: Shared;
  readonly spectra: readonly Float32Array[];
}

export async function sharing(hit: TreatedHit, recording: RecordingFormat): Promise<Sharing> {
  const sounds = await layersOf({ ...hit, edgesHz: [] }, recording);
  return {
    proposed: proposedShares(sounds.map(({ audio }) => audio)),
    spectra: sounds.map(({ audio, levelDb }) => spectrumOf(audio, fromDb(levelDb))),
  };
}

function heardPlaces({ members = [] }: TreatedHit): number[] {
  const heardOnes = new Set(heardMembers(members));
  return members.flatMap((member, n) => (heardOnes.has(member) ? [n] : []));
}

function heard(hit: TreatedHit, sounds: readonly LayerSound[]): LayerSound[] {
  return heardPlaces(hit).map((n) => sounds[n] as LayerSound);
}

function roomOf(layers: readonly LayerSound[]): number {
  return Math.max(0, ...layers.map((l) => Math.abs(l.offsetFrames)));
}
