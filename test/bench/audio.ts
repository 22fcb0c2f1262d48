import { closeSync, openSync, writeSync } from 'node:fs';
import { encodeFrames, type SampleEncoding } from '../../src/core/format/pcm';
import { wavHeader } from '../../src/core/format/wav';
import { toStereo } from '../../src/core/signal/audio';
import { seededRandom } from '../../src/core/signal/random';
import { demoRecordings } from '../../src/demo/scenario';

/**
 * Writes a long WAV file: the demo's busy loop again and again, each time at another level and with some noise, so that no
 * two stretches are the same.
 */
export function writeLongWav(
  path: string,
  format: { seconds: number; sampleRate: number; channelCount: 1 | 2; encoding: SampleEncoding },
): number {
  const { sampleRate, channelCount, encoding } = format;
  const frames = Math.round(format.seconds * sampleRate);
  const loop = demoRecordings()[1];
  if (!loop) throw new Error('The demo has no second loop.');
  const sides = toStereo(loop.audio).slice(0, channelCount);
  const random = seededRandom(60);
  const file = openSync(path, 'w');
  writeSync(file, wavHeader({ encoding, sampleRate, channelCount }, frames));
  for (let at = 0; at < frames; ) {
    const level = 0.4 + 0.5 * random();
    const count = Math.min(sides[0]?.length ?? 0, frames - at);
    const part = sides.map((side) => side.slice(0, count).map((x) => x * level + (random() - 0.5) * 1e-4));
    writeSync(file, encodeFrames(encoding, part));
    at += count;
  }
  closeSync(file);
  return frames;
}
