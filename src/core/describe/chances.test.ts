import { seededRandom } from '../signal/random';
import { chancesOf } from './chances';
import { Describer } from './description';
import { guessFamily } from './family';

const RATE = 44100;

function sound(seconds: number, at: (t: number) => number): Float32Array {
  return Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => at(i / RATE));
}

function listen(samples: Float32Array) {
  return chancesOf(new Describer(RATE).describe(samples, 0, samples.length));
}

/** A harmonic note that swells for a moment and is held. */
function note(hz: number): Float32Array {
  return sound(0.8, (t) => {
    const loud = Math.min(1, t / 0.03) * Math.min(1, (0.8 - t) / 0.1);
    return 0.1 * loud * [1, 2, 3, 4, 5].reduce((sum, k) => sum + Math.sin(2 * Math.PI * k * hz * t) / k, 0);
  });
}

const random = seededRandom(5);
const kick = sound(0.4, (t) => 0.8 * Math.exp(-12 * t) * Math.sin(2 * Math.PI * (50 * t - 6 * Math.exp(-40 * t))));
const snare = sound(
  0.3,
  (t) => Math.exp(-18 * t) * (0.5 * (random() - 0.5) + 0.3 * Math.exp(-10 * t) * Math.sin(2 * Math.PI * 190 * t)),
);
const hat = sound(0.1, (t) => {
  const x = random() - 0.5;
  return Math.exp(-60 * t) * x * (0.5 + 0.5 * Math.cos(2 * Math.PI * 9000 * t));
});

test.each([
  ['a kick', kick],
  ['a snare', snare],
  ['a hat', hat],
])('%s is heard as a drum', (_, samples) => {
  const chances = listen(samples);
  expect(chances.drum).toBeGreaterThan(0.8);
  const { confidence, drum } = guessFamily(chances);
  expect(drum).toBe(chances.drum);
  expect(confidence).toBeLessThanOrEqual(drum);
});

test.each([110, 220, 440])('a held note of %i Hz is likelier no drum, and its family is told to be unsure', (hz) => {
  const chances = listen(note(hz));
  expect(chances.drum).toBeLessThan(0.5);
  expect(guessFamily(chances).confidence).toBeLessThan(0.5);
});

test('a snare struck with a note as loud is a drum still', () => {
  const held = note(220);
  const both = held.map((x, i) => x + (snare[i] ?? 0));
  expect(listen(both).drum).toBeGreaterThan(2 * listen(held).drum);
  expect(listen(both).drum).toBeGreaterThan(0.5);
});
