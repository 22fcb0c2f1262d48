import { joinBytes } from '@/core/format/bytes';
import { BYTES_PER_SAMPLE, type DecodeReport, decodeFrames, type PcmFormat } from '@/core/format/pcm';
import type { Candidate } from '@/core/onset/detect';
import { detectLong } from '@/core/onset/long';
import { selectOnsets } from '@/core/onset/select';
import { type AttackSplit, DEFAULT_SPLIT } from '@/core/onset/split';
import { type Audio, frameCount, peakOf, toMono } from '@/core/signal/audio';
import { decodeFile, type FileFindings } from '@/server/importing/decoding/decode-file';
import type { SharedRecording } from './listen';

export interface LoadedFile {
  readonly audio: Audio;
  readonly format: PcmFormat;
  readonly findings: FileFindings;
}

/** Reads a whole sound file of any kind into memory; what was mended on the way is said on standard error. */
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

/** Reads a whole sound file of any kind, folded to one channel as it comes in; what was mended on the way is said on standard error. */
export async function loadMono(path: string): Promise<MonoFile> {
  const pieces: Float32Array[] = [];
  let format: PcmFormat | null = null;
  let rest = new Uint8Array(0);
  let peak = 0;
  const report: DecodeReport = { notFinite: 0 };
  const findings = await decodeFile(path, {
    begin: (found) => {
      format = found;
    },
    take: (bytes) => {
      const { encoding, channelCount, sampleRate } = format as PcmFormat;
      const width = BYTES_PER_SAMPLE[encoding] * channelCount;
      const whole = rest.length === 0 ? bytes : joinBytes([rest, bytes]);
      const channels = decodeFrames(encoding, whole, channelCount, report);
      rest = whole.slice(Math.floor(whole.length / width) * width);
      peak = Math.max(peak, peakOf(channels));
      pieces.push(toMono({ sampleRate, channels }));
    },
  });
  for (const warning of findings.warnings) process.stderr.write(`${path}: ${warning}\n`);
  const frames = pieces.reduce((sum, piece) => sum + piece.length, 0);
  const samples = new SharedArrayBuffer(4 * Math.max(1, frames));
  const mono = new Float32Array(samples);
  let at = 0;
  for (const piece of pieces) {
    mono.set(piece, at);
    at += piece.length;
  }
  return { samples, frames, peak, sampleRate: (format as unknown as PcmFormat).sampleRate, findings };
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
  return { ...file, onsets: selectOnsets(candidates, { ...DEFAULT_SPLIT, ...wanted }, audio.sampleRate) };
}

/** Runs over files; one that fails is named on standard error and sets exit code 1, the others go on. */
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
