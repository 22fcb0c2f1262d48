/** A line of the bench's table. `met` is null where no floor is set for it yet. */
export interface Row {
  readonly what: string;
  readonly figure: string;
  readonly beside: string;
  readonly floor: string;
  readonly met: boolean | null;
}

export function printRows(rows: readonly Row[]): void {
  const width = (pick: (row: Row) => string) => Math.max(...rows.map((row) => pick(row).length));
  const [w, f, b] = [width((r) => r.what), width((r) => r.figure), width((r) => r.beside)];
  for (const row of rows) {
    const verdict = row.met === null ? '' : row.met ? 'met' : 'MISSED';
    console.log(`${row.what.padEnd(w)}  ${row.figure.padStart(f)}  ${row.beside.padEnd(b)}  ${row.floor}  ${verdict}`);
  }
}

export function p95(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(0.95 * sorted.length))] ?? Number.NaN;
}

export function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? Number.NaN;
}

/** Milliseconds that `work` takes. */
export function timed(work: () => void): number {
  const start = performance.now();
  work();
  return performance.now() - start;
}

export const seconds = (ms: number) => `${(ms / 1000).toFixed(2)} s`;
