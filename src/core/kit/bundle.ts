import type { SampleEncoding } from '../format/pcm';
import { writeSfz } from '../format/sfz';
import { writeWav } from '../format/wav';
import { freeName, paddedNumber, safeFileName } from '../naming/names';
import { type Credit, creditsSheet } from './credits';
import { noteOf } from './layout';
import type { Pad } from './model';
import { printPad, type ReadHit } from './render';
import { groupOf, type LayerWithHit } from './sound';

export interface BundlePad {
  readonly pad: Pad;
  readonly layers: readonly LayerWithHit[];
}

export interface BundleFile {
  readonly path: string;
  readonly bytes: Uint8Array<ArrayBuffer>;
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
 * the SFZ. Yields file by file, so that a caller can show progress and never holds them all.
 */
export function* bundleFiles(
  kitName: string,
  pads: readonly BundlePad[],
  credits: readonly Credit[],
  read: ReadHit,
  { encoding = 's24', isPrivate = false, isNumbered = false }: BundleOptions = {},
): Generator<BundleFile> {
  const filled = pads.filter((p) => p.layers.length > 0).sort((a, b) => a.pad.position - b.pad.position);
  const taken = new Set<string>();
  const regions = [];
  for (const [i, { pad, layers }] of filled.entries()) {
    const plain = safeFileName(pad.name);
    const wanted = isNumbered ? `${paddedNumber(i + 1, filled.length)} ${plain}` : plain;
    const file = `${freeName(wanted, taken)}.wav`;
    taken.add(file.slice(0, -4));
    yield { path: `samples/${file}`, bytes: writeWav(printPad(pad, layers, read), encoding) };
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
  const text = new TextEncoder();
  yield { path: `${safeFileName(kitName)}.sfz`, bytes: text.encode(writeSfz(kitName, regions)) };
  yield { path: 'credits.txt', bytes: text.encode(creditsSheet(kitName, credits)) };
  if (isPrivate) yield { path: 'PRIVATE - not to be passed on.txt', bytes: text.encode(PRIVATE) };
}
