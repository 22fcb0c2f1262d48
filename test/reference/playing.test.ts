import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { readWav } from '../../src/core/format/wav';
import { writeMidiFile } from '../../src/core/midi/write';
import { VoiceEngine } from '../../src/core/play/engine';
import { PLAIN_LAYER, SILENT } from '../../src/core/play/program';
import { toMono } from '../../src/core/signal/audio';
import { seededRandom } from '../../src/core/signal/random';
import { pitchRatio } from '../../src/core/signal/units';
import { remove, scratch } from '../harness';

/** A drum of a font: a mono sound on a key. */
interface FontDrum {
  readonly key: number;
  readonly samples: Float32Array;
  readonly sampleRate: number;
  readonly cents: number;
}

const RATE = 48_000;
let folder: string;
beforeAll(() => {
  folder = scratch();
});
afterAll(() => remove(folder));

/** A drum of noise and tone that dies away within a third of a second. */
function drum(seed: number, hz: number): Float32Array {
  const random = seededRandom(seed);
  return Float32Array.from({ length: 16_000 }, (_, i) => {
    const tone = Math.sin((2 * Math.PI * hz * i) / RATE);
    return 0.6 * (0.7 * tone + 0.3 * (2 * random() - 1)) * Math.exp(-i / 2500);
  });
}

const DRUMS: readonly FontDrum[] = [
  { key: 36, samples: drum(1, 80), sampleRate: RATE, cents: 0 },
  { key: 38, samples: drum(2, 220), sampleRate: RATE, cents: 300 },
  { key: 45, samples: drum(3, 140), sampleRate: RATE, cents: -500 },
  { key: 49, samples: drum(4, 900), sampleRate: 44_100, cents: 50 },
];

/**
 * Each half a second apart, at multiples of its 64 frames: fluidsynth begins notes there alone. Every drum at five
 * velocities.
 */
const NOTES = Array.from({ length: 20 }, (_, i) => ({
  seconds: 0.5 + i * 0.5,
  drum: i % DRUMS.length,
  velocity: [127, 100, 80, 56, 30][Math.floor(i / DRUMS.length)] as number,
}));

function played(): Float32Array {
  const total = DRUMS.reduce((sum, { samples }) => sum + samples.length, 0);
  const memory = new Float32Array(total);
  const engine = new VoiceEngine(RATE, memory);
  let at = 0;
  for (const [pad, { samples, sampleRate, cents }] of DRUMS.entries()) {
    memory.set(samples, at);
    const place = { left: at, right: at, start: 0, end: samples.length };
    const ratio = (sampleRate / RATE) * pitchRatio(0, cents);
    engine.setPad(pad, { ...SILENT, layers: [{ ...PLAIN_LAYER, ...place, ratio }] });
    at += samples.length;
  }
  for (const { seconds, drum: pad, velocity } of NOTES) engine.strike(pad, velocity, Math.round(seconds * RATE));
  const [left, right] = [new Float32Array(11 * RATE), new Float32Array(11 * RATE)];
  engine.process(left, right, left.length);
  return left;
}

function renderedOutside(): Float32Array {
  const [drums, font, midi, wav] = ['drums.json', 'drums.sf2', 'notes.mid', 'notes.wav'].map((name) =>
    join(folder, name),
  ) as [string, string, string, string];
  const floats = (samples: Float32Array) => Buffer.from(samples.buffer).toString('base64');
  writeFileSync(drums, JSON.stringify(DRUMS.map(({ samples, ...drum }) => ({ ...drum, floats: floats(samples) }))));
  execFileSync(process.execPath, [join(process.cwd(), 'test/soundfont.mjs'), drums, font]);
  const messages = NOTES.flatMap(({ seconds, drum: d, velocity }) => {
    const note = (DRUMS[d] as FontDrum).key;
    return [
      { seconds, message: { kind: 'note-on', channel: 9, note, velocity } as const },
      { seconds: seconds + 0.45, message: { kind: 'note-off', channel: 9, note, velocity: 64 } as const },
    ];
  });
  writeFileSync(midi, writeMidiFile(messages, 120));
  const options = ['-ni', '-R', '0', '-C', '0', '-g', '1', '-r', String(RATE), '-O', 'float', '-T', 'wav', '-F', wav];
  execFileSync('fluidsynth', [...options, font, midi], { stdio: 'ignore' });
  return toMono(readWav(readFileSync(wav)).audio);
}

test('the same notes through fluidsynth from an equivalent SoundFont agree in onset and in level', () => {
  const [own, other] = [played(), renderedOutside()];
  const heard = (samples: Float32Array) =>
    NOTES.map(({ seconds }) => {
      const from = Math.round((seconds - 0.1) * RATE);
      const part = samples.subarray(from, from + 0.5 * RATE);
      const peak = Math.max(...part.map(Math.abs));
      let energy = 0;
      for (const x of part) energy += x * x;
      return { onset: from + part.findIndex((x) => Math.abs(x) > 0.05 * peak), db: 10 * Math.log10(energy) };
    });
  const [mine, theirs] = [heard(own), heard(other)];
  const lead = (theirs[0]?.onset ?? 0) - (mine[0]?.onset ?? 0);
  const louder = (theirs[0]?.db ?? 0) - (mine[0]?.db ?? 0);
  let [worstMs, worstDb] = [0, 0];
  for (const [i, note] of mine.entries()) {
    const their = theirs[i] as (typeof theirs)[number];
    worstMs = Math.max(worstMs, Math.abs(((their.onset - note.onset - lead) / RATE) * 1000));
    worstDb = Math.max(worstDb, Math.abs(their.db - note.db - louder));
  }
  expect(worstMs).toBeLessThan(1);
  expect(worstDb).toBeLessThan(0.2);
});
