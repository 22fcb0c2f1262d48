import { PEAK_FACTOR, PEAK_FRAMES, type RecordingView, TILE_PAIRS } from '@/contract/views';
import { PIECE_FRAMES, type WaveStore, waveStoreOf } from './wave-store';

/**
 * Data of a wave: peaks in tiles, and samples for closer views. Read synchronously while drawing; missing data is
 * fetched and `onArrival` is called when it is there.
 */
export class WaveSource {
  private readonly store: WaveStore;
  private readonly levels: number;

  constructor(
    readonly recording: RecordingView,
    private readonly onArrival: () => void,
  ) {
    this.store = waveStoreOf(recording);
    let levels = 1;
    for (
      let pairs = Math.ceil(recording.frames / PEAK_FRAMES);
      pairs > TILE_PAIRS;
      pairs = Math.ceil(pairs / PEAK_FACTOR)
    )
      levels++;
    this.levels = levels;
  }

  /**
   * Lowest and highest value (-1..1) of each of `width` columns of `framesPerColumn` frames from `start`, interleaved.
   * From `end` on everything counts as silence. Columns that are not loaded are NaN. Returns whether all were.
   */
  columns(
    start: number,
    framesPerColumn: number,
    width: number,
    out: Float32Array,
    end = this.recording.frames,
  ): boolean {
    return framesPerColumn >= PEAK_FRAMES
      ? this.fromPeaks(start, framesPerColumn, width, out, end)
      : this.fromSamples(start, framesPerColumn, width, out, end);
  }

  /** One sample, or NaN while it is being fetched; 0 outside the recording. */
  sample(frame: number): number {
    if (frame < 0 || frame >= this.recording.frames) return 0;
    const piece = this.store.piece(Math.floor(frame / PIECE_FRAMES), this.onArrival);
    return piece ? (piece[frame % PIECE_FRAMES] ?? 0) : Number.NaN;
  }

  private fromPeaks(start: number, framesPerColumn: number, width: number, out: Float32Array, end: number): boolean {
    const level = Math.min(
      this.levels - 1,
      Math.floor(Math.log(framesPerColumn / PEAK_FRAMES) / Math.log(PEAK_FACTOR) + 1e-9),
    );
    const framesPerPair = PEAK_FRAMES * PEAK_FACTOR ** level;
    const pairs =
      end < this.recording.frames ? Math.floor(end / framesPerPair) : Math.ceil(this.recording.frames / framesPerPair);
    let whole = true;
    let tile: Int16Array | null = null;
    for (let x = 0; x < width; x++) {
      const first = Math.max(0, Math.floor((start + x * framesPerColumn) / framesPerPair));
      const last = Math.min(
        pairs - 1,
        Math.max(first, Math.ceil((start + (x + 1) * framesPerColumn) / framesPerPair) - 1),
      );
      let low = Number.POSITIVE_INFINITY;
      let high = Number.NEGATIVE_INFINITY;
      for (let p = first; p <= last; p++) {
        const at = p % TILE_PAIRS;
        if (at === 0 || p === first) tile = this.store.tile(level, (p - at) / TILE_PAIRS, this.onArrival);
        if (!tile) {
          whole = false;
          continue;
        }
        const [a, b] = [tile[2 * at] as number, tile[2 * at + 1] as number];
        if (a < low) low = a;
        if (b > high) high = b;
      }
      const from = start + x * framesPerColumn;
      const beyond = first >= pairs || from >= end || from + framesPerColumn <= 0;
      out[2 * x] = beyond ? 0 : low === Number.POSITIVE_INFINITY ? Number.NaN : low / 32767;
      out[2 * x + 1] = beyond ? 0 : high === Number.NEGATIVE_INFINITY ? Number.NaN : high / 32767;
    }
    return whole;
  }

  private fromSamples(start: number, framesPerColumn: number, width: number, out: Float32Array, end: number): boolean {
    const stop = Math.min(end, this.recording.frames);
    let whole = true;
    let ordinal = -1;
    let piece: Float32Array | null = null;
    for (let x = 0; x < width; x++) {
      const first = Math.floor(start + x * framesPerColumn);
      // One frame more than the column holds, so that neighbouring columns join.
      const last = Math.max(first + 1, Math.ceil(start + (x + 1) * framesPerColumn) + 1);
      let low = Number.POSITIVE_INFINITY;
      let high = Number.NEGATIVE_INFINITY;
      for (let frame = first; frame < last; frame++) {
        let value = 0;
        if (frame >= 0 && frame < stop) {
          const wanted = Math.floor(frame / PIECE_FRAMES);
          if (wanted !== ordinal) {
            ordinal = wanted;
            piece = this.store.piece(wanted, this.onArrival);
          }
          if (!piece) {
            whole = false;
            continue;
          }
          value = piece[frame - wanted * PIECE_FRAMES] ?? 0;
        }
        if (value < low) low = value;
        if (value > high) high = value;
      }
      out[2 * x] = low === Number.POSITIVE_INFINITY ? Number.NaN : low;
      out[2 * x + 1] = high === Number.NEGATIVE_INFINITY ? Number.NaN : high;
    }
    return whole;
  }
}
