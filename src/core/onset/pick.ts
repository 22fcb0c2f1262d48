/** A peak of the novelty curve: its hop, its height above its surroundings, and its plain height. */
export interface NoveltyPeak {
  readonly hop: number;
  readonly prominence: number;
  readonly height: number;
}

export interface PickOptions {
  /** A peak is the largest value this far to either side, in hops. */
  readonly reach: number;
  /** Hops before and after over which the surroundings are averaged. */
  readonly before: number;
  readonly after: number;
  /** Smallest prominence that is kept. */
  readonly least: number;
}

/**
 * Adaptive peak picking: local maxima above a moving mean. Source: S. Böck, F. Krebs, M. Schedl, "Evaluating the online
 * capabilities of onset detection methods", ISMIR 2012, section 2.3 (the offline variant). The mean is scaled down so
 * that rolls do not raise their own threshold.
 */
export function pickPeaks(curve: Float32Array, options: PickOptions): NoveltyPeak[] {
  const { reach, before, after, least } = options;
  const sums = new Float64Array(curve.length + 1);
  for (let i = 0; i < curve.length; i++) sums[i + 1] = (sums[i] as number) + (curve[i] as number);
  const peaks: NoveltyPeak[] = [];
  for (let n = 0; n < curve.length; n++) {
    const height = curve[n] as number;
    if (height <= 0) continue;
    let isPeak = true;
    for (let i = Math.max(0, n - reach); isPeak && i <= Math.min(curve.length - 1, n + reach); i++) {
      const other = curve[i] as number;
      if (other > height || (other === height && i < n)) isPeak = false;
    }
    if (!isPeak) continue;
    const from = Math.max(0, n - before);
    const to = Math.min(curve.length, n + after + 1);
    const mean = ((sums[to] as number) - (sums[from] as number)) / (to - from);
    const prominence = height - mean;
    if (prominence >= least) peaks.push({ hop: n, prominence, height });
  }
  return peaks;
}
