import { momentaryLufs } from '../loudness/loudness';
import { loudestOf } from '../onset/energy';
import { toDb } from '../signal/units';
import { type EnvelopeFigures, envelopeOf } from './envelope';
import { type Head, headOf, headReach } from './head';
import type { Root } from './period';
import { rootOf } from './root';
import { BANDS, bandMiddles, type Sketch, Sketcher } from './sketch';
import { textureOf } from './texture';

/** All that is told of a slice by listening to it alone: to its first second and a half. */
export interface SoundFigures {
  readonly sketch: Sketch;
  readonly head: Head;
  /** `TEXTURE_FIGURES` logarithms of flatness. */
  readonly texture: Float32Array;
  readonly envelope: EnvelopeFigures;
  readonly root: Root | null;
  /** Loudest sample of what was listened to, in dBFS. */
  readonly peakDb: number;
  /** Maximum momentary loudness of it, standing in silence, in LUFS; -Infinity for silence. */
  readonly lufs: number;
  /** Centre of gravity of the spectrum's power, in hertz: how bright it is. */
  readonly brightnessHz: number;
  readonly seconds: number;
}

/** No more of a slice than this is listened to: what comes later tells no more of what was struck. */
const HEARD_S = 1.5;

/** Makes figures of the slices of one recording. */
export class Describer {
  private readonly sketcher: Sketcher;

  constructor(readonly sampleRate: number) {
    this.sketcher = new Sketcher(sampleRate);
  }

  /** Frames before a slice's start, and after it at most, that are listened to. */
  get reach(): { readonly before: number; readonly after: number } {
    return {
      // One more, since a head is made of differences.
      before: Math.max(this.sketcher.reach.before, headReach(this.sampleRate).before + 1),
      after: Math.max(this.sketcher.reach.after, Math.ceil(HEARD_S * this.sampleRate)),
    };
  }

  /**
   * Figures of [start, end) of one channel; `samples` need not hold more of the recording than `reach` tells. `wholeFrames` is the
   * slice's own length where `samples` holds only its beginning.
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
