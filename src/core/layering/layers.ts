import { panGains } from '../play/gains';
import { type Audio, frameCount, toStereo } from '../signal/audio';
import { fromDb } from '../signal/units';

/** A layer as it goes into a sum. */
export interface LayerSound {
  /** All layers have one sample rate. */
  readonly audio: Audio;
  /** Where its first frame lies; may be negative. */
  readonly offsetFrames: number;
  readonly levelDb: number;
  /** -1 left to 1 right. */
  readonly pan: number;
  readonly inverted: boolean;
}

export interface LayerSum {
  readonly audio: Audio;
  /** Where the sum's first frame lies, on the layers' axis. */
  readonly startFrame: number;
}

/**
 * The sum of layers, from the first frame of any to the last; one channel where all have one and none is panned. One silent
 * frame where there are none.
 */
export function sumOf(layers: readonly LayerSound[]): LayerSum {
  if (layers.length === 0) return { audio: { sampleRate: 48_000, channels: [new Float32Array(1)] }, startFrame: 0 };
  const startFrame = Math.min(...layers.map((l) => l.offsetFrames));
  const endFrame = Math.max(...layers.map((l) => l.offsetFrames + frameCount(l.audio)));
  const isMono = layers.every((l) => l.audio.channels.length === 1 && l.pan === 0);
  const channels = Array.from({ length: isMono ? 1 : 2 }, () => new Float32Array(endFrame - startFrame));
  for (const { audio, offsetFrames, levelDb, pan, inverted } of layers) {
    const gain = fromDb(levelDb) * (inverted ? -1 : 1);
    const { left, right } = panGains(pan);
    const sides = isMono ? audio.channels : toStereo(audio);
    for (const [c, out] of channels.entries()) {
      const side = sides[c] as Float32Array;
      const own = isMono ? gain : gain * (c === 0 ? left : right);
      addTo(out, side, offsetFrames - startFrame, own);
    }
  }
  return { audio: { sampleRate: layers[0]?.audio.sampleRate ?? 48_000, channels }, startFrame };
}

/** Adds samples times a gain to others from a frame on. */
function addTo(out: Float32Array, samples: Float32Array, at: number, gain: number): void {
  for (let i = 0; i < samples.length; i++) out[at + i] = (out[at + i] as number) + gain * (samples[i] as number);
}
