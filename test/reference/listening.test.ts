import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { writeWav } from '../../src/core/format/wav';
import { seededRandom } from '../../src/core/signal/random';
import { remove, scratch, undercroft } from '../harness';

const RATE = 48000;
let folder: string;

beforeAll(() => {
  folder = scratch();
});

afterAll(() => remove(folder));

function file(name: string, samples: Float32Array): string {
  const path = join(folder, name);
  writeFileSync(path, writeWav({ sampleRate: RATE, channels: [samples] }, 's24'));
  return path;
}

test('describe tells root, note, levels and times of a struck tone as equal temperament and arithmetic have them', () => {
  // ISO 16: A4 is 440 Hz; 30 cents higher.
  const hz = 440 * 2 ** (30 / 1200);
  const tone = Float32Array.from(
    { length: RATE },
    (_, i) => 0.5 * Math.sin((2 * Math.PI * hz * i) / RATE) * Math.exp((-8 * i) / RATE),
  );
  const told = JSON.parse(undercroft('describe', file('tone.wav', tone), '--json')) as Record<string, number | string>;
  expect(told.rootNote).toBe('A4');
  expect(Math.abs((told.cents as number) - 30)).toBeLessThan(4);
  expect(told.peakDb).toBeCloseTo(-6.02, 1);
  expect(told.durationMs).toBe(1000);
  // exp(-8 t) falls by 20 dB in ln(10) / 8 seconds.
  expect(Math.abs((told.decay20Ms as number) - 288)).toBeLessThan(12);
});

test('describe says of a held note that it is likely no drum, and not of a struck one', () => {
  const held = Float32Array.from({ length: RATE }, (_, i) => {
    const t = i / RATE;
    const loud = Math.min(1, t / 0.03) * Math.min(1, (1 - t) / 0.1);
    return 0.1 * loud * [1, 2, 3, 4].reduce((sum, k) => sum + Math.sin(2 * Math.PI * 110 * k * t) / k, 0);
  });
  const struck = Float32Array.from({ length: RATE / 2 }, (_, i) => {
    const t = i / RATE;
    return 0.7 * Math.sin(2 * Math.PI * (55 * t - 5 * Math.exp(-40 * t))) * Math.exp(-12 * t);
  });
  const files = [file('held.wav', held), file('struck.wav', struck)];
  const [note, drum] = undercroft('describe', ...files)
    .trim()
    .split('\n');
  expect(note).toMatch(/, likely no drum \(\d+ %\)/);
  expect(drum).not.toMatch(/no drum/);
  const told = undercroft('describe', ...files, '--json')
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as { drumConfidence: number; familyConfidence: number });
  expect(told[0]?.drumConfidence).toBeLessThan(0.5);
  expect(told[1]?.drumConfidence).toBeGreaterThan(0.5);
  for (const { drumConfidence, familyConfidence } of told) expect(familyConfidence).toBeLessThanOrEqual(drumConfidence);
});

test('onsets tells of the slices of a short file what is heard in them, and of none where it is told not to', () => {
  const random = seededRandom(2);
  const loop = Float32Array.from({ length: 2 * RATE }, (_, i) => {
    const t = (i / RATE) % 0.5;
    const low = Math.floor(i / RATE / 0.5) % 2 === 0;
    return low ? 0.7 * Math.sin(2 * Math.PI * 70 * t) * Math.exp(-9 * t) : 0.5 * (random() - 0.5) * Math.exp(-30 * t);
  });
  const path = file('loop.wav', loop);
  const slicesOf = (...options: string[]) =>
    (
      JSON.parse(undercroft('onsets', path, '--json', ...options)) as {
        slices: {
          family: string | null;
          group: number | null;
          groupConfidence: number | null;
          isolation: number | null;
          foreign: readonly { readonly kind: string; readonly db: number; readonly ofSlice?: number | null }[] | null;
          rootHz: number | null;
          brightnessHz: number | null;
        }[];
      }
    ).slices;
  const heard = slicesOf();
  expect(heard.length).toBe(4);
  // Low, high, low, high: two drums.
  expect(heard.map((s) => s.group)).toEqual([0, 1, 0, 1]);
  expect(heard.every((s) => typeof s.family === 'string' && (s.isolation ?? -1) >= 0)).toBe(true);
  expect(Math.abs(1200 * Math.log2((heard[0]?.rootHz ?? 1) / 70))).toBeLessThan(10);
  expect(heard[1]?.rootHz).toBeNull();
  expect(heard[1]?.brightnessHz ?? 0).toBeGreaterThan(2 * (heard[0]?.brightnessHz ?? 0));
  expect(heard.every((s) => (s.groupConfidence ?? 0) > 0.5)).toBe(true);
  // The low drum rings on into what follows it; nothing does into the first.
  expect(heard[1]?.foreign?.find(({ kind }) => kind === 'tail before')?.ofSlice).toBe(0);
  expect(heard[0]?.foreign?.map(({ kind }) => kind)).not.toContain('tail before');
  expect(slicesOf('--no-listen').every((s) => s.family === null && s.group === null)).toBe(true);
});
