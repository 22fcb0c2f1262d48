import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { readWav, writeWav } from '../../src/core/format/wav';
import { toMono } from '../../src/core/signal/audio';
import { seededRandom } from '../../src/core/signal/random';
import { RATE, renderNotes } from './fluid';
import { DRUMS, GROUPS, type Group, type Note, PROGRAMS, pattern } from './patterns';

/** A true onset: the first frame of the note, rendered alone, above -40 dB of its own peak. */
export interface TrueOnset {
  readonly seconds: number;
  /** The same at -60 dB. */
  readonly secondsAt60: number;
  /** How much the note raises the mix over its first 20 ms, in dB. */
  readonly raisesDb: number;
  /** Whether a drum was struck; else it is a note of the music that the drums play under. */
  readonly struck: boolean;
}

export interface Item {
  readonly name: string;
  readonly group: Group;
  readonly wavPath: string;
  readonly samples: Float32Array;
  readonly sampleRate: number;
  /** Where drums and music begin together, the drum's start counts: it is what is cut. */
  readonly truth: readonly TrueOnset[];
  /** The same with the notes of the music as onsets among the others. */
  readonly truthOfAll: readonly TrueOnset[];
}

type Truth = Pick<Item, 'truth' | 'truthOfAll'>;

type Render = (notes: readonly Note[], silenceBefore: readonly number[]) => Float32Array;

/** Notes nearer than this are one onset to the ear and to every tool; the earliest stands for them. */
export const ONE_ONSET_S = 0.012;

/** Renders an item with its truth into `folder`, or reads it back when it is there already. */
export function makeItem(
  fontName: string,
  fonts: readonly string[],
  group: Group,
  seed: number,
  folder: string,
  drumProgram = 0,
): Item {
  const kit = drumProgram === 0 ? '' : ` kit ${drumProgram}`;
  const name = `${fontName}${kit} ${group} ${seed}`;
  const wavPath = join(folder, `${name.replaceAll(' ', '-')}.wav`);
  const kept = `${wavPath}.json`;
  if (existsSync(kept)) {
    const { audio } = readWav(readFileSync(wavPath));
    const truth = JSON.parse(readFileSync(kept, 'utf8')) as Truth;
    return { name, group, wavPath, samples: toMono(audio), sampleRate: audio.sampleRate, ...truth };
  }
  const { notes, bpm } = pattern(group, seed);
  const secondsPerTick = 60 / bpm / 480;
  const last = notes.at(-1) as Note;
  const seconds = last.tick * secondsPerTick + 2.5;
  const render: Render = (some, silenceBefore) =>
    renderNotes(fonts, some, bpm, seconds, folder, silenceBefore, [...PROGRAMS, [DRUMS, drumProgram]]);
  const clean = render(notes, []);
  // The room is part of the mix that a note must raise: what lies under it can be heard by no one.
  const mix = group === 'field takes' ? withNoise(clean, seed) : clean;
  const truth = trueOnsets(render, notes, bpm, mix);
  let samples: Float32Array = mix;
  let sampleRate = RATE;
  writeFileSync(wavPath, writeWav({ sampleRate, channels: [samples] }, 's16'));
  if (group === 'degraded') {
    const way = ['mp3', 'low rate', '8 bits'][seed % 3];
    const other = join(folder, `other.${way === 'mp3' ? 'mp3' : 'wav'}`);
    const back = join(folder, 'back.wav');
    if (way === 'mp3') {
      execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', wavPath, '-b:a', '96k', other]);
      execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', other, back]);
    } else if (way === 'low rate') {
      execFileSync('sox', ['-R', wavPath, back, 'rate', '-v', '22050']);
    } else execFileSync('sox', ['-R', wavPath, '-b', '8', back]);
    const file = readFileSync(back);
    writeFileSync(wavPath, file);
    const { audio } = readWav(file);
    samples = toMono(audio);
    sampleRate = audio.sampleRate;
  }
  samples = toMono(readWav(readFileSync(wavPath)).audio);
  writeFileSync(kept, JSON.stringify(truth));
  return { name, group, wavPath, samples, sampleRate, ...truth };
}

/** Pink-like noise (one-pole filtered) 66 dB under full scale, as the tone of a quiet room. */
function withNoise(samples: Float32Array, seed: number): Float32Array {
  const random = seededRandom(seed + 4000);
  let state = 0;
  return samples.map((x) => {
    state = 0.97 * state + 0.03 * (random() * 2 - 1) * 6;
    return x + state * 0.0005;
  });
}

/**
 * Renders each note alone at its own tick. Several notes share a render where at least 0.6 s part them; everything that
 * sounds is cut just before each note, so that none is heard under another.
 */
function trueOnsets(render: Render, notes: readonly Note[], bpm: number, mix: Float32Array): Truth {
  const secondsPerTick = 60 / bpm / 480;
  const apart = 0.6 / secondsPerTick;
  const cutTicks = Math.ceil(0.03 / secondsPerTick);
  const passes: Note[][] = [];
  for (const note of notes) {
    const pass = passes.find((p) => note.tick - (p.at(-1) as Note).tick >= apart);
    if (pass) pass.push(note);
    else passes.push([note]);
  }
  const found: { start: number; startAt60: number; alone: Float32Array; struck: boolean }[] = [];
  for (const pass of passes) {
    const alone = render(
      pass,
      pass.map((n) => Math.max(0, n.tick - cutTicks)),
    );
    for (const note of pass) {
      const from = Math.max(0, Math.floor((note.tick * secondsPerTick - 0.012) * RATE));
      const to = Math.min(alone.length, from + Math.round(0.5 * RATE));
      let peak = 0;
      for (let i = from; i < to; i++) peak = Math.max(peak, Math.abs(alone[i] as number));
      if (peak < 1e-5) continue;
      const above = (level: number) => {
        let i = from;
        while (i < to && Math.abs(alone[i] as number) <= level) i++;
        return i;
      };
      const start = above(peak * 0.01);
      found.push({ start, startAt60: above(peak * 0.001), alone, struck: note.channel === DRUMS });
    }
  }
  found.sort((a, b) => a.start - b.start);
  const onsets = found.map(({ start, startAt60, alone, struck }, i): TrueOnset => {
    // A quiet note just before a loud one is heard until the loud one comes.
    const next = found.slice(i + 1).find((other) => other.start > start + 0.001 * RATE)?.start ?? mix.length;
    const raisesDb = rise(mix, alone, start, Math.min(next, start + Math.round(0.02 * RATE)));
    return { seconds: start / RATE, secondsAt60: startAt60 / RATE, raisesDb, struck };
  });
  return { truth: merged(onsets, true), truthOfAll: merged(onsets, false) };
}

/** Onsets that are one to the ear as one: the earliest of the drums' where `drumsFirst`, else the earliest of all. */
function merged(onsets: readonly TrueOnset[], drumsFirst: boolean): TrueOnset[] {
  const list: TrueOnset[] = [];
  for (const onset of onsets) {
    const previous = list.at(-1);
    if (!previous || onset.seconds - previous.seconds >= ONE_ONSET_S) {
      list.push(onset);
      continue;
    }
    // A note that hardly adds to the mix does not move the onset of one that does.
    const [stays, comes] = [previous.raisesDb >= 1, onset.raisesDb >= 1];
    const drumComes = drumsFirst && onset.struck && !previous.struck && comes;
    const musicComes = drumsFirst && !onset.struck && previous.struck && stays;
    if (drumComes) list[list.length - 1] = onset;
    else if (musicComes || onset.raisesDb <= previous.raisesDb) continue;
    else list[list.length - 1] = stays ? { ...previous, raisesDb: onset.raisesDb } : onset;
  }
  return list;
}

function rise(mix: Float32Array, alone: Float32Array, start: number, end: number): number {
  let withNote = 1e-12;
  let without = 1e-12;
  for (let i = start; i < Math.min(mix.length, end); i++) {
    withNote += (mix[i] as number) ** 2;
    without += ((mix[i] as number) - (alone[i] as number)) ** 2;
  }
  return 10 * Math.log10(withNote / without);
}

export function makeItems(
  set: Readonly<Record<string, readonly string[]>>,
  seeds: readonly number[],
  folder: string,
): Item[] {
  return Object.entries(set).flatMap(([name, fonts]) =>
    GROUPS.flatMap((group) => seeds.map((seed) => makeItem(name, fonts, group, seed, folder))),
  );
}
