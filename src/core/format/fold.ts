import { threadKernel } from '../kernel/kernel';
import { peakOf, toMono } from '../signal/audio';
import { asInt16, bytesPerFrame, type DecodeReport, decodeFrames, type PcmFormat } from './pcm';

/**
 * Decodes interleaved bytes and folds them to one channel as `toMono` does, into `out` from `at`. Returns the largest
 * absolute sample of any channel. `out` must have room for all whole frames.
 */
export function foldFrames(
  format: Omit<PcmFormat, 'validBits'>,
  bytes: Uint8Array,
  out: Float32Array,
  at: number,
  report?: DecodeReport,
): number {
  const { encoding, channelCount, sampleRate } = format;
  const frames = Math.floor(bytes.byteLength / bytesPerFrame(format));
  const values = encoding === 's16' && channelCount === 2 ? asInt16(bytes, 2 * frames) : null;
  if (!values) {
    const channels = decodeFrames(encoding, bytes, channelCount, report);
    out.set(toMono({ sampleRate, channels }), at);
    return peakOf(channels);
  }
  // By far the most common case, several times as fast in the kernel.
  const kernel = threadKernel();
  return kernel.within(() => {
    const from = kernel.lay(values);
    const folded = kernel.run.reserve(4 * frames);
    const peak = kernel.run.foldPairs(from, frames, folded);
    out.set(kernel.floats(folded, frames), at);
    return peak / 32768;
  });
}
