import { momentaryLufs } from '../loudness/loudness';
import { loudestOf } from '../onset/energy';
import { toDb } from '../signal/units';
import { type EnvelopeFigures, envelopeOf } from './envelope';
import { type Head, headOf, headReach } from './head';
import type { Root } from './period';
import { rootOf } from './root';
import { BANDS, bandMiddles, type Sketch, Sketcher } from './sketch';
import { textureOf } from './texture';

/** Everything derived from a slice alone, from its first 1.5 seconds. */
export interface SoundFigures {
  readonly sketch: Sketch;
  readonly head: Head;
  /** `TEXTURE_FIGURES` logarithms of spectral flatness. */
  readonly texture: Float32Array;
  readonly envelope: EnvelopeFigures;
  readonly root: Root | null;
  /** Peak of the part that is analysed, in dBFS. */
  readonly peakDb: number;
  /** Maximum momentary loudness of that part with silence around it, in LUFS; -Infinity for silence. */
  readonly lufs: number;
  /** Spectral centroid (power), in hertz. */
  readonly brightnessHz: number;
  readonly seconds: number;
}

/** Longest part of a slice that is analysed, in seconds: later sound says nothing more about the stroke. */
const HEARD_S = 1.5;

/** Computes figures of the slices of one recording. */
export class Describer {
  private readonly sketcher: Sketcher;

  constructor(readonly sampleRate: number) {
    this.sketcher = new Sketcher(sampleRate);
  }

  /** Frames needed before a slice's start, and at most after it. */
  get reach(): { readonly before: number; readonly after: number } {
    return {
      // One frame more, because a head is made of differences.
      before: Math.max(this.sketcher.reach.before, headReach(this.sampleRate).before + 1),
      after: Math.max(this.sketcher.reach.after, Math.ceil(HEARD_S * this.sampleRate)),
    };
  }

  /**
   * Figures of [start, end) of one channel. `samples` need only cover the frames that `reach` names. `wholeFrames` is
   * the slice's length where `samples` holds only its beginning.
   */
  describe(samples: Float32Array, start: number, end: number, wholeFrames = end - start): SoundFigures {
    const { sampleRate } = this;
    const heard = samples.subarray(start, Math.min(end, start + Math.ceil(HEARD_S * sampleRate)));
    const sketch = this.sketcher.sketch(samples, start, end);
    return {
      sketch,
      head: headOf(samples, start, end, sampleRate),
      texture: textureOf(heard, sampleRate),
      envelope: envelopeOf(heard, sampleRate),
      root: rootOf(heard, sampleRate),
      peakDb: toDb(loudestOf(heard)),
      lufs: momentaryLufs({ sampleRate, channels: [heard] }),
      brightnessHz: brightness(sketch, bandMiddles(sampleRate)),
      seconds: wholeFrames / sampleRate,
    };
  }
}

function brightness({ powers, cells }: Sketch, middlesHz: Float64Array): number {
  let [weighted, all] = [0, 0];
  for (let i = 0; i < cells * BANDS; i++) {
    all += powers[i] as number;
    weighted += (powers[i] as number) * (middlesHz[i % BANDS] as number);
  }
  return all > 0 ? weighted / all : 0;
}
