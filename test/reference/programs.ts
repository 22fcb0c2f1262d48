import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { readWav, writeWav } from '../../src/core/format/wav';
import type { Audio } from '../../src/core/signal/audio';

const quiet: { stdio: ('ignore' | 'pipe')[] } = { stdio: ['ignore', 'pipe', 'ignore'] };

/** Audio through filters of ffmpeg, 32-bit floats in and out. */
export function throughFfmpeg(folder: string, audio: Audio, filters: string): Audio {
  const [from, to] = [join(folder, 'in.wav'), join(folder, 'out.wav')];
  writeFileSync(from, writeWav(audio, 'f32'));
  execFileSync('ffmpeg', ['-y', '-v', 'error', '-i', from, '-af', filters, '-c:a', 'pcm_f32le', to], quiet);
  return readWav(readFileSync(to)).audio;
}

/** Audio through effects of sox. */
export function throughSox(folder: string, audio: Audio, ...effects: string[]): Audio {
  const [from, to] = [join(folder, 'in.wav'), join(folder, 'out.wav')];
  writeFileSync(from, writeWav(audio, 'f32'));
  execFileSync('sox', ['-D', from, '-e', 'floating-point', '-b', '32', to, ...effects], quiet);
  return readWav(readFileSync(to)).audio;
}

/** Highest true peak of audio in dBTP, by ffmpeg's ebur128 filter. */
export function ffmpegTruePeak(folder: string, audio: Audio): number {
  const path = join(folder, 'in.wav');
  writeFileSync(path, writeWav(audio, 'f32'));
  const args = [
    '-nostats',
    '-i',
    path,
    '-af',
    'ebur128=peak=true:metadata=1,ametadata=print:file=-',
    '-f',
    'null',
    '-',
  ];
  const said = execFileSync('ffmpeg', args, { encoding: 'utf8', ...quiet });
  const peaks = [...said.matchAll(/lavfi\.r128\.true_peaks_ch\d=([\d.]+)/g)].map((m) => 20 * Math.log10(Number(m[1])));
  return Math.max(...peaks);
}

/** Level of the difference of two signals against the first, in dB, over the frames both have. */
export function differenceDb(a: Float32Array, b: Float32Array, from = 0, to = Math.min(a.length, b.length)): number {
  let [rest, whole] = [0, 0];
  for (let i = from; i < to; i++) {
    rest += ((a[i] as number) - (b[i] as number)) ** 2;
    whole += (a[i] as number) ** 2;
  }
  return 10 * Math.log10(rest / whole + 1e-30);
}
