import { BYTES_PER_SAMPLE, encodeFrames, type SampleEncoding } from '../format/pcm';
import { HIGHEST_VOLUME_DB, type Opcodes, ofVersion2, type SfzRegion, writeSfz } from '../format/sfz';
import { wavHeader } from '../format/wav';
import { freeName, paddedNumber } from '../naming/names';
import { safeFileName } from '../naming/safe-names';
import { fromDb, toDb } from '../signal/units';
import { type Credit, creditsSheet } from './credits';
import { filePad, KIT_SCHEMA_FILE, kitFile, kitSchema, type Zone } from './kit-file';
import type { Pad } from './model';
import type { PlayedPad } from './pad-sound';
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
  /** Tempo of the kit: of what moves by note values. */
  readonly tempoBpm?: number;
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
  kitName: string,
  pads: readonly PlayedPad[],
  credits: readonly Credit[],
  open: OpenHit,
  { encoding = 's24', isPrivate = false, isNumbered = false, tempoBpm = KIT_INITIAL.tempoBpm }: BundleOptions = {},
): Generator<void, BundleFile[]> {
  const filled = pads.filter((p) => p.layers.length > 0).sort((a, b) => a.pad.position - b.pad.position);
  const taken = new Set<string>();
  const regions: SfzRegion[] = [];
  const files: BundleFile[] = [];
  const told = [];
  for (const [i, worked] of filled.entries()) {
    const played = { ...worked, pad: heardAgain(worked.pad) };
    const { layers } = played;
    const isWhole = isPrintedWhole(played);
    // What is printed into the files is not said again.
    const pad = isWhole ? playedWhole(played.pad) : played.pad;
    const plain = safeFileName(pad.name);
    const wanted = isNumbered ? `${paddedNumber(i + 1, filled.length)} ${plain}` : plain;
    const zones: Zone[] = [];
    const ranges = velocityZones(layers);
    for (const { low, high, takes } of ranges) {
      const range = ranges.length === 1 ? wanted : `${wanted} ${low}-${high}`;
      for (const [t, take] of (takes.length > 0 ? takes : [layers[0]]).entries()) {
        const file = `${freeName(takes.length > 1 ? `${range} take ${t + 1}` : range, taken)}.wav`;
        taken.add(file.slice(0, -4));
        const stroke = { velocity: high, take };
        const print = isWhole ? printingWhole(played, open, stroke, tempoBpm) : printing(pad, layers, open, stroke);
        const level = levelParts(pad.levelDb, yield* print.peak(), encoding);
        const { volumeDb } = level;
        files.push(wavFile(`samples/${file}`, print, level.encoding, level.gain));
        // A range of all velocities goes without saying.
        const velocities = low === 1 && high === 127 ? {} : { lovel: low, hivel: high };
        const opcodes = { ...opcodesOf({ pad, volumeDb, tempoBpm, loop: print.loop }), ...velocities };
        regions.push({
          sample: `samples/${file}`,
          label: pad.name,
          opcodes: { ...opcodes, ...turnOf(pad, t, takes.length) },
        });
        zones.push({ sample: `samples/${file}`, lowVelocity: low, highVelocity: high, levelDb: volumeDb });
      }
    }
    if (zones.length > 0) told.push(filePad(pad, zones));
  }
  files.push(textFile(`${safeFileName(kitName)}.sfz`, writeSfz(kitName, regions)));
  files.push(jsonFile(`${safeFileName(kitName)}.json`, kitFile(kitName, told)), jsonFile(KIT_SCHEMA_FILE, kitSchema()));
  files.push(
    textFile('credits.txt', creditsSheet(`the kit "${kitName}"`, credits, notesOn(filled, regions, tempoBpm))),
  );
  if (isPrivate) files.push(PRIVATE_FILE);
  return files;
}

/** What the files leave to their player, and what they cannot say. */
function notesOn(pads: readonly PlayedPad[], regions: readonly SfzRegion[], tempoBpm: number): string[] {
  const later = ofVersion2(regions);
  return [
    ...unsaidOf(pads, tempoBpm).map(({ name, lost }) => `The SFZ file cannot say of ${name}: ${lost.join('; ')}.`),
    ...(later.length > 0 ? [`The SFZ file uses opcodes of version 2: ${later.join(', ')}.`] : []),
  ];
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
  const restDb = levelDb - toDb(fitted);
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
