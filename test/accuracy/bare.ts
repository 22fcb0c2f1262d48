import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { detectOnsets } from '../../src/core/onset/detect';
import { selectOnsets } from '../../src/core/onset/select';
import { SPLIT_INITIAL } from '../../src/core/onset/split';
import { overviewOf, type Stretch } from '../../src/core/overview/overview';
import { peakOf, toMono } from '../../src/core/signal/audio';
import { demoRecordings } from '../../src/demo/scenario';
import { RATE, renderNotes } from './fluid';
import { REPORT, requireDisjoint, TUNING } from './fonts';
import { song } from './songs';

/**
 * `npm run bare`: of the bars in which drums stand alone, how many the overview strip shows as bare (at least half of a
 * bar's inner part), and how many bars under music it claims falsely. Truth is the score that the song was rendered from.
 */
const tuning = process.argv.includes('--tuning');
const folder = mkdtempSync(join(tmpdir(), 'undercroft-bare-'));
requireDisjoint();
const seeds = tuning ? Array.from({ length: 18 }, (_, i) => i + 1) : [21, 22, 23, 24, 25, 26, 27, 28, 29, 30, 31, 32];
type Counts = Record<string, number>;
const total: Counts = {};
const add = (counts: Counts, name: string) => {
  counts[name] = (counts[name] ?? 0) + 1;
};
for (const [name, fonts] of Object.entries(tuning ? TUNING : REPORT)) {
  for (const seed of seeds) {
    const { notes, bpm, bars, programs, firstTick } = song(seed);
    const secondsPerTick = 60 / bpm / 480;
    const seconds = (firstTick + bars.length * 1920) * secondsPerTick + 2;
    const samples = renderNotes(fonts, notes, bpm, seconds, folder, [], programs);
    const kinds = kindsOf(samples, RATE);
    const counts: Counts = {};
    for (const [bar, truth] of bars.entries()) {
      const start = (firstTick + bar * 1920) * secondsPerTick;
      const found = barKind(kinds, start, start + 1920 * secondsPerTick);
      add(counts, `${truth} as ${found}`);
      add(total, `${truth} as ${found}`);
    }
    console.log(`${name} ${seed} (programs ${programs.map((p) => p[1]).join(' ')}): ${JSON.stringify(counts)}`);
  }
}
const of = (truth: string) =>
  Object.entries(total).reduce((sum, [name, n]) => sum + (name.startsWith(`${truth} as`) ? n : 0), 0);
console.log(JSON.stringify(total, null, 1));
const recall = (total['bare as bare'] ?? 0) / of('bare');
const falseBars = (total['under as bare'] ?? 0) + (total['tones as bare'] ?? 0) + (total['quiet as bare'] ?? 0);
const claimed = falseBars + (total['bare as bare'] ?? 0);
console.log(
  `Bare bars found: ${(recall * 100).toFixed(1)} % of ${of('bare')}; ${falseBars} of ${claimed} bars claimed are not bare (${((100 * falseBars) / Math.max(1, claimed)).toFixed(1)} %), of ${of('under') + of('tones') + of('quiet')} that are not.`,
);
const waltz = demoRecordings().find((r) => r.family === 'song');
if (waltz) {
  const { audio } = waltz;
  const mono = toMono(audio);
  const kinds = kindsOf(mono, audio.sampleRate);
  const barSeconds = (3 * 60) / 116;
  const found = Array.from({ length: 20 }, (_, bar) =>
    barKind(kinds, 0.1 + bar * barSeconds, 0.1 + (bar + 1) * barSeconds),
  );
  console.log(`The demo's song, bars 1 to 20 (9 to 12 are bare): ${found.join(' ')}`);
}
rmSync(folder, { recursive: true });

function kindsOf(samples: Float32Array, sampleRate: number): { stepSeconds: number; kind: readonly Stretch[] } {
  const marks = selectOnsets(detectOnsets(samples, sampleRate), SPLIT_INITIAL, sampleRate, true);
  return overviewOf(samples, sampleRate, marks, peakOf([samples]));
}

/** The kind that most steps of a bar have, its first and last eighth left out: what was before rings on into it. */
function barKind(strip: { stepSeconds: number; kind: readonly Stretch[] }, start: number, end: number): Stretch {
  const edge = (end - start) / 8;
  const counts = new Map<Stretch, number>();
  for (let s = Math.ceil((start + edge) / strip.stepSeconds); (s + 1) * strip.stepSeconds <= end - edge; s++) {
    const kind = strip.kind[s] as Stretch;
    counts.set(kind, (counts.get(kind) ?? 0) + 1);
  }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 'quiet';
}
