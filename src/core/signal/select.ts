/**
 * The value at `rank` (from 0) of `values` in rising order; reorders `values`. C. A. R. Hoare, "Algorithm 65: find",
 * Communications of the ACM 4, 1961.
 */
export function select(values: Float32Array | Float64Array, rank: number): number {
  if (rank < 0 || rank >= values.length) throw new RangeError(`rank ${rank} is not in 0 to ${values.length - 1}.`);
  let low = 0;
  let high = values.length - 1;
  while (low < high) {
    const pivot = values[rank] as number;
    let i = low;
    let j = high;
    while (i <= j) {
      while ((values[i] as number) < pivot) i++;
      while (pivot < (values[j] as number)) j--;
      if (i > j) break;
      const held = values[i] as number;
      values[i++] = values[j] as number;
      values[j--] = held;
    }
    if (j < rank) low = i;
    if (rank < i) high = j;
  }
  return values[rank] as number;
}
