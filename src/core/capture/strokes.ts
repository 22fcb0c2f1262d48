import { detectOnsets } from '../onset/detect';
import { selectOnsets } from '../onset/select';
import { SPLIT_INITIAL } from '../onset/split';

/** Detection looks back so far, and again after so much that is new. */
const WINDOW_S = 2;
const PACE_S = 0.1;
/** A stroke is told once so much after it has been heard: its place and strength are then certain. */
const AFTER_S = 0.15;
/** The same stroke is found again, a little elsewhere, as the window moves. */
const SAME_S = 0.015;
/** Nothing under this is a stroke, whatever the input's own level, linear. */
const LEAST_REFERENCE = 0.003;

export interface FallenStroke {
  /** Frame of the take. */
  readonly frame: number;
  /** Loudest sample of its first 50 ms. */
  readonly peak: number;
}

/** Strokes of a take while it is recorded: the detection of Slice over a window that moves along. */
export class StrokesAsTheyFall {
  private readonly window: Float32Array;
  private filled = 0;
  private frame = 0;
  private fresh = 0;
  private highest = LEAST_REFERENCE;
  private last = Number.NEGATIVE_INFINITY;
  /** Up to this frame of the take all strokes are known. */
  private known = 0;

  constructor(private readonly sampleRate: number) {
    this.window = new Float32Array(Math.round(WINDOW_S * sampleRate));
  }

  /** Takes in frames of one channel; returns the strokes that are certain by now. */
  add(samples: Float32Array): FallenStroke[] {
    const found: FallenStroke[] = [];
    const pace = Math.round(PACE_S * this.sampleRate);
    for (let at = 0; at < samples.length; ) {
      const some = Math.min(samples.length - at, pace - this.fresh);
      this.push(samples.subarray(at, at + some));
      at += some;
      if (this.fresh === pace) found.push(...this.look(AFTER_S));
    }
    return found;
  }

  /** The strokes at the end that were not yet certain. */
  finish(): FallenStroke[] {
    return this.look(0);
  }

  private push(samples: Float32Array): void {
    const { window } = this;
    const over = Math.max(0, this.filled + samples.length - window.length);
    if (over > 0) {
      window.copyWithin(0, over, this.filled);
      this.filled -= over;
    }
    window.set(samples, this.filled);
    this.filled += samples.length;
    this.frame += samples.length;
    this.fresh += samples.length;
    for (const x of samples) this.highest = Math.max(this.highest, Math.abs(x));
  }

  private look(afterS: number): FallenStroke[] {
    this.fresh = 0;
    const { sampleRate, filled } = this;
    const first = this.frame - filled;
    const until = filled - Math.round(afterS * sampleRate);
    if (until <= 0) return [];
    const heard = this.window.subarray(0, filled);
    const candidates = detectOnsets(heard, sampleRate, this.highest, until, first === 0);
    const found: FallenStroke[] = [];
    for (const { frame, peak } of selectOnsets(candidates, SPLIT_INITIAL, sampleRate)) {
      const at = first + frame;
      // Once a stroke has left the window, ripples of its tail would be taken for strokes.
      if (frame >= until || at < this.known || at - this.last < SAME_S * sampleRate) continue;
      this.last = at;
      found.push({ frame: at, peak });
    }
    this.known = first + until - Math.round(SAME_S * sampleRate);
    return found;
  }
}
