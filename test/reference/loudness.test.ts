import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { writeWav } from '../../src/core/format/wav';
import { momentaryLufs } from '../../src/core/loudness/loudness';
import type { Audio } from '../../src/core/signal/audio';
import { seededRandom } from '../../src/core/signal/random';
import { remove, scratch } from '../harness';

const folder = scratch();
afterAll(() => remove(folder));

function sine(hz: number, peakDb: number, seconds: number, sampleRate: number, channels: 1 | 2): Audio {
  const samples = Float32Array.from(
    { length: seconds * sampleRate },
    (_, i) => 10 ** (peakDb / 20) * Math.sin((2 * Math.PI * hz * i) / sampleRate),
  );
  return { sampleRate, channels: channels === 1 ? [samples] : [samples, samples] };
}

/** Highest momentary loudness that ffmpeg's ebur128 filter (libebur128's method) tells of a file, by its own report. */
function ffmpegMomentary(audio: Audio): number {
  const path = join(folder, 'sound.wav');
  writeFileSync(path, writeWav(audio, 'f32'));
  const said = execFileSync(
    'ffmpeg',
    ['-nostats', '-i', path, '-af', 'ebur128=metadata=1,ametadata=print:key=lavfi.r128.M:file=-', '-f', 'null', '-'],
    {
      encoding: 'utf8',
      stdio: ['ignore', 'pipe', 'ignore'],
    },
  );
  return Math.max(...[...said.matchAll(/lavfi\.r128\.M=(-?[\d.]+)/g)].map((m) => Number(m[1])));
}

test.each([44100, 48000, 96000])(
  'a stereo 1 kHz sine at -23 dBFS is -23 LUFS at %d Hz (EBU Tech 3341, case 1)',
  (rate) => {
    expect(Math.abs(momentaryLufs(sine(1000, -23, 2, rate, 2)) + 23)).toBeLessThan(0.1);
  },
);

test('a sine of 100 ms in silence counts as a quarter of the 400 ms window: 6 dB less (ITU-R BS.1770-4)', () => {
  expect(Math.abs(momentaryLufs(sine(1000, -23, 0.1, 48000, 2)) + 23 + 6.02)).toBeLessThan(0.1);
});

test('silence is minus infinity', () => {
  expect(momentaryLufs({ sampleRate: 48000, channels: [new Float32Array(9000)] })).toBe(Number.NEGATIVE_INFINITY);
});

test.each([
  ['low tone', sine(60, -10, 3, 48000, 1)],
  ['high tone', sine(6000, -20, 3, 48000, 2)],
])('%s: within 0.1 LU of ffmpeg', (_, audio) => {
  expect(Math.abs(momentaryLufs(audio) - ffmpegMomentary(audio))).toBeLessThan(0.1);
});

test('noise that swells: within 0.1 LU of ffmpeg, whose window moves by 100 ms', () => {
  const random = seededRandom(5);
  const rate = 48000;
  // Held for half a second at its loudest, so that both windows lie in it whole.
  const level = (t: number) => (t < 1 ? t : t < 1.9 ? 1 : 2.9 - t);
  const samples = Float32Array.from({ length: 2.9 * rate }, (_, i) => 0.3 * level(i / rate) * (random() * 2 - 1));
  const audio = { sampleRate: rate, channels: [samples] };
  expect(Math.abs(momentaryLufs(audio) - ffmpegMomentary(audio))).toBeLessThan(0.25);
});
