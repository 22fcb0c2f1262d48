import { detectOnsets } from '../../../src/core/onset/detect';
import { selectOnsets, slicesFromOnsets } from '../../../src/core/onset/select';
import { SPLIT_INITIAL } from '../../../src/core/onset/split';
import { seededRandom } from '../../../src/core/signal/random';
import { RATE } from '../fluid';
import { normalNumbers } from '../learning';
import { DRUMS, type Group, type Note, type Pattern, pattern } from '../patterns';
import { HATS, type Loop, stemsOf, trueSlice } from './loops';
import { type Kit, kitSounds } from './percussion';

/**
 * Loops to learn from, mixed stroke by stroke: most fonts have one sample a drum, and no drum sounds the same twice. Every stroke is
 * coloured, a little longer or shorter and a little off in pitch, all by chance, and darker the softer it is.
 */
export function strokeLoop(kit: Kit, group: Group, seed: number, strength: number, folder: string): Loop {
  return strokesOf(kit, pattern(group, seed), strength, folder);
}

/** The same of any pattern. */
export function strokesOf(kit: Kit, { group, seed, notes, bpm }: Pattern, strength: number, folder: string): Loop {
  const drums = notes.filter((note) => note.channel === DRUMS);
  const sounds = kitSounds(kit, folder);
  const random = seededRandom(seed * 7919 + 13);
  const secondsPerTick = 60 / bpm / 480;
  const length = Math.round((Math.max(...drums.map((note) => note.tick)) * secondsPerTick + 2) * RATE);
  const stemOf = stemsOf(drums);
  const stems = new Map<string, Float32Array>();
  const frameOf = ({ tick }: Note) => Math.round(tick * secondsPerTick * RATE);
  for (const [i, note] of drums.entries()) {
    const layer = sounds(note.key, note.velocity);
    if (!layer) continue;
    const name = stemOf.get(note) as string;
    const stem = stems.get(name) ?? new Float32Array(length);
    stems.set(name, stem);
    const stroke = coloured(layer.samples, note.velocity, strength, random);
    const gain = (note.velocity / layer.velocity) ** LOUDER;
    const at = frameOf(note);
    const next = HATS.includes(note.key) ? drums.find((n, k) => k > i && HATS.includes(n.key)) : undefined;
    const until = next ? frameOf(next) - at : stroke.length;
    for (let k = 0; k < stroke.length && at + k < length; k++) {
      const fade = Math.max(0, Math.min(1, 1 - (k - until) / (CHOKE_S * RATE)));
      if (fade === 0) break;
      stem[at + k] = (stem[at + k] as number) + gain * fade * (stroke[k] as number);
    }
  }
  const samples = new Float32Array(length);
  for (const stem of stems.values())
    for (let i = 0; i < length; i++) samples[i] = (samples[i] as number) + (stem[i] as number);
  const found = selectOnsets(detectOnsets(samples, RATE), SPLIT_INITIAL, RATE);
  const slices = slicesFromOnsets(found, length).flatMap((region) => trueSlice(region, stemOf, stems, secondsPerTick));
  return {
    name: `${kit.name} ${group} ${seed} x${strength}`,
    group,
    bpm,
    samples,
    slices,
    downbeat: frameOf({ tick: 480 } as Note),
  };
}

/** Amplitude goes by this power of velocity. */
const LOUDER = 1.6;
const CHOKE_S = 0.02;
/** Standard deviations at strength 1: of three bells' gains in dB, of pitch in cents, of length in octaves; and how much darker the softest stroke is. */
const COLOUR_DB = 2.5;
const PITCH_CENTS = 8;
const LENGTH_OCTAVES = 0.15;
const SOFTEST_DB = 9;

/** One stroke, as another of the same drum would have been. */
function coloured(samples: Float32Array, velocity: number, strength: number, random: () => number): Float32Array {
  if (strength === 0) return samples;
  const normal = normalNumbers(random);
  const ratio = 2 ** ((normal() * PITCH_CENTS * strength) / 1200);
  let out: Float32Array = new Float32Array(Math.floor((samples.length - 1) / ratio));
  // Level falls faster or slower by a factor of its own fall, taken as 60 dB in the sound's length.
  const fall = ((2 ** (normal() * LENGTH_OCTAVES * strength) - 1) * Math.log(1000)) / samples.length;
  for (let i = 0; i < out.length; i++) {
    const at = i * ratio;
    const k = Math.floor(at);
    const x = (samples[k] as number) + (at - k) * ((samples[k + 1] as number) - (samples[k] as number));
    out[i] = x * Math.exp(-fall * i);
  }
  for (let n = 0; n < 3; n++)
    out = filtered(out, bell(100 * 2 ** (random() * 7), 0.7 + random(), normal() * COLOUR_DB * strength));
  return filtered(out, shelf(2500, -((1 - velocity / 127) ** 1.5) * SOFTEST_DB * Math.min(1, strength)));
}

type Biquad = readonly [b0: number, b1: number, b2: number, a1: number, a2: number];

/** Peaking equaliser and high shelf of R. Bristow-Johnson, "Cookbook formulae for audio equalizer biquad filter coefficients" (W3C note, 2021). */
function bell(hz: number, q: number, db: number): Biquad {
  const a = 10 ** (db / 40);
  const w = (2 * Math.PI * hz) / RATE;
  const alpha = Math.sin(w) / (2 * q);
  const a0 = 1 + alpha / a;
  return [
    (1 + alpha * a) / a0,
    (-2 * Math.cos(w)) / a0,
    (1 - alpha * a) / a0,
    (-2 * Math.cos(w)) / a0,
    (1 - alpha / a) / a0,
  ];
}

function shelf(hz: number, db: number): Biquad {
  const a = 10 ** (db / 40);
  const w = (2 * Math.PI * hz) / RATE;
  const [cos, beta] = [Math.cos(w), Math.sqrt(2 * a) * Math.sin(w)];
  const a0 = a + 1 - (a - 1) * cos + beta;
  return [
    (a * (a + 1 + (a - 1) * cos + beta)) / a0,
    (-2 * a * (a - 1 + (a + 1) * cos)) / a0,
    (a * (a + 1 + (a - 1) * cos - beta)) / a0,
    (2 * (a - 1 - (a + 1) * cos)) / a0,
    (a + 1 - (a - 1) * cos - beta) / a0,
  ];
}

function filtered(x: Float32Array, [b0, b1, b2, a1, a2]: Biquad): Float32Array {
  const out = new Float32Array(x.length);
  let [x1, x2, y1, y2] = [0, 0, 0, 0];
  for (let i = 0; i < x.length; i++) {
    const x0 = x[i] as number;
    const y0 = b0 * x0 + b1 * x1 + b2 * x2 - a1 * y1 - a2 * y2;
    out[i] = y0;
    [x2, x1, y2, y1] = [x1, x0, y1, y0];
  }
  return out;
}
