import { readFileSync } from 'node:fs';
import { readWav } from '@/core/format/wav';
import type { WavReport } from '@/core/format/wav-stream';
import { type Candidate, detectOnsets } from '@/core/onset/detect';
import { type AttackSplit, DEFAULT_SPLIT, selectOnsets } from '@/core/onset/select';
import { type Audio, toMono } from '@/core/signal/audio';

export interface LoadedFile {
  readonly audio: Audio;
  readonly report: WavReport;
  readonly onsets: readonly Candidate[];
}

/** Reads a WAV file and finds its onsets as the application's defaults do. */
export function loadWithOnsets(path: string, split: Partial<AttackSplit>): LoadedFile {
  const { audio, report } = readWav(readFileSync(path));
  for (const warning of report.warnings) process.stderr.write(`${path}: ${warning}\n`);
  const candidates = detectOnsets(toMono(audio), audio.sampleRate);
  const wanted = Object.fromEntries(Object.entries(split).filter(([, value]) => value !== undefined));
  return { audio, report, onsets: selectOnsets(candidates, { ...DEFAULT_SPLIT, ...wanted }, audio.sampleRate) };
}

/** Runs over files; one that fails is named on standard error and sets exit code 1, the others go on. */
export function eachFile(paths: readonly string[], work: (path: string) => void): void {
  for (const path of paths) {
    try {
      work(path);
    } catch (error) {
      process.stderr.write(`${path}: ${(error as Error).message}\n`);
      process.exitCode = 1;
    }
  }
}
