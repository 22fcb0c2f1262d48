/**
 * Running medians of many series at once: one sorted window a series, from which the oldest value is removed and into
 * which the newest is inserted. For windows of about ten values that is faster than any tree.
 */
export class RunningMedians {
  private readonly sorted: Float32Array;
  private readonly ring: Float32Array;
  private at = 0;

  constructor(
    readonly series: number,
    /** Odd. */
    readonly size: number,
  ) {
    this.sorted = new Float32Array(series * size);
    this.ring = new Float32Array(series * size);
  }

  /** Takes one new value a series; writes the median of each series' window - zeros before the first - into `out`. */
  push(values: Float32Array, out: Float32Array): void {
    const { series, size, sorted, ring } = this;
    const oldest = this.at * series;
    const middle = (size - 1) / 2;
    for (let s = 0; s < series; s++) {
      const gone = ring[oldest + s] as number;
      const value = values[s] as number;
      ring[oldest + s] = value;
      const base = s * size;
      let i = base;
      while (sorted[i] !== gone) i++;
      // Shifts values until the gap is where the new one belongs.
      while (i > base && (sorted[i - 1] as number) > value) {
        sorted[i] = sorted[i - 1] as number;
        i--;
      }
      const last = base + size - 1;
      while (i < last && (sorted[i + 1] as number) < value) {
        sorted[i] = sorted[i + 1] as number;
        i++;
      }
      sorted[i] = value;
      out[s] = sorted[base + middle] as number;
    }
    this.at = (this.at + 1) % size;
  }
}

/** Medians of windows of `size` (odd) values along `values`, ends mirrored by their last value, into `out`. */
export function medianFilter(values: Float32Array, size: number, out: Float32Array): void {
  const reach = (size - 1) / 2;
  const window = new Float32Array(size);
  const at = (i: number) => values[Math.max(0, Math.min(values.length - 1, i))] as number;
  for (let i = 0; i < size; i++) window[i] = at(i - reach);
  window.sort();
  for (let n = 0; n < values.length; n++) {
    out[n] = window[reach] as number;
    const gone = at(n - reach);
    const value = at(n + reach + 1);
    let i = 0;
    while (window[i] !== gone) i++;
    while (i > 0 && (window[i - 1] as number) > value) {
      window[i] = window[i - 1] as number;
      i--;
    }
    while (i < size - 1 && (window[i + 1] as number) < value) {
      window[i] = window[i + 1] as number;
      i++;
    }
    window[i] = value;
  }
}
