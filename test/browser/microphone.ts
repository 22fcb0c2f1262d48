import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { readWav, writeWav } from '../../src/core/format/wav';
import type { Audio } from '../../src/core/signal/audio';
import type { Session } from '../harness';

/** The fake device's own rate: nothing on the way to the page resamples what has it. */
export const DEVICE_RATE = 44_100;

/** Switches that have Chromium's fake microphone play a file, again and again unless `loops` is off, without asking anybody. */
export function microphone(file: string, loops = true): string[] {
  return [
    '--use-fake-ui-for-media-stream',
    '--use-fake-device-for-media-stream',
    `--use-file-for-fake-audio-capture=${file}${loops ? '' : '%noloop'}`,
  ];
}

/** Writes what the fake microphone is to play, stereo in 16 bits; returns it as it is in the file. */
export function writeMicrophone(
  folder: string,
  channels: readonly [Float32Array, Float32Array],
): { path: string; audio: Audio } {
  const path = join(folder, 'microphone.wav');
  const bytes = writeWav({ sampleRate: DEVICE_RATE, channels: [...channels] }, 's16');
  writeFileSync(path, bytes);
  return { path, audio: readWav(bytes).audio };
}

export interface StoredTake {
  readonly id: string;
  readonly title: string;
  readonly frames: number;
  readonly sampleRate: number;
  readonly channelCount: number;
  readonly cutOff: number;
  readonly warnings: string;
}

/** The takes that are stored, in the order in which they came. */
export function takesOf(session: Session): StoredTake[] {
  return session.ask<StoredTake>(
    `SELECT r.id, r.title, r.frames, r.sample_rate AS sampleRate, r.channel_count AS channelCount, t.cut_off AS cutOff, r.warnings
     FROM recording r JOIN take t ON t.recording_id = r.id WHERE r.state = 'ready' ORDER BY r.arrived_at, r.title`,
  );
}

/** A take's samples, channel by channel. */
export function samplesOf(
  session: Session,
  { id, channelCount }: Pick<StoredTake, 'id' | 'channelCount'>,
): Float32Array[] {
  const rows = session.ask<{ data: Buffer }>('SELECT data FROM pcm_block WHERE recording_id = ? ORDER BY ordinal', id);
  const bytes = Buffer.concat(rows.map(({ data }) => data));
  const floats = new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
  return Array.from({ length: channelCount }, (_, c) =>
    Float32Array.from({ length: floats.length / channelCount }, (_, i) => floats[i * channelCount + c] as number),
  );
}

/** Where in a looped sound some samples begin; null where they are no part of it. Compares to half a step of 16 bits. */
export function placeInLoop(samples: Float32Array, loop: Float32Array): number | null {
  const isAt = (at: number) => {
    for (let i = 0; i < samples.length; i++)
      if (Math.abs((samples[i] as number) - (loop[(at + i) % loop.length] as number)) > 2 ** -16) return false;
    return true;
  };
  for (let at = 0; at < loop.length; at++) if (isAt(at)) return at;
  return null;
}
