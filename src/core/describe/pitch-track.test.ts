import { seededRandom } from '../signal/random';
import { centsBetween } from '../signal/units';
import { pitchTrack } from './pitch-track';

const RATE = 48_000;

/** A tone whose frequency falls as drums' do: f(t) = end + fall * exp(-t / time). */
function sweep(
  end: number,
  fall: number,
  timeS: number,
  seconds = 0.6,
): { samples: Float32Array; hz: (t: number) => number } {
  const hz = (t: number) => end + fall * Math.exp(-t / timeS);
  const samples = new Float32Array(RATE * seconds);
  for (let i = 0; i < samples.length; i++) {
    const t = i / RATE;
    const phase = 2 * Math.PI * (end * t + fall * timeS * (1 - Math.exp(-t / timeS)));
    samples[i] = Math.sin(phase) * Math.exp(-t * 5);
  }
  return { samples, hz };
}

test.each([
  [50, 150, 0.05],
  [60, 200, 0.03],
  [110, 60, 0.1],
  [200, 0, 1],
])('a tone that falls to %d Hz from %d Hz over is followed', (end, fall, timeS) => {
  const { samples, hz } = sweep(end, fall, timeS);
  const track = pitchTrack(samples, RATE);
  const off = track.map(({ atS, hz: found }) => Math.abs(centsBetween(found, hz(atS))));
  off.sort((a, b) => a - b);
  expect(track[0]?.atS).toBeLessThan(0.012);
  expect(track.length).toBeGreaterThan(60);
  expect(off[off.length >> 1]).toBeLessThan(5);
  expect(off.at(-1)).toBeLessThan(50);
});

test('noise and silence have hardly a moment with a pitch', () => {
  const random = seededRandom(7);
  const noise = Float32Array.from({ length: RATE }, (_, i) => (random() - 0.5) * Math.exp(-i / 12_000));
  expect(pitchTrack(noise, RATE).length).toBeLessThan(12);
  expect(pitchTrack(new Float32Array(RATE), RATE)).toEqual([]);
  expect(pitchTrack(new Float32Array(10), RATE)).toEqual([]);
});
