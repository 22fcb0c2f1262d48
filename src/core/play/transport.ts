import type { VoiceEngine } from './engine';

/** A stroke of a repeated score. Times are engine frames from the beginning of the loop, with fractions. */
export interface Stroke {
  readonly at: number;
  readonly pad: number;
  readonly velocity: number;
  /** The range of the pad's sound to play; -1 for that of its program. */
  readonly from: number;
  readonly to: number;
  /** When a pad that sounds while it is held is let go; -1, as without it, where it is not. */
  readonly until?: number;
}

export const MOST_STROKES = 16_384;
const FIELDS = ['at', 'pad', 'velocity', 'from', 'to', 'until'] as const satisfies readonly (keyof Stroke)[];
const HEADER = 2;
/** Floats of a score: number of strokes, loop length, and the strokes in order of time. */
export const SCORE_FLOATS = HEADER + MOST_STROKES * FIELDS.length;

/** Writes a score from float `at` on. Throws a RangeError for more strokes than it can hold or a loop without a length. */
export function writeScore(strokes: readonly Stroke[], length: number, into: Float64Array, at = 0): void {
  if (strokes.length > MOST_STROKES) throw new RangeError(`A loop has up to ${MOST_STROKES} strokes.`);
  if (!(length >= 1)) throw new RangeError('A loop is at least a frame long.');
  into[at] = strokes.length;
  into[at + 1] = length;
  for (const [i, stroke] of [...strokes].sort((a, b) => a.at - b.at).entries())
    for (const [f, field] of FIELDS.entries()) into[at + HEADER + i * FIELDS.length + f] = stroke[field] ?? -1;
}

/**
 * Plays a score by engine frames, independent of the block length; changes apply from the next stroke on. Allocates
 * nothing while playing.
 */
export class Transport {
  private readonly score = new Float64Array(SCORE_FLOATS);
  /** Engine frame at which the first lap began; laps after it are counted, so that fractions accumulate exactly. */
  private begun = 0;
  private lap = 0;
  private next = 0;
  private running = false;

  /** Loads the score at float `at` of `from`; a running one continues at the same time. */
  load(from: Float64Array, at: number, now: number): void {
    const floats = HEADER + (from[at] as number) * FIELDS.length;
    for (let i = 0; i < floats; i++) this.score[i] = from[at + i] as number;
    if (this.running) this.seek(now);
  }

  /** Begins the first lap at an engine frame; strokes before `now` are passed over. */
  start(frame: number, now: number): void {
    this.begun = frame;
    this.running = true;
    this.seek(now);
  }

  /** Writes the engine frame at which the lap that is heard began; -Infinity while it stands still. */
  report(into: Float64Array, at: number): void {
    into[at] = this.running ? this.begun + this.lap * (this.score[1] as number) : Number.NEGATIVE_INFINITY;
  }

  stop(): void {
    this.running = false;
  }

  /** Passes the engine every stroke of its next `frames` frames. Call it before they are rendered. */
  schedule(engine: VoiceEngine, frames: number): void {
    if (!this.running) return;
    const end = engine.frame + frames;
    const { score } = this;
    const count = score[0] as number;
    for (;;) {
      if (this.next >= count) {
        if (this.begun + (this.lap + 1) * (score[1] as number) >= end) return;
        this.lap++;
        this.next = 0;
        if (count === 0) continue;
      }
      // Many strokes at once, and what they are let go at, must find room in the engine; the rest wait for the next block.
      if (!engine.hasRoom) return;
      const at = HEADER + this.next * FIELDS.length;
      const frame = this.frameOf(this.next);
      if (frame >= end) return;
      engine.strike(
        score[at + 1] as number,
        score[at + 2] as number,
        frame,
        score[at + 3] as number,
        score[at + 4] as number,
      );
      const until = score[at + 5] as number;
      if (until >= 0) {
        const lapBegan = this.begun + this.lap * (score[1] as number);
        engine.release(score[at + 1] as number, Math.round(lapBegan + until));
      }
      this.next++;
    }
  }

  private frameOf(stroke: number): number {
    const { score } = this;
    return Math.round(
      this.begun + this.lap * (score[1] as number) + (score[HEADER + stroke * FIELDS.length] as number),
    );
  }

  /** The first stroke at or after an engine frame. */
  private seek(now: number): void {
    const { score } = this;
    this.lap = Math.max(0, Math.floor((now - this.begun) / (score[1] as number)));
    this.next = 0;
    while (this.next < (score[0] as number) && this.frameOf(this.next) < now) this.next++;
  }
}
