import { PEAK_FACTOR, PEAK_FRAMES, TILE_PAIRS } from '@/contract/views';

export interface PeakTile {
  readonly level: number;
  readonly ordinal: number;
  readonly data: Buffer;
}

/**
 * Lowest and highest sample of every 256 frames of one channel, and of every 4th power of that above, as they arrive.
 * 16-bit integers with full scale 32767, rounded away from zero, so that a quiet sound never looks like silence.
 */
export class PeakBuilder {
  peak = 0;
  private readonly pairs: number[] = [];
  private low = 0;
  private high = 0;
  private count = 0;

  add(samples: Float32Array): void {
    let i = 0;
    while (i < samples.length) {
      const stop = Math.min(samples.length, i + PEAK_FRAMES - this.count);
      let low = this.count === 0 ? (samples[i] as number) : this.low;
      let high = this.count === 0 ? low : this.high;
      this.count += stop - i;
      for (; i < stop; i++) {
        const x = samples[i] as number;
        if (x < low) low = x;
        else if (x > high) high = x;
      }
      this.low = low;
      this.high = high;
      if (this.count === PEAK_FRAMES) this.close();
    }
  }

  finish(): PeakTile[] {
    if (this.count > 0) this.close();
    const tiles: PeakTile[] = [];
    let pairs = Int16Array.from(this.pairs);
    for (let level = 0; ; level++) {
      for (let ordinal = 0; ordinal * TILE_PAIRS * 2 < pairs.length; ordinal++) {
        const part = pairs.slice(ordinal * TILE_PAIRS * 2, (ordinal + 1) * TILE_PAIRS * 2);
        tiles.push({ level, ordinal, data: Buffer.from(part.buffer) });
      }
      if (pairs.length <= TILE_PAIRS * 2) return tiles;
      pairs = coarser(pairs);
    }
  }

  private close(): void {
    this.peak = Math.max(this.peak, -this.low, this.high);
    this.pairs.push(outward(this.low), outward(this.high));
    this.count = 0;
  }
}

function outward(x: number): number {
  const scaled = Math.max(-1, Math.min(1, x)) * 32767;
  return x < 0 ? Math.floor(scaled) : Math.ceil(scaled);
}

function coarser(pairs: Int16Array): Int16Array<ArrayBuffer> {
  const out = new Int16Array(Math.ceil(pairs.length / 2 / PEAK_FACTOR) * 2);
  for (let i = 0; i < out.length / 2; i++) {
    let low = 32767;
    let high = -32768;
    for (let k = i * PEAK_FACTOR; k < Math.min(pairs.length / 2, (i + 1) * PEAK_FACTOR); k++) {
      low = Math.min(low, pairs[2 * k] as number);
      high = Math.max(high, pairs[2 * k + 1] as number);
    }
    out[2 * i] = low;
    out[2 * i + 1] = high;
  }
  return out;
}
