import { BYTES_PER_SAMPLE, encodeFrames, type SampleEncoding } from '../format/pcm';
import { HIGHEST_VOLUME_DB, type Opcodes, ofVersion2, type SfzRegion, writeSfz } from '../format/sfz';
import { wavHeader } from '../format/wav';
import { recordingsOf } from '../hit/key';
import { freeName, paddedNumber } from '../naming/names';
import { safeFileName } from '../naming/safe-names';
import { fromDb, toDb } from '../signal/units';
import { type Busing, NO_BUSES } from './buses';
import { type Credit, creditsSheet } from './credits';
import {
  type FilePad,
  fileBus,
  filePad,
  KIT_SCHEMA_FILE,
  kitFile,
  kitSchema,
  type ToldKit,
  type Zone,
} from './kit-file';
import type { Bus, Pad } from './model';
import type { LayerWithHit, PlayedPad } from './pad-sound';
import { KIT_INITIAL } from './parameters';
import { type OpenHit, type Printing, printing, velocityZones } from './print';
import { printingWhole } from './print-whole';
import { isPrintedWhole, opcodesOf, playedWhole } from './told-in-sfz';
import { unsaidOf } from './unsaid';
import { heardAgain } from './whole-kit';

/** A file of a bundle: how long it is is known before any of it is made. */
export interface BundleFile {
  readonly path: string;
  readonly bytes: number;
  pieces(): Iterable<Uint8Array<ArrayBuffer>>;
}

export interface BundleOptions {
  readonly encoding?: SampleEncoding;
  /** A copy for oneself: the bundle says so. */
  readonly isPrivate?: boolean;
  /** File names begin with the pad's place in the kit, so that they sort as the pads lie. */
  readonly isNumbered?: boolean;
  /** The kit's buses; only the JSON description can express them. */
  readonly busing?: Busing;
}

/** Says that a bundle is not to be passed on. */
export const PRIVATE_FILE = textFile(
  'PRIVATE - not to be passed on.txt',
  [
    'This is a private copy. It holds sounds that may not be passed on, or of which that is not known;',
    'credits.txt names them.',
    '',
  ].join('\r\n'),
);

/**
 * The files of a kit's bundle: one trimmed WAV a pad with its layers summed, or one for each range of velocity in which they
 * differ, an SFZ file that maps them to the pads'
 * MIDI notes, a JSON file with the same and its schema, and the credits. `told-in-sfz` says which parameters are in the
 * WAVs. Files are made piece by piece as they are read, so that no sound is held whole; yields while peaks are
 * searched.
 */
export function* bundleFiles(
  kit: ToldKit,
  pads: readonly PlayedPad[],
  credits: readonly Credit[],
  open: OpenHit,
  { encoding = 's24', isPrivate = false, isNumbered = false, busing = NO_BUSES }: BundleOptions = {},
): Generator<void, BundleFile[]> {
  const { tempoBpm = KIT_INITIAL.tempoBpm } = kit;
  const { buses, busSteps } = busing;
  const filled = pads.filter((p) => p.layers.length > 0).sort((a, b) => a.pad.position - b.pad.position);
  const taken = new Set<string>();
  const regions: SfzRegion[] = [];
  const files: BundleFile[] = [];
  const told: FilePad[] = [];
  for (const [i, worked] of filled.entries()) {
    const played = { ...worked, pad: heardAgain(worked.pad) };
    const { layers } = played;
    const isWhole = isPrintedWhole(played);
    // What is printed into the files is not said again.
    const pad = isWhole ? playedWhole(played.pad) : played.pad;
    const plain = safeFileName(pad.name);
    const wanted = isNumbered ? `${paddedNumber(i + 1, filled.length)} ${plain}` : plain;
    const ranges = velocityZones(layers);
    const strokes = ranges.flatMap(({ low, high, takes }) => {
      const range = ranges.length === 1 ? wanted : `${wanted} ${low}-${high}`;
      return (takes.length > 0 ? takes : [layers[0]]).map((take, t) => {
        const file = `${freeName(takes.length > 1 ? `${range} take ${t + 1}` : range, taken)}.wav`;
        taken.add(file.slice(0, -4));
        const stroke = { velocity: high, take };
        const print = isWhole ? printingWhole(played, open, stroke, tempoBpm) : printing(pad, layers, open, stroke);
        return { file, print, low, high, turn: turnOf(pad, t, takes.length) };
      });
    });
    // One level for all of a pad's files, so that they stay as loud beside one another.
    let peak = 0;
    for (const { print } of strokes) peak = Math.max(peak, yield* print.peak());
    const { volumeDb, gain, encoding: own } = levelParts(pad.levelDb, peak, encoding);
    const zones: Zone[] = [];
    for (const { file, print, low, high, turn } of strokes) {
      const sample = `samples/${file}`;
      files.push(wavFile(sample, print, own, gain));
      // A range of all velocities goes without saying.
      const velocities = low === 1 && high === 127 ? {} : { lovel: low, hivel: high };
      const opcodes = { ...opcodesOf({ pad, volumeDb, tempoBpm, loop: print.loop }), ...velocities };
      regions.push({ sample, label: pad.name, opcodes: { ...opcodes, ...turn } });
      zones.push({ sample, lowVelocity: low, highVelocity: high, loop: print.loop });
    }
    const route = { bus: placeOf(buses, played.pad.busId), sources: sourcesOf(layers, credits) };
    if (zones.length > 0)
      told.push(filePad({ ...pad, ...loopMs(strokes), role: played.pad.role }, zones, volumeDb, route));
  }
  for (const { pad, layers } of pads)
    if (layers.length === 0 && pad.role !== '')
      told.push(filePad(heardAgain(pad), [], pad.levelDb, { bus: placeOf(buses, pad.busId), sources: [] }));
  told.sort((a, b) => a.position - b.position);
  const name = safeFileName(kit.name);
  const sources = credits.map(({ title, rightsKind, owner, text }) => ({ title, rightsKind, owner, text }));
  const description = kitFile(kit, { sources, buses: buses.map((bus) => fileBus(bus, busSteps)), pads: told });
  files.push(textFile(`${name}.sfz`, writeSfz(kit.name, regions)));
  files.push(jsonFile(`${name}.json`, description), jsonFile(KIT_SCHEMA_FILE, kitSchema()));
  const notes = notesOn(filled, regions, tempoBpm, buses);
  files.push(textFile('credits.txt', creditsSheet(`the kit "${kit.name}"`, credits, notes)));
  if (isPrivate) files.push(PRIVATE_FILE);
  return files;
}

/** What the files leave to their player, and what they cannot say. */
function notesOn(
  pads: readonly PlayedPad[],
  regions: readonly SfzRegion[],
  tempoBpm: number,
  buses: readonly Bus[],
): string[] {
  const later = ofVersion2(regions);
  return [
    ...unsaidOf(pads, tempoBpm, buses).map(
      ({ name, lost }) => `The SFZ file cannot say of ${name}: ${lost.join('; ')}.`,
    ),
    ...(later.length > 0 ? [`The SFZ file uses opcodes of version 2: ${later.join(', ')}.`] : []),
  ];
}

/** Where the loop of a pad's only file lies in it, in ms. */
function loopMs(strokes: readonly { readonly print: Printing }[]): Partial<Pad> {
  const [first] = strokes;
  const loop = first?.print.loop;
  if (!loop) return {};
  const ms = (frame: number) => (1000 * frame) / first.print.sampleRate;
  return { loopStartMs: ms(loop.start), loopEndMs: ms(loop.end + 1) };
}

function placeOf(buses: readonly Bus[], busId: string | null): number | null {
  const place = buses.findIndex(({ id, kind }) => id === busId && kind === 'bus');
  return place < 0 ? null : place;
}

/** Which of the sources are heard in some layers. */
function sourcesOf(layers: readonly LayerWithHit[], credits: readonly Credit[]): number[] {
  const heard = new Set(layers.flatMap(({ hit }) => recordingsOf(hit)));
  return credits.flatMap(({ recordingIds = [] }, i) => (recordingIds.some((id) => heard.has(id)) ? [i] : []));
}

/** When a take's turn is. */
function turnOf(pad: Pad, take: number, takes: number): Opcodes {
  if (takes <= 1) return {};
  if (pad.takeOrder === 'in order') return { seq_length: takes, seq_position: take + 1 };
  return { lorand: take / takes, hirand: (take + 1) / takes };
}

/** Peak of fixed-point files where a sound has to be attenuated to fit. */
const FITTED_PEAK = fromDb(-0.1);

interface LevelParts {
  /** Linear, in the WAV file. */
  readonly gain: number;
  /** In the SFZ file. */
  readonly volumeDb: number;
  readonly encoding: SampleEncoding;
}

/**
 * Splits a pad's level between its WAV and its SFZ file, so that together they play the same: fixed point cannot exceed
 * full scale, and SFZ cannot exceed 6 dB. Levels beyond both are written as floats.
 */
export function levelParts(levelDb: number, peak: number, encoding: SampleEncoding): LevelParts {
  const volumeDb = Math.min(levelDb, HIGHEST_VOLUME_DB);
  const gain = fromDb(levelDb - volumeDb);
  const isFixed = encoding !== 'f32' && encoding !== 'f64';
  if (!isFixed || peak * gain <= 1) return { gain, volumeDb, encoding };
  const fitted = FITTED_PEAK / peak;
  // As exactly as levels are stored, so that a kit opened again is exported with the same.
  const restDb = Math.round((levelDb - toDb(fitted)) * 1e6) / 1e6;
  if (restDb <= HIGHEST_VOLUME_DB) return { gain: fitted, volumeDb: restDb, encoding };
  return { gain, volumeDb, encoding: 'f32' };
}

/** Runs a generator to its end and returns its result. */
export function finished<T>(steps: Generator<unknown, T>): T {
  let step = steps.next();
  while (!step.done) step = steps.next();
  return step.value;
}

export function textFile(path: string, text: string): BundleFile {
  const bytes = new TextEncoder().encode(text);
  return { path, bytes: bytes.length, pieces: () => [bytes] };
}

function jsonFile(path: string, value: object): BundleFile {
  return textFile(path, `${JSON.stringify(value, null, 2)}\n`);
}

function wavFile(path: string, print: Printing, encoding: SampleEncoding, gain: number): BundleFile {
  const { sampleRate, channelCount, frames } = print;
  const header = wavHeader({ encoding, sampleRate, channelCount }, frames);
  const body = frames * channelCount * BYTES_PER_SAMPLE[encoding];
  return {
    path,
    bytes: header.length + body + (body % 2),
    *pieces() {
      yield header;
      for (const block of print.blocks(gain)) yield encodeFrames(encoding, block);
      // Chunks have an even length (Microsoft and IBM, "Multimedia Programming Interface", RIFF).
      if (body % 2 === 1) yield new Uint8Array(1);
    },
  };
}
