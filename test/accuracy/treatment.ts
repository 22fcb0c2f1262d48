import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Fft } from '../../src/core/kernel/fft';
import type { NoiseReduction } from '../../src/core/restoration/noise';
import { learnRoomTone, withoutRoom } from '../../src/core/restoration/reduce';
import { seededRandom } from '../../src/core/signal/random';
import { hann } from '../../src/core/signal/window';
import { RATE, renderNotes } from './fluid';
import { REPORT, requireDisjoint, TUNING } from './fonts';
import { normalNumbers } from './learning';
import { DRUMS } from './patterns';
import { quantile } from './score';

/**
 * `npm run treatment`: noise reduction on strokes of known truth (General MIDI percussion, RP-003) in noise of known level.
 * Signal to noise is that of the loudest 50 ms. The noise is learnt from another second of the same noise.
 */
const tuning = process.argv.includes('--tuning');
const folder = mkdtempSync(join(tmpdir(), 'undercroft-treatment-'));
requireDisjoint();
const KEYS = [35, 36, 38, 40, 37, 41, 45, 50, 42, 46, 49, 51, 56, 75];
const LEVELS = [15, 20, 30, 40] as const;
const NOISES = ['pink', 'fan', 'hum'] as const;
const SETTINGS: NoiseReduction = {
  amountDb: Number(option('--amount') ?? 24),
  marginDb: Number(option('--margin') ?? 2),
};
const LEAD = Math.round(0.1 * RATE);

function option(name: string): string | undefined {
  const at = process.argv.indexOf(name);
  return at < 0 ? undefined : process.argv[at + 1];
}

interface Result {
  readonly snr: number;
  readonly tail: number;
  readonly attack: number;
  readonly early: number;
  readonly late: number;
  readonly peak: number;
  readonly before: number;
  readonly kurtosis: number;
  /** Of what is left besides the clean sound, inside its tail. */
  readonly tailKurtosis: number;
}

const results: Result[] = [];
for (const fonts of Object.values(tuning ? TUNING : REPORT).slice(0, Number(option('--fonts') ?? 99)))
  for (const key of KEYS) {
    const note = { tick: 0, key, velocity: 100, channel: DRUMS, lengthTicks: 60 };
    const alone = renderNotes(fonts, [note], 120, 2.5, folder);
    const peak = alone.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    if (peak < 1e-4) continue;
    const onset = alone.findIndex((x) => Math.abs(x) > 0.01 * peak);
    const clean = new Float32Array(LEAD + Math.round(1.5 * RATE));
    clean.set(
      alone.subarray(onset, onset + clean.length - LEAD).map((x) => (0.5 * x) / peak),
      LEAD,
    );
    const loud = loudestPower(clean);
    for (const [n, kind] of NOISES.entries())
      for (const snr of LEVELS)
        results.push(measure(clean, kind, snr, Math.sqrt(loud) * 10 ** (-snr / 20), key * 100 + n * 10 + snr));
  }

const line = (name: string, values: readonly number[]) =>
  `${name} ${quantile(values, 0.5).toFixed(2)} (10 % ${quantile(values, 0.1).toFixed(2)}, 90 % ${quantile(values, 0.9).toFixed(2)})`;
console.log(
  `Noise reduction, ${results.length} takes, ${SETTINGS.amountDb} dB at most, margin ${SETTINGS.marginDb} dB; dB`,
);
for (const snr of LEVELS) {
  const some = results.filter((r) => r.snr === snr);
  console.log(
    `${snr} dB: ${line(
      'tail gains',
      some.map((r) => r.tail),
    )}; ${line(
      'first 5 ms',
      some.map((r) => r.attack),
    )}; ${line(
      'peak off',
      some.map((r) => Math.abs(r.peak)),
    )}`,
  );
  console.log(
    `       ${line(
      '20 ms before',
      some.map((r) => r.before),
    )}; ${line(
      'log kurtosis',
      some.map((r) => r.kurtosis),
    )}; in tails ${line('', some.map((r) => r.tailKurtosis).filter(Number.isFinite))}; 2 ms wrong ${line(
      'early',
      some.map((r) => r.early),
    )} ${line(
      'late',
      some.map((r) => r.late),
    )}`,
  );
}
rmSync(folder, { recursive: true });

function measure(clean: Float32Array, kind: (typeof NOISES)[number], snr: number, rms: number, seed: number): Result {
  const noise = noiseOf(kind, clean.length + RATE, rms, seed);
  const learnt = learnRoomTone({ sampleRate: RATE, channels: [noise.subarray(clean.length)] });
  if (!learnt) throw new Error('Too short.');
  const noisy = clean.map((x, i) => x + (noise[i] as number));
  const run = (onset: number) => withoutRoom(noisy, learnt, [onset], SETTINGS, RATE);
  const out = run(LEAD);
  const at = (ms: number) => LEAD + Math.round((ms / 1000) * RATE);
  const gain = (y: Float32Array, from: number, to: number) =>
    10 * Math.log10(error(noisy, clean, from, to) / (error(y, clean, from, to) + 1e-20));
  // The tail ends where the clean sound has sunk 20 dB under the noise.
  let end = clean.length;
  const step = 480;
  while (end > at(100) && power(clean, end - step, end) < (rms * rms) / 100) end -= step;
  const wrong = Math.round(0.002 * RATE);
  return {
    snr,
    tail: gain(out, at(50), end),
    attack: gain(out, at(0), at(5)),
    early: gain(run(LEAD - wrong), at(0), at(5)),
    late: gain(run(LEAD + wrong), at(0), at(5)),
    peak: 20 * Math.log10(peakOf(out) / peakOf(clean)),
    before: 10 * Math.log10(power(out, at(-20), at(0)) / power(noisy, at(-20), at(0))),
    tailKurtosis: Math.log(
      kurtosisOf(differenceOf(out, clean, at(50), end)) / kurtosisOf(differenceOf(noisy, clean, at(50), end)),
    ),
    kurtosis: Math.log(
      kurtosisOf(withoutRoom(noise.subarray(0, RATE), learnt, [], SETTINGS, RATE)) /
        kurtosisOf(noise.subarray(0, RATE)),
    ),
  };
}

function peakOf(x: Float32Array): number {
  return x.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
}

function differenceOf(x: Float32Array, truth: Float32Array, from: number, to: number): Float32Array {
  return x.subarray(from, to).map((v, i) => v - (truth[from + i] as number));
}

function power(x: Float32Array, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += (x[i] as number) ** 2;
  return sum / Math.max(1, to - from) + 1e-20;
}

function error(x: Float32Array, truth: Float32Array, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += ((x[i] as number) - (truth[i] as number)) ** 2;
  return sum;
}

function loudestPower(x: Float32Array): number {
  const size = Math.round(0.05 * RATE);
  let most = 0;
  for (let at = 0; at + size < x.length; at += size / 5)
    most = Math.max(most, power(x, Math.round(at), Math.round(at) + size));
  return most;
}

/** Kurtosis of the powers of a noise's spectrogram (Y. Uemura et al., "Automatic optimization scheme of spectral subtraction based on musical noise assessment via higher-order statistics", IWAENC 2008). */
function kurtosisOf(x: Float32Array): number {
  const size = 512;
  const fft = new Fft(size);
  const window = hann(size);
  const values: number[] = [];
  for (let at = 0; at + size <= x.length; at += size / 2) {
    const { re, im } = fft.forward(
      Float32Array.from({ length: size }, (_, i) => (x[at + i] as number) * (window[i] as number)),
    );
    for (let b = 4; b < size / 2; b++) values.push((re[b] as number) ** 2 + (im[b] as number) ** 2);
  }
  // Each bin by its own mean: colour is no music.
  const byBin = new Map<number, number[]>();
  for (const [i, v] of values.entries()) byBin.set(i % (size / 2 - 4), [...(byBin.get(i % (size / 2 - 4)) ?? []), v]);
  const all = [...byBin.values()].flatMap((bin) => {
    const mean = bin.reduce((a, b) => a + b, 0) / bin.length;
    return bin.map((v) => v / mean);
  });
  const moment = (k: number) => all.reduce((sum, v) => sum + v ** k, 0) / all.length;
  return moment(4) / moment(2) ** 2;
}

function noiseOf(kind: (typeof NOISES)[number], length: number, rms: number, seed: number): Float32Array {
  const normal = normalNumbers(seededRandom(seed));
  const out = new Float32Array(length);
  const rows = new Float64Array(12);
  let [low, band] = [0, 0];
  for (let i = 0; i < length; i++) {
    const white = normal();
    if (kind === 'pink') {
      const row = Math.min(rows.length - 1, i === 0 ? 0 : 31 - Math.clz32(i & -i));
      rows[row] = white;
      out[i] = rows.reduce((a, b) => a + b, 0);
    } else if (kind === 'fan') {
      // A resonance at 220 Hz over a hiss.
      low += 0.03 * (white - low - band);
      band += 0.03 * low;
      out[i] = 8 * low + 0.15 * white;
    } else {
      const t = (2 * Math.PI * 50 * i) / RATE;
      out[i] = 1.2 * Math.sin(t) + 0.5 * Math.sin(2 * t + 1) + 0.3 * Math.sin(3 * t + 2) + 0.25 * white;
    }
  }
  const own = Math.sqrt(power(out, 0, length));
  return out.map((x) => (x * rms) / own);
}
