import { type PlayableKit, readyEngine } from '../kit/perform';
import { ALL } from '../play/limits';
import { LOOK_AHEAD_S } from '../play/master';
import { type Change, SCORE_FLOATS, type Stroke, writeScore } from '../play/score';
import { Transport } from '../play/transport';

export interface PrintOptions {
  /** Only this pad or bus is heard, by its place among the programs, or what goes through no bus, before the limiter; all take part. */
  readonly only?: number;
  /** A loop that seams: what rings on over its end is heard at its beginning. Otherwise it rings out behind its end. */
  readonly seams?: boolean;
}

/** What is played: times in frames of its rate. */
export interface Score {
  readonly strokes: readonly Stroke[];
  readonly length: number;
  readonly changes?: readonly Change[];
}

const BLOCK = 4096;
const LONGEST_TAIL_S = 60;
/** So many laps before the one that is kept, so that all that rings on is in it. */
const LAPS_BEFORE = 2;

/**
 * Plays a score once through a kit, by the transport and the engine of the page, in blocks: as long as a lap and its tail,
 * or, as a loop that seams, exactly a lap.
 */
export function* printScore(
  playable: PlayableKit,
  { strokes, length, changes = [] }: Score,
  { only = ALL, seams = false }: PrintOptions = {},
): Generator<[Float32Array, Float32Array], void> {
  const { sampleRate } = playable;
  const { engine, master } = readyEngine(playable, only);
  const transport = new Transport();
  const score = new Float64Array(SCORE_FLOATS);
  // A file has whole frames: laps of a loop are as long as it.
  const lap = Math.round(length);
  writeScore(strokes, lap, score, 0, changes);
  transport.load(score, 0, 0);
  transport.start(0, 0);
  const late = playable.limits && only === ALL ? Math.round(LOOK_AHEAD_S * sampleRate) : 0;
  const from = seams ? LAPS_BEFORE * lap : 0;
  const end = seams ? (LAPS_BEFORE + 1) * lap : lap;
  // The limiter gives everything a little later: that much is left out at the beginning.
  let skip = from + late;
  let rest = seams ? 0 : Math.ceil(LONGEST_TAIL_S * sampleRate);
  let given = 0;
  // What the limiter still holds back when all is silent.
  let held = seams ? 0 : late;
  while (given < end - from || (rest > 0 && (engine.sounds || held > 0))) {
    const isTail = engine.frame >= end;
    if (isTail && !seams) transport.stop();
    const count = Math.min(BLOCK, isTail ? BLOCK : Math.max(1, end - engine.frame));
    const left = new Float32Array(count);
    const right = new Float32Array(count);
    transport.schedule(engine, count);
    engine.process(left, right, count);
    master.process(left, right, count);
    if (isTail) rest -= count;
    if (isTail && !engine.sounds) held -= count;
    const kept = Math.max(0, count - skip);
    skip = Math.max(0, skip - count);
    if (kept === 0) continue;
    const most = seams ? Math.min(kept, end - from - given) : kept;
    const at = count - kept;
    given += most;
    yield [left.subarray(at, at + most), right.subarray(at, at + most)];
  }
}
