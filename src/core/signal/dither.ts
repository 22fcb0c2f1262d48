import { seededRandom } from './random';

/** Bits of the integer encodings. */
const BITS = { s16: 16, s24: 24 } as const;

/** Adds the dither that a rounding to so many bits needs to blocks of audio, one after another; repeatable. */
export type Dither = (channels: readonly Float32Array[]) => Float32Array[];

/**
 * Triangular dither of two steps from end to end: it makes the mean and the power of the rounding's error independent of
 * the sound (S. Lipshitz, R. Wannamaker, J. Vanderkooy, "Quantization and dither", J. Audio Eng. Soc. 40, 1992).
 */
export function triangularDither(encoding: keyof typeof BITS): Dither {
  const step = 2 ** (1 - BITS[encoding]);
  const random = seededRandom(1);
  return (channels) => channels.map((channel) => channel.map((x) => x + step * (random() - random())));
}
