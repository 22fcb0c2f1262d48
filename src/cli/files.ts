import { joinBytes } from '@/core/format/bytes';
import { type DecodeReport, decodeFrames, type PcmFormat } from '@/core/format/pcm';
import { type Candidate, detectOnsets } from '@/core/onset/detect';
import { selectOnsets } from '@/core/onset/select';
import { type AttackSplit, DEFAULT_SPLIT } from '@/core/onset/split';
import { type Audio, toMono } from '@/core/signal/audio';
import { decodeFile, type FileFindings } from '@/server/importing/decoding/decode-file';

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

/** Reads a sound file and finds its onsets as the application's defaults do. */
export async function loadWithOnsets(
  path: string,
  split: Partial<AttackSplit>,
): Promise<LoadedFile & { readonly onsets: readonly Candidate[] }> {
  const file = await loadFile(path);
  const { audio } = file;
  const candidates = detectOnsets(toMono(audio), audio.sampleRate);
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
