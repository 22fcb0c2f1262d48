import { resolvedKit } from '@/contract/resolved';
import { UndercroftError } from '@/core/errors';
import { BYTES_PER_SAMPLE, encodeFrames } from '@/core/format/pcm';
import { wavHeader } from '@/core/format/wav';
import { changesOf } from '@/core/groove/changes';
import { printScore } from '@/core/groove/print';
import { scoreOf } from '@/core/groove/score';
import { grooveTicks } from '@/core/groove/time';
import { type BundleFile, PRIVATE_FILE, textFile } from '@/core/kit/bundle';
import { placedBuses } from '@/core/kit/buses';
import { creditsSheet } from '@/core/kit/credits';
import { requireShareable } from '@/core/kit/shareable';
import { freeName } from '@/core/naming/names';
import { safeFileName } from '@/core/naming/safe-names';
import { ALL, programOfBus, STRAIGHT_OUT } from '@/core/play/limits';
import { MOST_STROKES } from '@/core/play/score';
import type { Db } from '../db/open';
import { grooveView } from '../views/grooves';
import { kitView } from '../views/kits';
import { creditsOf } from './kit-bundle';
import type { MadeFiles } from './made-files';
import { playableKit } from './playable';

export interface GroovePrint {
  readonly isPrivate: boolean;
  /** Also a file for each pad that is struck, or for each bus and for what goes through none. */
  readonly stems: 'pads' | 'buses' | null;
  /** A loop that seams. */
  readonly seams: boolean;
  readonly sampleRate: number;
  /** The WAV file alone: of everything, or of one pad. */
  readonly bare?: { readonly pad: number | null };
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
  { isPrivate, stems, seams, sampleRate, bare }: GroovePrint,
): Generator<void, MadeFiles> {
  const { groove, rows, notes, lanes } = grooveView(db, grooveId);
  const view = resolvedKit(kitView(db, kitId));
  const credits = creditsOf(view);
  if (!isPrivate) requireShareable(view.kit.name, credits);
  // Loops go with the groove's tempo, not the kit's.
  const playable = playableKit(db, kitId, sampleRate, groove.bpm);
  yield;
  const pads = playable.pads.map(({ pad }) => pad);
  const stretch = { from: 0, to: grooveTicks(groove) };
  const plain = scoreOf(groove, rows, notes, pads, stretch, sampleRate);
  const { programs } = playable;
  const { changes, isCut } = changesOf(groove, lanes, rows, view, programs, stretch, plain.strokes, sampleRate);
  if (isCut)
    throw new UndercroftError(
      'refused',
      `The lanes of ${groove.name} have more points than can be printed. Make it shorter, or empty a lane.`,
    );
  const score = { ...plain, changes };
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
  const struck = pads.filter(({ position }) => score.strokes.some(({ pad }) => pad === position));
  if (bare) return { name, isPrivate, files: [file(whole, bare.pad ?? ALL)], isBare: true };
  const stem = (of: string, place: number) => {
    const free = freeName(safeFileName(of), taken);
    taken.add(free);
    return file(`stems/${free}`, place);
  };
  const files =
    stems === 'pads'
      ? struck.map((pad) => stem(pad.role || pad.name, pad.position))
      : stems === 'buses'
        ? [
            ...placedBuses(view.buses).map(({ bus, place }) => stem(bus.name, programOfBus(place))),
            stem('straight out', STRAIGHT_OUT),
          ]
        : [];
  const sheet = textFile('credits.txt', creditsSheet(name, credits));
  return { name, isPrivate, files: [file(whole, ALL), ...files, sheet, ...(isPrivate ? [PRIVATE_FILE] : [])] };
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
