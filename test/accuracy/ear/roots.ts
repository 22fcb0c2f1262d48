import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import FFT from 'fft.js';
import { rootOf } from '../../../src/core/describe/root';
import { writeWav } from '../../../src/core/format/wav';
import { centsBetween, noteToHz } from '../../../src/core/signal/units';
import { hann } from '../../../src/core/signal/window';
import { RATE, renderNotes } from '../fluid';
import { cached } from './percussion';
import type { Guessed } from './score';

/**
 * Tuned percussion of the GM Level 1 sound set (MIDI Association RP-003), programs counted from 0, and the keys that its instruments
 * have: celesta, music box, vibraphone, marimba, xylophone, timpani, kalimba, steel drums. Tubular bells are left out: their strike
 * pitch is no partial of theirs.
 */
const PROGRAMS: readonly (readonly [program: number, low: number, high: number])[] = [
  [8, 60, 96],
  [9, 72, 96],
  [10, 60, 84],
  [11, 53, 84],
  [12, 48, 84],
  [13, 65, 96],
  [47, 41, 53],
  [108, 60, 84],
  [114, 55, 79],
];
const STEP = 3;
const NEAR_CENTS = 10;
const SPACE_S = 2;
/** A sustained program by which a font's own tuning is measured: church organ. */
const ORGAN = 19;
/** Settings of aubio's pitch tool that are tried: its methods. */
const METHODS = ['default', 'yin', 'yinfft', 'mcomb', 'fcomb', 'schmitt', 'specacf'];

interface Errors {
  readonly of: number;
  readonly near: number;
  readonly octaves: number;
}

/** How far roots are from equal temperament at A4 = 440 Hz (ISO 16), the font's own tuning of each key taken off; aubio's beside. */
export function reportRoots(
  fonts: readonly string[],
  name: string,
  folder: string,
): { ours: Errors; told: Guessed[]; default: Errors; best: Errors & { method: string } } {
  const organ = tuningOf(fonts, name, folder);
  const truths: number[] = [];
  const ours: (number | null)[] = [];
  const told: Guessed[] = [];
  const theirs = new Map<string, (number | null)[]>(METHODS.map((m) => [m, []]));
  for (const [program, low, high] of PROGRAMS) {
    const keys = Array.from({ length: Math.floor((high - low) / STEP) + 1 }, (_, i) => low + i * STEP);
    const notes = keys.map((key, i) => ({
      tick: i * SPACE_S * 960,
      key,
      velocity: 100,
      channel: 0,
      lengthTicks: 1500,
    }));
    const samples = cached(folder, `${name} roots ${program}`, () =>
      renderNotes(fonts, notes, 120, keys.length * SPACE_S + 1, folder, [], [[0, program]]),
    );
    const sounds = keys.map((_, i) => samples.subarray(i * SPACE_S * RATE, (i + 1) * SPACE_S * RATE));
    // A font may have an instrument, and within it the keys of one sample, higher or lower: that is no error of the listener.
    const own = keys.map((key, i) => peakNear(sounds[i] as Float32Array, noteToHz(key)));
    const middle = [...own].sort((x, y) => x - y)[Math.floor(own.length / 2)] as number;
    const offset = Math.abs(middle - organ) > ASTRAY ? organ : middle;
    for (const [i, key] of keys.entries()) {
      const sound = sounds[i] as Float32Array;
      const tuned = Math.abs((own[i] as number) - offset) > OWN_TUNING ? offset : (own[i] as number);
      const truth = noteToHz(key) * 2 ** (tuned / 1200);
      const root = rootOf(sound.subarray(0, 1.5 * RATE), RATE);
      truths.push(truth);
      ours.push(root?.hz ?? null);
      if (root) told.push({ confidence: root.clarity, right: Math.abs(centsBetween(root.hz, truth)) <= NEAR_CENTS });
      const path = join(folder, 'root.wav');
      writeFileSync(path, writeWav({ sampleRate: RATE, channels: [Float32Array.from(sound)] }, 'f32'));
      for (const method of METHODS) theirs.get(method)?.push(aubioPitch(path, method));
    }
  }
  const judged = (found: readonly (number | null)[]): Errors => {
    const cents = found.map((hz, i) => (hz === null ? null : centsBetween(hz, truths[i] as number)));
    return {
      of: found.length,
      near: cents.filter((c) => c !== null && Math.abs(c) <= NEAR_CENTS).length,
      octaves: cents.filter((c) => c !== null && Math.abs(c) > 600 && Math.abs(c - 1200 * Math.round(c / 1200)) < 60)
        .length,
    };
  };
  if (process.argv.includes('--wrong'))
    truths.forEach((hz, i) => {
      const own = ours[i] ?? null;
      if (own === null || Math.abs(centsBetween(own, hz)) > NEAR_CENTS)
        console.log(`  root ${i}: ${hz.toFixed(1)} Hz told ${own?.toFixed(1) ?? 'none'}`);
    });
  const all = METHODS.map((method) => ({ method, ...judged(theirs.get(method) ?? []) }));
  return {
    ours: judged(ours),
    told,
    default: all[0] as Errors,
    best: all.reduce((a, b) => (b.near > a.near ? b : a)),
  };
}

/** Cents that a font's organ lies over 440 Hz at A4. */
function tuningOf(fonts: readonly string[], name: string, folder: string): number {
  const note = { tick: 0, key: 69, velocity: 100, channel: 0, lengthTicks: 3000 };
  const samples = cached(folder, `${name} organ`, () => renderNotes(fonts, [note], 120, 3, folder, [], [[0, ORGAN]]));
  return peakNear(samples, 440);
}

/** No instrument is further from its font's tuning than this on purpose, in cents. */
const ASTRAY = 40;
/** Nor any key further from its instrument's: a peak beyond that is another partial. */
const OWN_TUNING = 25;
const REACH_CENTS = 80;

/** Cents over a frequency at which the highest peak near it lies, by a long spectrum from a tenth of a second on. */
function peakNear(samples: Float32Array, hz: number): number {
  const size = 65536;
  const length = 32768;
  const window = hann(length);
  const input = new Float64Array(2 * size);
  for (let i = 0; i < length; i++) input[2 * i] = (window[i] as number) * (samples[i + RATE / 10] ?? 0);
  const output = new Float64Array(2 * size);
  new FFT(size).transform(output, input);
  const level = (k: number) => Math.log(Math.hypot(output[2 * k] as number, output[2 * k + 1] as number) + 1e-12);
  const at = (cents: number) => Math.round((hz * 2 ** (cents / 1200) * size) / RATE);
  let best = at(-REACH_CENTS);
  for (let k = best; k <= at(REACH_CENTS); k++) if (level(k) > level(best)) best = k;
  const [l, m, r] = [level(best - 1), level(best), level(best + 1)];
  return centsBetween(((best + (0.5 * (l - r)) / (l - 2 * m + r)) * RATE) / size, hz);
}

/** The median of what aubio's pitch tool tells of the first second after the attack. */
function aubioPitch(path: string, method: string): number | null {
  const told = execFileSync('aubiopitch', ['-i', path, '-H', '256', ...(method === 'default' ? [] : ['-p', method])], {
    encoding: 'utf8',
  });
  const hz = told
    .split('\n')
    .map((line) => line.split(/\s+/).map(Number))
    .filter(([t, f]) => (t ?? 0) > 0.05 && (t ?? 9) < 1 && (f ?? 0) > 20)
    .map(([, f]) => f as number)
    .sort((a, b) => a - b);
  return hz.length === 0 ? null : (hz[Math.floor(hz.length / 2)] as number);
}
