import { MAX_PADS } from './limits';
import { OFFSET_NAMES } from './moves';

/** Loops that are played by their slices: which pads have one under way, and where it is. Allocates nothing. */
export class Loops {
  private last = 0;
  /** Number of the loop that a pad plays, 0 for none; each begins with a new one. */
  private readonly serials = new Float64Array(MAX_PADS);
  /** Exact engine frame of the slice under way, whole frames being what is heard. */
  private readonly frames = new Float64Array(MAX_PADS);
  /** What of its stroke each slice is struck with. */
  readonly velocities = new Float64Array(MAX_PADS);
  readonly seeds = new Float64Array(MAX_PADS);
  readonly strokes = new Float64Array(MAX_PADS);
  readonly takes = new Int32Array(MAX_PADS);
  /** What its stroke is off by, those of a pad one after another. */
  readonly offsets = new Float64Array(MAX_PADS * OFFSET_NAMES.length);
  private count = 0;

  /** Whether any is under way. */
  get any(): boolean {
    return this.count > 0;
  }

  isOn(pad: number): boolean {
    return this.serials[pad] !== 0;
  }

  /** Whether this is the loop that the pad plays. */
  isLatest(pad: number, serial: number): boolean {
    return serial !== 0 && this.serials[pad] === serial;
  }

  /** Begins a pad's loop at an engine frame. */
  begin(pad: number, clock: number): void {
    if (!this.isOn(pad)) this.count++;
    this.last++;
    this.serials[pad] = this.last;
    this.frames[pad] = clock;
  }

  end(pad: number): void {
    if (!this.isOn(pad)) return;
    this.serials[pad] = 0;
    this.count--;
  }

  /** The number of a pad's loop. */
  serialOf(pad: number): number {
    return this.serials[pad] as number;
  }

  /** Goes on by so many frames, and gives the whole frame that this falls on. */
  advance(pad: number, by: number): number {
    const next = (this.frames[pad] as number) + by;
    this.frames[pad] = next;
    return Math.round(next);
  }
}
