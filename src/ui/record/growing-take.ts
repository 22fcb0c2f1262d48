import type { FallenStroke } from '@/core/capture/strokes';
import { createStore } from '../parts/store';

/** The wave of a take while it grows, and the strokes that have fallen in it. */
export class GrowingTake {
  /** Lowest and highest sample of each column of 256 frames, as pairs; `columns` of them are there. */
  pairs = new Float32Array(2 * 4096);
  columns = 0;
  strokes: readonly FallenStroke[] = [];
  frames = 0;
  sampleRate = 48_000;
  /** Counts the changes, for those who draw it. */
  readonly changed = createStore(0);

  /** Begins with nothing. */
  begin(sampleRate: number): void {
    this.columns = 0;
    this.strokes = [];
    this.frames = 0;
    this.sampleRate = sampleRate;
    this.tell();
  }

  add(pairs: Float32Array, strokes: readonly FallenStroke[], frames: number): void {
    const wanted = 2 * this.columns + pairs.length;
    if (wanted > this.pairs.length) {
      const grown = new Float32Array(2 * wanted);
      grown.set(this.pairs.subarray(0, 2 * this.columns));
      this.pairs = grown;
    }
    this.pairs.set(pairs, 2 * this.columns);
    this.columns += pairs.length / 2;
    if (strokes.length > 0) this.strokes = [...this.strokes, ...strokes];
    this.frames = frames;
    this.tell();
  }

  private tell(): void {
    this.changed.set(this.changed.get() + 1);
  }
}
