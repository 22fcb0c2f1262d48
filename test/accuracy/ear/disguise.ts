import { envelopeOf } from '../../../src/core/describe/envelope';
import { networkInputs } from '../../../src/core/describe/network-inputs';
import { rootOf } from '../../../src/core/describe/root';
import { BANDS, Sketcher } from '../../../src/core/describe/sketch';
import { textureOf } from '../../../src/core/describe/texture';
import { RATE } from '../fluid';

/** Ways in which recordings have sounds otherwise than kits do, for networks to learn to hear through. */
export type Chance = () => number;

/** Frames that lie before a sound in a mixture, for what rings on into it. */
export const BEFORE = 3000;
/** What is listened to, and so made, at most. */
export const LONGEST = RATE * 2;
/** Loudness is compared over this much of the beginning. */
const EARLY = RATE * 0.15;

export function between(low: number, high: number, random: Chance): number {
  return low + (high - low) * random();
}

export function pick<T>(list: readonly T[], random: Chance): T {
  return list[Math.floor(random() * list.length)] as T;
}

/** Energy of a sound's beginning. */
export function energy(x: Float32Array): number {
  let sum = 1e-12;
  for (let i = 0; i < Math.min(EARLY, x.length); i++) sum += (x[i] as number) ** 2;
  return sum;
}

export function add(into: Float32Array, at: number, x: Float32Array, gain: number): void {
  for (let i = 0; i < x.length && at + i < into.length; i++)
    into[at + i] = (into[at + i] as number) + gain * (x[i] as number);
}

/** What a sound is to be multiplied by to have so many decibels against an energy. */
export function gainOver(own: number, x: Float32Array, db: number): number {
  return Math.sqrt(own / energy(x)) * 10 ** (db / 20);
}

/** Noise of a room under a sound whose beginning has an energy. */
export function addRoom(into: Float32Array, own: number, random: Chance): void {
  const level = Math.sqrt(own / EARLY) * 10 ** (between(-60, -25, random) / 20);
  for (let i = 0; i < into.length; i++) into[i] = (into[i] as number) + level * 3.5 * (random() - 0.5);
}

/** Played faster or slower, by linear interpolation; tilted by a first difference mixed in or a running mean. */
export function altered(samples: Float32Array, random: Chance): Float32Array {
  const ratio = 2 ** (between(-3, 3, random) / 12);
  const length = Math.floor((samples.length - 1) / ratio);
  const tilt = between(-0.5, 0.5, random);
  const out = new Float32Array(Math.min(length, LONGEST));
  let previous = 0;
  for (let i = 0; i < out.length; i++) {
    const at = i * ratio;
    const k = Math.floor(at);
    const x = (samples[k] as number) + (at - k) * ((samples[k + 1] as number) - (samples[k] as number));
    out[i] = x - tilt * previous;
    previous = x;
  }
  return out;
}

const sketcher = new Sketcher(RATE);

/** What networks are shown of the sound in a mixture that begins at `BEFORE`: cut a little early or late, and often short; whole where it is `plain`. */
export function shownOf(mix: Float32Array, plain: boolean, random: Chance): Float32Array {
  const start = plain ? BEFORE : BEFORE + Math.round(between(-0.0015, 0.0015, random) * RATE);
  const end =
    plain || random() < 0.4
      ? mix.length
      : Math.min(mix.length, start + Math.round(0.06 * 2 ** between(0, 4.5, random) * RATE));
  const heard = mix.subarray(start, end);
  return networkInputs({
    sketch: sketcher.sketch(mix, start, end),
    texture: textureOf(heard, RATE),
    envelope: envelopeOf(heard, RATE),
    root: rootOf(heard, RATE),
    seconds: heard.length / RATE,
  });
}

/** Strength of what is varied: logarithms of power over wide bands, a group of cells and narrow bands, bands, and the other figures. */
const TILT = 1.2;
const FALL = 0.25;
const GRAIN = 1;
const SHIFT = 1.4;
const JITTER = 0.6;

/** Varies what a network is shown, another way each time. Other ears, rooms and skins: levels of neighbouring bands move together, and all fall faster or slower. */
export function another(values: Float64Array, random: Chance): void {
  const knots = Array.from({ length: 6 }, () => (random() + random() - 1) * TILT);
  const fall = (random() + random() - 1) * FALL;
  const shift = Math.round((random() + random() - 1) * SHIFT);
  const groups = 7;
  const copy = values.slice(0, groups * BANDS);
  for (let g = 0; g < groups; g++) {
    for (let b = 0; b < BANDS; b++) {
      const at = (b / (BANDS - 1)) * (knots.length - 1.001);
      const k = Math.floor(at);
      const gain = (knots[k] as number) * (k + 1 - at) + (knots[k + 1] as number) * (at - k);
      const from = Math.max(0, Math.min(BANDS - 1, b + shift));
      const level = (copy[g * BANDS + from] as number) + gain + fall * g + (random() - 0.5) * GRAIN;
      values[g * BANDS + b] = Math.max(-7, level);
    }
  }
  for (let i = groups * BANDS + 1; i < values.length; i++)
    values[i] = (values[i] as number) + (random() - 0.5) * JITTER;
}
