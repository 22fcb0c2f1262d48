import { resolvedKit } from '@/contract/resolved';
import { UndercroftError } from '@/core/errors';
import { BYTES_PER_SAMPLE, encodeFrames } from '@/core/format/pcm';
import { wavHeader } from '@/core/format/wav';
import { printScore } from '@/core/groove/print';
import { scoreOf } from '@/core/groove/score';
import { grooveTicks } from '@/core/groove/time';
import { type BundleFile, PRIVATE_FILE, textFile } from '@/core/kit/bundle';
import { creditsSheet } from '@/core/kit/credits';
import { requireShareable } from '@/core/kit/shareable';
import { freeName } from '@/core/naming/names';
import { safeFileName } from '@/core/naming/safe-names';
import { MOST_STROKES } from '@/core/play/score';
import type { Db } from '../db/open';
import { grooveView } from '../views/grooves';
import { kitView } from '../views/kits';
import { creditsOf } from './kit-bundle';
import type { MadeFiles } from './made-files';
import { playableKit } from './playable';

export interface GroovePrint {
  readonly isPrivate: boolean;
  /** Also a file for each pad that is struck. */
  readonly stems: boolean;
  /** A loop that seams. */
  readonly seams: boolean;
  readonly sampleRate: number;
}

const ENCODING = 's24';
const CHANNELS = 2;

/**
 * A groove played by a kit as WAV files, and the credits of all that is heard; yields while it is played for the first time,
 * for its length. Throws `refused` where it is to be shared and holds sounds that may not be.
 */
export function* grooveBundle(
  db: Db,
  grooveId: string,
  kitId: string,
  { isPrivate, stems, seams, sampleRate }: GroovePrint,
): Generator<void, MadeFiles> {
  const { groove, rows, notes } = grooveView(db, grooveId);
  const view = resolvedKit(kitView(db, kitId));
  const credits = creditsOf(view);
  if (!isPrivate) requireShareable(view.kit.name, credits);
  const playable = playableKit(db, kitId, sampleRate);
  yield;
  const pads = playable.pads.map(({ pad }) => pad);
  const score = scoreOf(groove, rows, notes, pads, { from: 0, to: grooveTicks(groove) }, sampleRate);
  if (score.strokes.length > MOST_STROKES)
    throw new UndercroftError(
      'refused',
      `${groove.name} has ${score.strokes.length} strokes; up to ${MOST_STROKES} can be printed. Make it or its rolls shorter.`,
    );
  let frames = 0;
  for (const [left] of printScore(playable, score, { seams })) {
    frames += left.length;
    yield;
  }
  const file = (name: string, only: number): BundleFile => ({
    path: `${name}.wav`,
    bytes: header(sampleRate, frames).length + frames * CHANNELS * BYTES_PER_SAMPLE[ENCODING],
    pieces: () => wavPieces(printScore(playable, score, { seams, only }), frames, sampleRate),
  });
  const name = `${groove.name} - ${view.kit.name}`;
  const whole = safeFileName(name);
  const taken = new Set<string>();
  const struck = new Set(score.strokes.map(({ pad }) => pad));
  const own = stems ? pads.filter(({ position }) => struck.has(position)) : [];
  const files = own.map((pad) => {
    const stem = freeName(safeFileName(pad.role || pad.name), taken);
    taken.add(stem);
    return file(`stems/${stem}`, pad.position);
  });
  const sheet = textFile('credits.txt', creditsSheet(name, credits));
  return { name, isPrivate, files: [file(whole, -1), ...files, sheet, ...(isPrivate ? [PRIVATE_FILE] : [])] };
}

function header(sampleRate: number, frames: number): Uint8Array<ArrayBuffer> {
  return wavHeader({ encoding: ENCODING, sampleRate, channelCount: CHANNELS }, frames);
}

/** A WAV file of exactly so many frames: cut off, or silent at the end. */
function* wavPieces(
  blocks: Iterable<[Float32Array, Float32Array]>,
  frames: number,
  sampleRate: number,
): Generator<Uint8Array<ArrayBuffer>> {
  yield header(sampleRate, frames);
  let left = frames;
  for (const block of blocks) {
    const count = Math.min(left, block[0].length);
    left -= count;
    if (count > 0)
      yield encodeFrames(
        ENCODING,
        block.map((channel) => channel.subarray(0, count)),
      );
    if (left === 0) return;
  }
  if (left > 0) yield encodeFrames(ENCODING, [new Float32Array(left), new Float32Array(left)]);
}
