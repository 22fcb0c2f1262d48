import { PEAK_FACTOR, PEAK_FRAMES, type RecordingView, TILE_PAIRS } from '@/contract/views';
import { decodeFrames } from '@/core/format/pcm';
import { toMono } from '@/core/signal/audio';

/** Frames of samples fetched at once when the view is closer than the stored peaks. */
const PIECE_FRAMES = 65536;
const MOST_PIECES = 24;
const RETRY_MS = 2000;

/**
 * What a wave is drawn from: peaks in tiles, and samples where the view is closer than these. Asked synchronously while
 * drawing; what is missing is fetched and `onArrival` called when it is there.
 */
export class WaveSource {
  /** By level, then by ordinal; null while a tile is being fetched. */
  private readonly tiles: (Int16Array | null | undefined)[][] = [];
  private readonly pieces = new Map<number, Float32Array | null>();
  private readonly levels: number;

  constructor(
    readonly recording: RecordingView,
    private readonly onArrival: () => void,
  ) {
    let levels = 1;
    for (
      let pairs = Math.ceil(recording.frames / PEAK_FRAMES);
      pairs > TILE_PAIRS;
      pairs = Math.ceil(pairs / PEAK_FACTOR)
    )
      levels++;
    this.levels = levels;
    for (let level = 0; level < levels; level++) this.tiles.push([]);
  }

  /**
   * Lowest and highest value (-1..1) of each of `width` columns of `framesPerColumn` frames from `start`, interleaved.
   * Columns that are not there yet are NaN. Returns whether all were.
   */
  columns(start: number, framesPerColumn: number, width: number, out: Float32Array): boolean {
    return framesPerColumn >= PEAK_FRAMES
      ? this.fromPeaks(start, framesPerColumn, width, out)
      : this.fromSamples(start, framesPerColumn, width, out);
  }

  /** One sample, or NaN while it is being fetched; 0 outside the recording. */
  sample(frame: number): number {
    if (frame < 0 || frame >= this.recording.frames) return 0;
    const piece = this.piece(Math.floor(frame / PIECE_FRAMES));
    return piece ? (piece[frame % PIECE_FRAMES] ?? 0) : Number.NaN;
  }

  private fromPeaks(start: number, framesPerColumn: number, width: number, out: Float32Array): boolean {
    const level = Math.min(
      this.levels - 1,
      Math.floor(Math.log(framesPerColumn / PEAK_FRAMES) / Math.log(PEAK_FACTOR) + 1e-9),
    );
    const framesPerPair = PEAK_FRAMES * PEAK_FACTOR ** level;
    const pairs = Math.ceil(this.recording.frames / framesPerPair);
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
        if (at === 0 || p === first) tile = this.tile(level, (p - at) / TILE_PAIRS);
        if (!tile) {
          whole = false;
          continue;
        }
        const [a, b] = [tile[2 * at] as number, tile[2 * at + 1] as number];
        if (a < low) low = a;
        if (b > high) high = b;
      }
      const beyond = start + x * framesPerColumn >= this.recording.frames || start + (x + 1) * framesPerColumn <= 0;
      out[2 * x] = beyond ? 0 : low === Number.POSITIVE_INFINITY ? Number.NaN : low / 32767;
      out[2 * x + 1] = beyond ? 0 : high === Number.NEGATIVE_INFINITY ? Number.NaN : high / 32767;
    }
    return whole;
  }

  private fromSamples(start: number, framesPerColumn: number, width: number, out: Float32Array): boolean {
    let whole = true;
    let ordinal = -1;
    let piece: Float32Array | null = null;
    for (let x = 0; x < width; x++) {
      const first = Math.floor(start + x * framesPerColumn);
      // One frame more than the column holds, so that neighbouring columns join without gaps.
      const last = Math.max(first + 1, Math.ceil(start + (x + 1) * framesPerColumn) + 1);
      let low = Number.POSITIVE_INFINITY;
      let high = Number.NEGATIVE_INFINITY;
      for (let frame = first; frame < last; frame++) {
        let value = 0;
        if (frame >= 0 && frame < this.recording.frames) {
          const wanted = Math.floor(frame / PIECE_FRAMES);
          if (wanted !== ordinal) {
            ordinal = wanted;
            piece = this.piece(wanted);
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

  private tile(level: number, ordinal: number): Int16Array | null {
    const row = this.tiles[level] as (Int16Array | null | undefined)[];
    const known = row[ordinal];
    if (known !== undefined) return known;
    row[ordinal] = null;
    void fetchBytes(`/api/recordings/${this.recording.id}/peaks?level=${level}&tile=${ordinal}`).then((bytes) => {
      if (bytes) row[ordinal] = new Int16Array(bytes);
      else
        this.later(() => {
          row[ordinal] = undefined;
        });
      this.onArrival();
    });
    return null;
  }

  /** What could not be fetched is asked for again a little later, when the wave is drawn anew. */
  private later(forget: () => void): void {
    setTimeout(() => {
      forget();
      this.onArrival();
    }, RETRY_MS);
  }

  private piece(ordinal: number): Float32Array | null {
    const known = this.pieces.get(ordinal);
    if (known !== undefined) return known;
    this.pieces.set(ordinal, null);
    const { id, encoding, channelCount, sampleRate, frames } = this.recording;
    const start = ordinal * PIECE_FRAMES;
    void fetchBytes(`/api/recordings/${id}/pcm?start=${start}&frames=${Math.min(PIECE_FRAMES, frames - start)}`).then(
      (bytes) => {
        if (bytes)
          this.pieces.set(
            ordinal,
            toMono({ sampleRate, channels: decodeFrames(encoding, new Uint8Array(bytes), channelCount) }),
          );
        else this.later(() => this.pieces.delete(ordinal));
        for (const old of this.pieces.keys()) {
          if (this.pieces.size <= MOST_PIECES) break;
          if (this.pieces.get(old)) this.pieces.delete(old);
        }
        this.onArrival();
      },
    );
    return null;
  }
}

async function fetchBytes(path: string): Promise<ArrayBuffer | null> {
  try {
    const answer = await fetch(path);
    return answer.ok ? await answer.arrayBuffer() : null;
  } catch {
    return null;
  }
}
