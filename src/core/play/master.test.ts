import { momentaryLufs } from '../loudness/loudness';
import { LoudnessMeter } from '../loudness/meter';
import { seededRandom } from '../signal/random';
import { fromDb } from '../signal/units';
import { CEILING_DB, LOOK_AHEAD_S, Master } from './master';

const RATE = 48_000;
const AHEAD = Math.round(LOOK_AHEAD_S * RATE);

/** Bursts of noise with pauses between them, up to a peak. */
function bursts(peak: number, frames = RATE): Float32Array {
  const random = seededRandom(3);
  return Float32Array.from({ length: frames }, (_, i) => peak * (2 * random() - 1) * Math.exp(-(i % 9000) / 1500));
}

function limited(input: Float32Array, block: number, isOn = true): Float32Array {
  const master = new Master(RATE, isOn);
  const out = input.slice();
  const other = input.slice();
  for (let at = 0; at < out.length; at += block) master.process(out, other, Math.min(block, out.length - at), at);
  expect(other).toEqual(out);
  return out;
}

test('what is under the ceiling passes unchanged, later by the look-ahead; switched off at once', () => {
  const input = bursts(fromDb(-1));
  expect(limited(input, 128).subarray(AHEAD)).toEqual(input.subarray(0, input.length - AHEAD));
  expect(limited(bursts(8), 128, false)).toEqual(bursts(8));
});

test('nothing passes the ceiling, for any block length the same, and what follows a peak comes back', () => {
  const input = bursts(8);
  const out = limited(input, 128);
  expect(Math.max(...out.map(Math.abs))).toBeLessThanOrEqual(fromDb(CEILING_DB) + 1e-7);
  for (const block of [1, 64, 1000, RATE]) expect(limited(input, block)).toEqual(out);
  // A click is down in time, and half a second later its limiter has let go.
  const click = new Float32Array(RATE).fill(0.5);
  click[1000] = 20;
  const after = limited(click, 128);
  expect(Math.max(...after.map(Math.abs))).toBeLessThanOrEqual(fromDb(CEILING_DB) + 1e-7);
  expect(after[RATE - 1]).toBe(0.5);
});

test('it is switched without a click', () => {
  const input = Float32Array.from({ length: 9600 }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 200 * i) / RATE));
  const master = new Master(RATE, false);
  const out = input.slice();
  for (let at = 0; at < out.length; at += 128) {
    if (at === 3840) master.turn(true);
    master.process(out, out.slice(), Math.min(128, out.length - at), at);
  }
  for (let i = 1; i < out.length; i++) expect(Math.abs((out[i] as number) - (out[i - 1] as number))).toBeLessThan(0.02);
});

test('the running loudness is the momentary one of ITU-R BS.1770: -23 LUFS for its sine, and that of any sound', () => {
  // EBU Tech 3341, case 1: a stereo sine of 1 kHz at -23 dBFS.
  const sine = Float32Array.from({ length: RATE }, (_, i) => fromDb(-23) * Math.sin((2 * Math.PI * 1000 * i) / RATE));
  const meter = new LoudnessMeter(RATE);
  for (let at = 0; at < RATE; at += 128) meter.add(sine, sine, Math.min(128, RATE - at), at);
  expect(Math.abs(meter.lufs + 23)).toBeLessThan(0.1);
  const noise = bursts(0.5);
  const whole = momentaryLufs({ sampleRate: RATE, channels: [noise, noise] });
  const running = new LoudnessMeter(RATE);
  let loudest = Number.NEGATIVE_INFINITY;
  for (let at = 0; at < RATE; at += 480) {
    running.add(noise, noise, 480, at);
    loudest = Math.max(loudest, running.lufs);
  }
  expect(Math.abs(loudest - whole)).toBeLessThan(0.1);
});
