import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { chancesOf } from '../../src/core/describe/chances';
import { Describer } from '../../src/core/describe/description';
import { hear, type ListenedSlice } from '../../src/core/describe/hearing';
import { readWav } from '../../src/core/format/wav';
import type { Candidate } from '../../src/core/onset/detect';
import { detectLong } from '../../src/core/onset/long';
import { applyMarks, type Mark, type NewMark } from '../../src/core/onset/marks';
import { resplit } from '../../src/core/onset/resplit';
import { selectOnsets, slicesFromOnsets } from '../../src/core/onset/select';
import { SPLIT_INITIAL } from '../../src/core/onset/split';
import { peakOf, toMono } from '../../src/core/signal/audio';
import { seededRandom } from '../../src/core/signal/random';
import { undercroft } from '../harness';
import { writeLongWav } from './audio';
import { median, p95, type Row, seconds, timed } from './rows';

/** Onsets of ten minutes by the command line, beside aubio's onset tool on the same file. */
export function analysisRow(folder: string): Row {
  const path = join(folder, 'ten-minutes.wav');
  writeLongWav(path, { seconds: 600, sampleRate: 44100, channelCount: 2, encoding: 's16' });
  const aubio = () => execFileSync('aubioonset', ['-r', '0', path], { stdio: ['ignore', 'pipe', 'ignore'] });
  // In turn, so that what else the machine does falls on both alike.
  const times = Array.from({ length: 9 }).map(
    () => [timed(() => undercroft('onsets', path, '--json')), timed(aubio)] as const,
  );
  const ours = median(times.map(([own]) => own));
  const theirs = median(times.map(([, other]) => other));
  return {
    what: 'onset analysis, 10 min stereo 44.1 kHz',
    figure: seconds(ours),
    beside: `aubioonset ${seconds(theirs)}, ratio ${(ours / theirs).toFixed(2)}`,
    floor: 'no slower than aubioonset',
    met: ours <= theirs,
  };
}

/** Listening to 500 slices of ten minutes, each alone and then together, on one thread; the analysis is not part of it. */
export function describingRow(folder: string): Row {
  const path = join(folder, 'ten-minutes.wav');
  if (!existsSync(path)) writeLongWav(path, { seconds: 600, sampleRate: 44100, channelCount: 2, encoding: 's16' });
  const { audio } = readWav(readFileSync(path));
  const { sampleRate } = audio;
  const mono = toMono(audio);
  const candidates = detectLong({
    readMono: (start, end) => mono.subarray(start, end),
    totalFrames: mono.length,
    sampleRate,
    reference: peakOf(audio.channels),
  });
  const marks = selectOnsets(candidates, { ...SPLIT_INITIAL, strongest: 500 }, sampleRate);
  const regions = slicesFromOnsets(marks, mono.length);
  const recording = { candidates, sampleRate };
  const describer = new Describer(sampleRate);
  let slices: ListenedSlice[] = [];
  const alone = timed(() => {
    slices = regions.map((region) => {
      const figures = describer.describe(mono, region.startFrame, region.endFrame);
      return { ...region, figures, chances: chancesOf(figures), family: null, shelf: null };
    });
  });
  const together = timed(() => hear(slices, () => recording));
  return {
    what: `describing ${regions.length} slices of 10 min`,
    figure: seconds(alone + together),
    beside: `${seconds(alone)} each alone, ${seconds(together)} together`,
    floor: 'under 5 s',
    met: alone + together < 5000,
  };
}

/** What a move of the sensitivity costs before it is drawn: selecting among 2,000 candidates and applying the change. */
export function sensitivityRow(): Row {
  const random = seededRandom(2000);
  const rate = 44100;
  const frames = 600 * rate;
  const candidates = Array.from({ length: 2000 }, (_, i): Candidate => {
    const frame = Math.floor((i / 2000) * frames);
    return { frame, strength: random(), decayEnd: frame + 20_000, peak: 0.5, low: 0, mid: 0, high: 0, click: false };
  });
  const heard = { sampleRate: rate, totalFrames: frames, candidates, levels: null, tempo: null, fileMarks: [] };
  const make = (mark: NewMark, i: number): Mark => ({ ...mark, id: `new-${i}`, locked: false, keepFrame: null });
  const split = (marks: readonly Mark[], sensitivity: number) =>
    applyMarks(marks, resplit(marks, { ...SPLIT_INITIAL, sensitivity }, heard), make);
  const stored = split([], 0.5);
  const moves = Array.from({ length: 200 }, (_, i) => timed(() => split(stored, i / 200)));
  return {
    what: 'sensitivity drag, 10 min with 2,000 candidates',
    figure: `${p95(moves).toFixed(1)} ms a move (95 %)`,
    beside: `median ${median(moves).toFixed(1)} ms`,
    floor: 'under 30 ms',
    met: p95(moves) < 30,
  };
}
