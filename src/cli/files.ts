import { statSync } from 'node:fs';
import { joinBytes } from '@/core/bytes';
import { foldFrames } from '@/core/format/fold';
import { bytesPerFrame, type DecodeReport, decodeFrames, type PcmFormat } from '@/core/format/pcm';
import type { Candidate } from '@/core/onset/detect';
import { detectLong } from '@/core/onset/long';
import { selectOnsets } from '@/core/onset/select';
import { type AttackSplit, SPLIT_INITIAL } from '@/core/onset/split';
import { type Audio, frameCount, peakOf, toMono } from '@/core/signal/audio';
import { decodeFile, type FileFindings } from '@/server/importing/decoding/decode-file';
import type { SharedRecording } from './listen';

export interface LoadedFile {
  readonly audio: Audio;
  readonly format: PcmFormat;
  readonly findings: FileFindings;
}

/** Reads a whole sound file of any kind into memory; repairs are reported on standard error. */
export async function loadFile(path: string): Promise<LoadedFile> {
  const pieces: Uint8Array[] = [];
  let format: PcmFormat | null = null;
  const findings = await decodeFile(path, {
    begin: (found) => {
      format = found;
    },
    take: (bytes) => pieces.push(bytes.slice()),
  });
  const { encoding, channelCount, sampleRate } = format as unknown as PcmFormat;
  const report: DecodeReport = { notFinite: 0 };
  const channels = decodeFrames(encoding, joinBytes(pieces), channelCount, report);
  for (const warning of findings.warnings) process.stderr.write(`${path}: ${warning}\n`);
  return { audio: { sampleRate, channels }, format: format as unknown as PcmFormat, findings };
}

/** A whole sound file as one channel, in memory that threads share. */
export interface MonoFile extends SharedRecording {
  readonly findings: FileFindings;
}

/** Reads a whole sound file of any kind, mixed to one channel as it is read; repairs are reported on standard error. */
export async function loadMono(path: string): Promise<MonoFile> {
  let format: PcmFormat | null = null;
  let rest = new Uint8Array(0);
  // Room for as many frames as an uncompressed file can hold; it grows for others.
  let mono = new Float32Array(new SharedArrayBuffer(0));
  let frames = 0;
  let peak = 0;
  const report: DecodeReport = { notFinite: 0 };
  const makeRoom = (wanted: number) => {
    if (wanted <= mono.length) return;
    const larger = new Float32Array(new SharedArrayBuffer(4 * Math.max(wanted, 2 * mono.length)));
    larger.set(mono.subarray(0, frames));
    mono = larger;
  };
  const findings = await decodeFile(path, {
    begin: (found) => {
      format = found;
      makeRoom(Math.ceil(statSync(path).size / bytesPerFrame(found)));
    },
    take: (bytes) => {
      const known = format as PcmFormat;
      const width = bytesPerFrame(known);
      const whole = rest.length === 0 ? bytes : joinBytes([rest, bytes]);
      const count = Math.floor(whole.length / width);
      makeRoom(frames + count);
      peak = Math.max(peak, foldFrames(known, whole, mono, frames, report));
      frames += count;
      rest = whole.slice(count * width);
    },
  });
  for (const warning of findings.warnings) process.stderr.write(`${path}: ${warning}\n`);
  makeRoom(1);
  const { sampleRate } = format as unknown as PcmFormat;
  return { samples: mono.buffer, frames, peak, sampleRate, findings };
}

/** Reads a sound file and finds its onsets as the application's defaults do. */
export async function loadWithOnsets(
  path: string,
  split: Partial<AttackSplit>,
): Promise<LoadedFile & { readonly onsets: readonly Candidate[] }> {
  const file = await loadFile(path);
  const { audio } = file;
  const mono = toMono(audio);
  const { sampleRate } = audio;
  const readMono = (start: number, end: number) => mono.subarray(start, end);
  const reference = peakOf(audio.channels);
  const candidates = detectLong({ readMono, totalFrames: frameCount(audio), sampleRate, reference });
  const wanted = Object.fromEntries(Object.entries(split).filter(([, value]) => value !== undefined));
  return { ...file, onsets: selectOnsets(candidates, { ...SPLIT_INITIAL, ...wanted }, audio.sampleRate) };
}

/** Runs over files; a failure is reported on standard error and sets exit code 1, the others continue. */
export async function eachFile(paths: readonly string[], work: (path: string) => Promise<void>): Promise<void> {
  for (const path of paths) {
    try {
      await work(path);
    } catch (error) {
      process.stderr.write(`${path}: ${(error as Error).message}\n`);
      process.exitCode = 1;
    }
  }
}
