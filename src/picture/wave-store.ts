import { MOST_TILES, type RecordingView, TILE_PAIRS } from '@/contract/views';
import { decodeFrames } from '@/core/format/pcm';
import { toMono } from '@/core/signal/audio';

/** Frames of samples fetched at once. */
export const PIECE_FRAMES = 65536;
const MOST_PIECES = 24;
const RETRY_MS = 2000;

/** A fetch under way, and its subscribers. */
type Entry<T> = { readonly waiting: Set<() => void> } | { readonly data: T };

/**
 * Cached data of a recording's waves: peaks in tiles, and samples in pieces for closer views; shared by all waves of a
 * page. Missing data is fetched, and each subscriber is told once when it has arrived.
 */
export class WaveStore {
  /** Tiles side by side. */
  private readonly blocks = new Map<string, Entry<Int16Array>>();
  private readonly pieces = new Map<number, Entry<Float32Array>>();

  constructor(private readonly recording: RecordingView) {}

  /**
   * Lowest and highest values, interleaved, of the `ordinal`th tile at a zoom level; null while it is being fetched.
   */
  tile(level: number, ordinal: number, told: () => void): Int16Array | null {
    // Neighbouring tiles are fetched along: they are drawn next, or by another wave.
    const first = ordinal - (ordinal % MOST_TILES);
    const block = this.asked(this.blocks, `${level} ${first}`, told, async () => {
      const { id } = this.recording;
      const bytes = await fetchBytes(`/api/recordings/${id}/peaks?level=${level}&tile=${first}&count=${MOST_TILES}`);
      return bytes && new Int16Array(bytes);
    });
    const at = 2 * TILE_PAIRS * (ordinal - first);
    return block?.subarray(at, at + 2 * TILE_PAIRS) ?? null;
  }

  /** Samples, mixed to one channel, of the `ordinal`th piece; null while it is being fetched. */
  piece(ordinal: number, told: () => void): Float32Array | null {
    return this.asked(this.pieces, ordinal, told, async () => {
      const { id, encoding, channelCount, sampleRate, frames } = this.recording;
      const start = ordinal * PIECE_FRAMES;
      const bytes = await fetchBytes(
        `/api/recordings/${id}/pcm?start=${start}&frames=${Math.min(PIECE_FRAMES, frames - start)}`,
      );
      this.letGo();
      return bytes && toMono({ sampleRate, channels: decodeFrames(encoding, new Uint8Array(bytes), channelCount) });
    });
  }

  private asked<K, T>(known: Map<K, Entry<T>>, key: K, told: () => void, fetched: () => Promise<T | null>): T | null {
    const entry = known.get(key);
    if (entry && 'data' in entry) return entry.data;
    if (entry) {
      entry.waiting.add(told);
      return null;
    }
    const waiting = new Set([told]);
    known.set(key, { waiting });
    void fetched().then((data) => {
      const tell = () => {
        for (const one of waiting) one();
      };
      if (data) {
        known.set(key, { data });
        tell();
        return;
      }
      // Fetched again a little later, when the wave is drawn again.
      setTimeout(() => {
        known.delete(key);
        tell();
      }, RETRY_MS);
    });
    return null;
  }

  /** The oldest pieces make room for new ones. */
  private letGo(): void {
    for (const [ordinal, entry] of this.pieces) {
      if (this.pieces.size <= MOST_PIECES) break;
      if ('data' in entry) this.pieces.delete(ordinal);
    }
  }
}

/** Stores of recordings that are drawn somewhere; released with their last wave. */
const stores = new Map<string, WeakRef<WaveStore>>();

/** The page's store of a recording. */
export function waveStoreOf(recording: RecordingView): WaveStore {
  const known = stores.get(recording.id)?.deref();
  if (known) return known;
  const store = new WaveStore(recording);
  stores.set(recording.id, new WeakRef(store));
  return store;
}

async function fetchBytes(path: string): Promise<ArrayBuffer | null> {
  try {
    const answer = await fetch(path);
    return answer.ok ? await answer.arrayBuffer() : null;
  } catch {
    return null;
  }
}
