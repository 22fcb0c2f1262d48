import { ECHO } from './figures';

/** What circulates no louder than this, linear, is silence. */
const SILENCE = 1e-7;

/**
 * An echo on a running sound: a delay line whose output goes through a one-pole low-pass, which is what is heard and what
 * comes back into it (J. O. Smith, "Physical Audio Signal Processing", feedback comb filters). The line lies in memory:
 * its left side, then its right side. Allocates nothing.
 */
export class Echoing {
  private from = 0;
  private length = 1;
  private place = 0;
  /** The highest sample that has gone into the line since it last began anew, and in the round before. */
  private highest = 0;
  private before = 0;
  private readonly dulled = new Float64Array(2);

  /** Whether anything still circulates. */
  get rings(): boolean {
    return this.highest > SILENCE || this.before > SILENCE;
  }

  /** Takes a line of `length` frames at float `from` of memory, and empties it. */
  reset(memory: Float32Array, from: number, length: number): void {
    this.from = from;
    this.length = Math.max(1, length);
    this.place = 0;
    this.highest = 0;
    this.before = 0;
    this.dulled.fill(0);
    memory.fill(0, from, from + 2 * this.length);
  }

  /** Replaces `count` frames by their echoes; `crosses` where these go from one side to the other. */
  process(
    memory: Float32Array,
    left: Float64Array,
    right: Float64Array,
    at: number,
    count: number,
    now: Float64Array,
    crosses: boolean,
  ): void {
    const { dulled, length } = this;
    const toLeft = this.from;
    const toRight = toLeft + length;
    const feedback = now[ECHO.feedback] as number;
    const tone = now[ECHO.tone] as number;
    let dullLeft = dulled[0] as number;
    let dullRight = dulled[1] as number;
    for (let i = at; i < at + count; i++) {
      const place = this.place;
      dullLeft += tone * ((memory[toLeft + place] as number) - dullLeft);
      dullRight += tone * ((memory[toRight + place] as number) - dullRight);
      // Numbers near the smallest there are would be slow.
      if (Math.abs(dullLeft) < 1e-20) dullLeft = 0;
      if (Math.abs(dullRight) < 1e-20) dullRight = 0;
      const l = left[i] as number;
      const r = right[i] as number;
      const intoLeft = crosses ? (l + r) / 2 + feedback * dullRight : l + feedback * dullLeft;
      const intoRight = crosses ? feedback * dullLeft : r + feedback * dullRight;
      memory[toLeft + place] = intoLeft;
      memory[toRight + place] = intoRight;
      this.highest = Math.max(this.highest, Math.abs(intoLeft), Math.abs(intoRight));
      left[i] = dullLeft;
      right[i] = dullRight;
      this.place = place + 1 === length ? 0 : place + 1;
      if (this.place === 0) {
        this.before = this.highest;
        this.highest = 0;
      }
    }
    dulled[0] = dullLeft;
    dulled[1] = dullRight;
  }
}
