/** Frames of a column. */
export const COLUMN_FRAMES = 256;

/** Lowest and highest sample of every 256 frames of a channel while it grows. */
export class GrowingColumns {
  private low = 0;
  private high = 0;
  private count = 0;

  /** Takes in frames; returns the columns that they complete, as pairs. */
  add(samples: Float32Array): Float32Array {
    const whole = Math.floor((this.count + samples.length) / COLUMN_FRAMES);
    const out = new Float32Array(2 * whole);
    let at = 0;
    for (const x of samples) {
      if (this.count === 0) {
        this.low = x;
        this.high = x;
      } else {
        if (x < this.low) this.low = x;
        if (x > this.high) this.high = x;
      }
      if (++this.count < COLUMN_FRAMES) continue;
      out[at++] = this.low;
      out[at++] = this.high;
      this.count = 0;
    }
    return out;
  }
}
