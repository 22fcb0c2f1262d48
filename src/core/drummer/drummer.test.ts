import { peakOf } from '../signal/audio';
import { Drummer, playDrummer, SLOWEST } from './drummer';
import { DRUMS, RHYTHMS, STEP_VELOCITIES } from './rhythms';

const RATE = 24_000;
const ROUNDABOUT = RHYTHMS[0] as (typeof RHYTHMS)[number];

test('there are nine rhythms, each of whole laps, and strokes overlap in every one', () => {
  expect(RHYTHMS).toHaveLength(9);
  for (const { name, drums, perBeat } of RHYTHMS) {
    const lengths = new Set(Object.values(drums).map(({ length }) => length));
    expect([name, lengths.size]).toEqual([name, 1]);
    const [steps] = lengths as unknown as Iterable<number> as [number];
    expect([name, (steps ?? 0) % perBeat]).toEqual([name, 0]);
    const struck = Array.from(
      { length: steps ?? 0 },
      (_, n) => Object.values(drums).filter((text) => STEP_VELOCITIES[text[n] ?? '.'] !== undefined).length,
    );
    expect([name, struck.some((count) => count > 1)]).toEqual([name, true]);
  }
});

test('it plays its steps at the speed of its crank, a little unevenly, and never past full scale', () => {
  for (const speed of [1, 0.4]) {
    const { samples, strokes } = playDrummer(ROUNDABOUT, speed, 2, 1, RATE);
    const wanted = Object.values(ROUNDABOUT.drums).reduce(
      (sum, text) => sum + 2 * [...text].filter((char) => char !== '.').length,
      0,
    );
    expect(strokes).toHaveLength(wanted);
    expect(peakOf([samples])).toBeLessThan(1);
    expect(peakOf([samples])).toBeGreaterThan(0.2);
    const kicks = strokes.filter(({ drum }) => drum === 'kick').map(({ frame }) => frame);
    const lap = (4 * 60 * RATE) / (112 * speed);
    const apart = (kicks[3] as number) - (kicks[0] as number);
    expect(Math.abs(apart / lap - 1)).toBeLessThan(0.03);
    expect(apart).not.toBe(Math.round(lap));
  }
});

test('is the same for the same seed, however it is read, and no two strokes of a drum are the same', () => {
  const whole = playDrummer(ROUNDABOUT, 1, 1, 5, RATE).samples;
  expect(playDrummer(ROUNDABOUT, 1, 1, 5, RATE).samples).toEqual(whole);
  expect(playDrummer(ROUNDABOUT, 1, 1, 6, RATE).samples).not.toEqual(whole);
  const drummer = new Drummer(ROUNDABOUT, RATE, 5, 0.5);
  const read = new Float32Array(RATE);
  for (let at = 0; at < RATE; at += 480) read.set(drummer.read(480), at);
  expect(read).toEqual(whole.slice(0, RATE));
  const { samples, strokes } = playDrummer({ ...ROUNDABOUT, drums: { hat: 'X...X...' } }, 0.5, 1, 1, RATE);
  const [a, b] = strokes.map(({ frame }) => samples.slice(frame, frame + 400));
  expect(a).not.toEqual(b);
});

test('at the slowest crank strokes of different steps stand apart', () => {
  const { strokes } = playDrummer(ROUNDABOUT, SLOWEST, 1, 1, RATE);
  const seconds = strokes.map(({ frame }) => frame / RATE).sort((a, b) => a - b);
  for (const [i, at] of seconds.entries()) {
    const apart = i === 0 ? 2 : at - (seconds[i - 1] as number);
    // Strokes of one step fall together, those of two do not.
    expect(apart < 0.005 || apart > 1).toBe(true);
  }
});

test('an open hat is cut by the next hat, and the crank may be turned while it plays', () => {
  const drums = { open: 'X.......', hat: '..X.....' };
  const cut = playDrummer({ ...ROUNDABOUT, drums }, 1, 1, 2, RATE, 0);
  const rings = playDrummer({ ...ROUNDABOUT, drums: { open: 'X.......' } }, 1, 1, 2, RATE, 0);
  const late = Math.round(((8 * 60) / (112 * 4)) * RATE);
  const power = (samples: Float32Array) => samples.slice(late, late + 2000).reduce((sum, x) => sum + x * x, 0);
  expect(power(cut.samples)).toBeLessThan(power(rings.samples) / 10);
  const drummer = new Drummer(ROUNDABOUT, RATE, 1);
  drummer.read(RATE);
  const before = drummer.strokes.length;
  drummer.speed = SLOWEST;
  drummer.read(RATE);
  expect(drummer.strokes.length - before).toBeLessThan(before / 2);
  expect(Object.keys(DRUMS).length).toBeGreaterThanOrEqual(9);
});
