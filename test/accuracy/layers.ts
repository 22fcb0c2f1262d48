import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { linedUp } from '../../src/core/layering/taken';
import { seededRandom } from '../../src/core/signal/random';
import { fromDb } from '../../src/core/signal/units';
import { RATE, renderNotes } from './fluid';
import { REPORT, requireDisjoint } from './fonts';
import { normalNumbers } from './learning';
import { DRUMS } from './patterns';
import { quantile } from './score';

/**
 * `npm run layers`: lining up recorded one-shots (General MIDI percussion, RP-003) by their attacks, against their measured
 * starts: the first frame of the clean sound that reaches a hundredth of its peak (the rule of -40 dB, common practice).
 * Each lies somewhere in its file, in noise of a level under its peak, or in silence.
 */
const folder = mkdtempSync(join(tmpdir(), 'undercroft-layers-'));
requireDisjoint();
const KEYS = [35, 36, 38, 40, 37, 39, 41, 45, 50, 42, 46, 49, 51, 54, 56, 75, 76];
const NOISES_DB = [Number.NEGATIVE_INFINITY, -60, -45] as const;
const PAIRS = 400;
const START = 0.01;

interface Shot {
  readonly samples: Float32Array;
  /** Where it starts, in its own frames. */
  readonly start: number;
}

const shots: Shot[] = [];
for (const fonts of Object.values(REPORT))
  for (const key of KEYS) {
    const note = { tick: 0, key, velocity: 100, channel: DRUMS, lengthTicks: 60 };
    const alone = renderNotes(fonts, [note], 120, 1.5, folder);
    const peak = alone.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    if (peak < 1e-4) continue;
    const samples = alone.map((x) => (0.5 * x) / peak);
    shots.push({ samples, start: samples.findIndex((x) => Math.abs(x) >= START * 0.5) });
  }
rmSync(folder, { recursive: true, force: true });

const random = seededRandom(20);
const normal = normalNumbers(random);
const shotAt = (n: number) => shots[n % shots.length] as Shot;

/** A shot later in its file, in noise; and where it starts there. */
function laid({ samples, start }: Shot, noiseDb: number): Shot {
  const lead = Math.round((0.02 + 0.08 * random()) * RATE);
  // Peaks of normal noise lie about 10 dB over its root mean square.
  const level = Number.isFinite(noiseDb) ? 0.5 * fromDb(noiseDb - 10) : 0;
  const out = new Float32Array(samples.length + lead).map(() => level * normal());
  for (const [i, x] of samples.entries()) out[lead + i] = (out[lead + i] as number) + x;
  return { samples: out, start: lead + start };
}

for (const noiseDb of NOISES_DB) {
  const errors: number[] = [];
  for (let n = 0; n < PAIRS; n++) {
    const pair = [shotAt(Math.floor(random() * 1e6)), shotAt(Math.floor(random() * 1e6))].map((shot) =>
      laid(shot, noiseDb),
    );
    const [a, b] = pair as [Shot, Shot];
    const sound = (shot: Shot) => ({
      ...{
        audio: { sampleRate: RATE, channels: [shot.samples] },
        offsetFrames: 0,
        levelDb: 0,
        pan: 0,
        inverted: false,
      },
    });
    const found = linedUp([sound(a), sound(b)])[1]?.offsetFrames ?? 0;
    errors.push((1000 * Math.abs(found - (a.start - b.start))) / RATE);
  }
  errors.sort((a, b) => a - b);
  const within = (ms: number) => `${((100 * errors.filter((x) => x <= ms).length) / errors.length).toFixed(1)} %`;
  console.log(
    `noise ${Number.isFinite(noiseDb) ? `${noiseDb} dB under the peak` : 'none'}: median ${quantile(errors, 0.5).toFixed(3)} ms, 90 % ${quantile(errors, 0.9).toFixed(3)} ms, within 1 ms ${within(1)} (${errors.length} pairs of ${shots.length} shots)`,
  );
}
