import { seededRandom } from '../signal/random';
import { findHum, fitHum, withoutHum } from './hum';
import { learnRoomTone, withoutRoom } from './reduce';

const RATE = 48_000;

/** A hum with three harmonics and a hiss under it. */
function humming(hz: number, frames: number, hiss: number, seed: number): Float32Array {
  const random = seededRandom(seed);
  const out = new Float32Array(frames);
  for (let i = 0; i < frames; i++) {
    const t = (2 * Math.PI * hz * i) / RATE;
    out[i] =
      0.02 * Math.sin(t + 0.4) + 0.01 * Math.sin(2 * t + 1) + 0.006 * Math.sin(3 * t + 2) + hiss * (random() - 0.5);
  }
  return out;
}

const power = (x: Float32Array, from = 0, to = x.length) =>
  x.subarray(from, to).reduce((sum, v) => sum + v * v, 0) / (to - from);

test.each([50, 49.93, 50.2, 60, 60.1])('a hum of %d Hz is found within 0.02 Hz', (hz) => {
  expect(Math.abs((findHum(humming(hz, 0.8 * RATE, 0.01, 1), RATE) ?? 0) - hz)).toBeLessThan(0.02);
});

test('hiss, a tone and a stroke are no hum, and a moment is too short', () => {
  const random = seededRandom(3);
  const hiss = Float32Array.from({ length: RATE }, () => random() - 0.5);
  const tone = Float32Array.from({ length: RATE }, (_, i) => Math.sin((2 * Math.PI * 173 * i) / RATE));
  const stroke = tone.map((x, i) => x * Math.exp(-i / 5000));
  for (const x of [hiss, tone, stroke, humming(50, 0.1 * RATE, 0.01, 2)]) expect(findHum(x, RATE)).toBeNull();
});

test('fitted where it is alone and subtracted everywhere, it falls by 30 dB, also under a stroke', () => {
  const hum = humming(50, RATE, 0, 4);
  const noisy = hum.map(
    (x, i) => x + (i < 0.3 * RATE ? 0 : 0.5 * Math.exp(-(i - 0.3 * RATE) / 6000) * Math.sin(i / 20)),
  );
  const harmonics = fitHum(noisy, 50, RATE, (_from, to) => to < 0.3 * RATE);
  expect(harmonics.map(({ hz }) => hz)).toEqual([50, 100, 150]);
  const rest = withoutHum(hum, harmonics, RATE);
  expect(10 * Math.log10(power(rest) / power(hum))).toBeLessThan(-30);
});

test('a hum that drifts is followed through half a minute', () => {
  const room = learnRoomTone({ sampleRate: RATE, channels: [humming(50, RATE, 0.001, 7)] });
  if (!room?.hum) throw new Error('No hum was found.');
  let phase = 0;
  const random = seededRandom(8);
  const noisy = new Float32Array(30 * RATE);
  for (let i = 0; i < noisy.length; i++) {
    phase += (2 * Math.PI * (50 + 0.03 * Math.sin(i / (4 * RATE)))) / RATE;
    noisy[i] = 0.02 * Math.sin(phase) + 0.01 * Math.sin(2 * phase + 1) + 0.001 * (random() - 0.5);
  }
  const out = withoutRoom(noisy, room, [], { amountDb: 24, marginDb: 2 }, RATE);
  for (const at of [1, 14, 28])
    expect(10 * Math.log10(power(out, at * RATE, (at + 1) * RATE) / power(noisy))).toBeLessThan(-20);
});

test('a room’s tone is learnt with and without its hum; taken down by an amount, the gaps fall by no more than that', () => {
  const room = learnRoomTone({ sampleRate: RATE, channels: [humming(50.05, RATE, 0.01, 5)] });
  if (!room?.hum) throw new Error('No hum was found.');
  expect(Math.abs(room.hum.hz - 50.05)).toBeLessThan(0.02);
  const sum = (x: Float64Array) => x.reduce((a, b) => a + b, 0);
  expect(sum(room.hum.rest)).toBeLessThan(sum(room.spectrum) / 10);
  const noisy = humming(50.05, RATE, 0.01, 6);
  const out = withoutRoom(noisy, room, [], { amountDb: 18, marginDb: 2 }, RATE);
  const fall = 10 * Math.log10(power(out, 4000, 44_000) / power(noisy, 4000, 44_000));
  expect(fall).toBeLessThan(-16);
  expect(fall).toBeGreaterThan(-19);
});
