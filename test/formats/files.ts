import { execFileSync } from 'node:child_process';
import { join } from 'node:path';

/** A file in one of the kinds that can be read, made by an outside encoder. */
export interface MadeFile {
  readonly name: string;
  readonly path: string;
  /** The uncompressed file it was made of. */
  readonly source: string;
  readonly lossless: boolean;
  /** Rate that the kind itself changes the sound to, where it does. */
  readonly rate?: number;
}

const run = (command: string, ...args: string[]) =>
  execFileSync(command, args, { stdio: ['ignore', 'ignore', 'pipe'] });

/**
 * Test sound of struck notes, noise and full-scale samples, made with sox, as files of every kind by sox (AIFF), ffmpeg
 * (FLAC, Apple Lossless, AAC), LAME, libvorbis and libopus (through ffmpeg).
 */
export function makeFiles(folder: string, seconds: number): MadeFile[] {
  const at = (name: string) => join(folder, name);
  const half = String(seconds / 2);
  const source = (bits: 8 | 16 | 24, channels: 1 | 2, rate: number): string => {
    const path = at(`source-${bits}-${channels}-${rate}.wav`);
    const encoding = bits === 8 ? ['-e', 'unsigned'] : [];
    // White noise at full scale meets every sample value, the extremes among them; plucked strings stand for music.
    const plucked = at('plucked.wav');
    const noise = at('noise.wav');
    run(
      'sox',
      '-R',
      '-n',
      '-r',
      String(rate),
      '-c',
      String(channels),
      '-b',
      '24',
      plucked,
      'synth',
      half,
      'pluck',
      'A3',
      'gain',
      '-3',
    );
    run(
      'sox',
      '-R',
      '-n',
      '-r',
      String(rate),
      '-c',
      String(channels),
      '-b',
      '24',
      noise,
      'synth',
      half,
      'whitenoise',
      'fade',
      'q',
      '0.005',
      half,
      '0.2',
    );
    run('sox', '-R', plucked, noise, '-b', String(bits), ...encoding, path);
    return path;
  };
  const s16 = source(16, 2, 44100);
  const s24 = source(24, 2, 48000);
  const mono = source(16, 1, 44100);
  const s8 = source(8, 1, 22050);
  const made: MadeFile[] = [];
  const add = (name: string, from: string, lossless: boolean, make: (path: string) => void, rate?: number) => {
    const path = at(name);
    make(path);
    made.push({ name, path, source: from, lossless, ...(rate === undefined ? {} : { rate }) });
  };
  const ffmpeg =
    (from: string, ...args: string[]) =>
    (path: string) =>
      void run('ffmpeg', '-v', 'error', '-y', '-i', from, ...args, path);
  const sox =
    (from: string, ...args: string[]) =>
    (path: string) =>
      void run('sox', '-R', from, ...args, path);
  add('16-bit.aiff', s16, true, sox(s16));
  add('24-bit.aiff', s24, true, sox(s24));
  add('8-bit.aiff', s8, true, sox(s8, '-e', 'signed'));
  add('sowt.aifc', s16, true, ffmpeg(s16, '-c:a', 'pcm_s16le', '-f', 'aiff'));
  add('float.aifc', s24, true, ffmpeg(s24, '-c:a', 'pcm_f32be', '-f', 'aiff'));
  add('16-bit.flac', s16, true, ffmpeg(s16, '-c:a', 'flac'));
  add('24-bit.flac', s24, true, ffmpeg(s24, '-c:a', 'flac', '-sample_fmt', 's32'));
  add('8-bit.flac', s8, true, sox(s8));
  add('mono.flac', mono, true, ffmpeg(mono, '-c:a', 'flac', '-compression_level', '12'));
  add('16-bit alac.m4a', s16, true, ffmpeg(s16, '-c:a', 'alac'));
  add('24-bit alac.m4a', s24, true, ffmpeg(s24, '-c:a', 'alac', '-sample_fmt', 's32p'));
  add('delay tag.mp3', s16, false, ffmpeg(s16, '-c:a', 'libmp3lame', '-b:a', '256k'));
  add('variable.mp3', s16, false, ffmpeg(s16, '-c:a', 'libmp3lame', '-q:a', '2'));
  add('mono.mp3', mono, false, ffmpeg(mono, '-c:a', 'libmp3lame', '-b:a', '128k'));
  add(
    'no tag.mp3',
    s16,
    false,
    ffmpeg(s16, '-c:a', 'libmp3lame', '-b:a', '256k', '-write_xing', '0', '-id3v2_version', '0'),
  );
  add('vorbis.ogg', s16, false, ffmpeg(s16, '-c:a', 'libvorbis', '-q:a', '7'));
  add('opus.opus', s24, false, ffmpeg(s24, '-c:a', 'libopus', '-b:a', '192k'), 48000);
  add('aac.m4a', s16, false, ffmpeg(s16, '-c:a', 'aac', '-b:a', '256k'));
  add('index first.m4a', s16, false, ffmpeg(s16, '-c:a', 'aac', '-b:a', '256k', '-movflags', '+faststart'));
  add('bare.aac', s16, false, ffmpeg(s16, '-c:a', 'aac', '-b:a', '256k', '-f', 'adts'));
  return made;
}
