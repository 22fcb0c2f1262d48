import { rulerTicks } from './span';
import { place, type Time } from './time';

const grid = { tempoBpm: 120, downbeatFrame: 4800, beats: 3, beatUnit: 4 } as const;
const time = (unit: Time['unit'], known: Time['grid'] = grid): Time => ({ unit, sampleRate: 48000, grid: known });

test('a place is told in seconds, samples, or bars, beats and hundredths of a beat', () => {
  expect(place(54432, time('seconds'))).toBe('1.1340 s');
  expect(place(1054432, time('samples'))).toBe('1 054 432');
  // A quarter is 24,000 frames; the first bar begins at 4,800.
  expect(place(4800, time('bars'))).toBe('1.1.00');
  expect(place(4800 + 2.5 * 24000, time('bars'))).toBe('1.3.50');
  expect(place(4800 + 3 * 24000, time('bars'))).toBe('2.1.00');
  expect(place(4800 - 24000, time('bars'))).toBe('−1.3.00');
  expect(place(54432, time('bars', null))).toBe('1.1340 s');
});

test("the ruler's ticks lie on the unit, far enough apart to be read", () => {
  const span = { start: 0, framesPerPixel: 200 };
  const bars = rulerTicks(span, 1280, time('bars'));
  expect(bars.slice(0, 6).map((t) => t.label)).toEqual(['1.1', '1.2', '1.3', '2.1', '2.2', '2.3']);
  expect(bars[3]?.frame).toBe(4800 + 3 * 24000);
  const samples = rulerTicks(span, 1280, time('samples'));
  expect(samples[1]?.label).toBe('20 000');
  for (const unit of ['seconds', 'samples', 'bars'] as const) {
    const ticks = rulerTicks({ start: 1e6, framesPerPixel: 3 }, 1280, time(unit));
    for (const [i, tick] of ticks.slice(1).entries())
      expect(tick.frame - (ticks[i]?.frame ?? 0)).toBeGreaterThanOrEqual(84 * 3 - 1e-6);
    expect(ticks.length).toBeGreaterThan(0);
  }
});
