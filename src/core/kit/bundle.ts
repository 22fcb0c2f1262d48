import { BYTES_PER_SAMPLE, encodeFrames, type SampleEncoding } from '../format/pcm';
import { type SfzRegion, writeSfz } from '../format/sfz';
import { wavHeader } from '../format/wav';
import { freeName, paddedNumber } from '../naming/names';
import { safeFileName } from '../naming/safe-names';
import { type Credit, creditsSheet } from './credits';
import { noteOf } from './layout';
import type { Pad } from './model';
import { type Printing, printing, type ReadHit } from './print';
import { groupOf, type LayerWithHit } from './sound';

export interface BundlePad {
  readonly pad: Pad;
  readonly layers: readonly LayerWithHit[];
}

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
}

const PRIVATE = [
  'This is a private copy. It holds sounds that may not be passed on, or of which that is not known;',
  'credits.txt names them.',
  '',
].join('\r\n');

/**
 * The files of a kit's bundle: one trimmed WAV a pad with its layers summed, an SFZ file that maps them to the pads' MIDI
 * notes, and the credits. Tuning, trim, fade and normalising are in the WAVs; level, pan, choke groups and play mode in
 * the SFZ. Files are made piece by piece as they are read, so that no length of sound has to be held.
 */
export function bundleFiles(
  kitName: string,
  pads: readonly BundlePad[],
  credits: readonly Credit[],
  read: ReadHit,
  { encoding = 's24', isPrivate = false, isNumbered = false }: BundleOptions = {},
): BundleFile[] {
  const filled = pads.filter((p) => p.layers.length > 0).sort((a, b) => a.pad.position - b.pad.position);
  const taken = new Set<string>();
  const regions: SfzRegion[] = [];
  const files: BundleFile[] = [];
  for (const [i, { pad, layers }] of filled.entries()) {
    const plain = safeFileName(pad.name);
    const wanted = isNumbered ? `${paddedNumber(i + 1, filled.length)} ${plain}` : plain;
    const file = `${freeName(wanted, taken)}.wav`;
    taken.add(file.slice(0, -4));
    files.push(wavFile(`samples/${file}`, printing(pad, layers, read), encoding));
    regions.push({
      sample: `samples/${file}`,
      note: noteOf(pad),
      levelDb: pad.levelDb,
      pan: pad.pan,
      held: pad.mode === 'held',
      chokeGroup: groupOf(pad),
      label: pad.name,
    });
  }
  files.push(textFile(`${safeFileName(kitName)}.sfz`, writeSfz(kitName, regions)));
  files.push(textFile('credits.txt', creditsSheet(kitName, credits)));
  if (isPrivate) files.push(textFile('PRIVATE - not to be passed on.txt', PRIVATE));
  return files;
}

function textFile(path: string, text: string): BundleFile {
  const bytes = new TextEncoder().encode(text);
  return { path, bytes: bytes.length, pieces: () => [bytes] };
}

function wavFile(path: string, print: Printing, encoding: SampleEncoding): BundleFile {
  const { sampleRate, channelCount, frames } = print;
  const header = wavHeader({ encoding, sampleRate, channelCount }, frames);
  const body = frames * channelCount * BYTES_PER_SAMPLE[encoding];
  return {
    path,
    bytes: header.length + body + (body % 2),
    *pieces() {
      yield header;
      for (const block of print.blocks()) yield encodeFrames(encoding, block);
      // Chunks have an even length (Microsoft and IBM, "Multimedia Programming Interface", RIFF).
      if (body % 2 === 1) yield new Uint8Array(1);
    },
  };
}
