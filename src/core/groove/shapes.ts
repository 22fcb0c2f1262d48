import { choice, number, type Values } from '../parameter/parameter';
import { clip, valueAt } from '../parameter/values';
import { seededRandom } from '../signal/random';
import type { Movable } from './lanes';
import { type LanePoint, TICKS_PER_QUARTER } from './model';

const SHARE = { unit: '%', low: 0, high: 1, step: 0.05, fine: 0.01, digits: 0, times: 100 } as const;

/** What a lane can be filled with. Middle and depth are shares of the parameter's bar. */
export const SHAPE_PARAMETERS = {
  form: choice(
    'Form',
    [
      ['rise', 'rise'],
      ['fall', 'fall'],
      ['wave', 'wave'],
      ['chance', 'chance'],
    ],
    'rise',
  ),
  middle: number({ label: 'Around', ...SHARE, initial: 0.5 }),
  depth: number({ label: 'Depth', ...SHARE, initial: 0.5 }),
  /** 0 for the whole stretch. */
  period: choice(
    'Each',
    [
      [0, 'stretch'],
      [3840, 'whole note'],
      [1920, 'half'],
      [960, 'quarter'],
      [480, '8th'],
      [240, '16th'],
    ],
    0,
  ),
} as const;
export type Shape = Values<typeof SHAPE_PARAMETERS>;

/** Points of a wave's period. */
const WAVE_POINTS = 24;
const LEAST_TICKS = TICKS_PER_QUARTER / 64;

/** The points of a shape over a stretch of ticks; the same seed gives the same ones. */
export function shapePoints(
  { form, middle, depth, period }: Shape,
  of: Movable,
  from: number,
  to: number,
  seed: number,
): LanePoint[] {
  const random = seededRandom(seed);
  const low = Math.max(0, middle - depth / 2);
  const high = Math.min(1, middle + depth / 2);
  const each = period === 0 ? to - from : period;
  const point = (tick: number, share: number): LanePoint => ({
    tick: Math.round(tick),
    value: clip(of, valueAt(of, low + share * (high - low))),
  });
  const points: LanePoint[] = [];
  for (let start = from; start < to; start += each) {
    const end = Math.min(to, start + each);
    const rest = (end - start) / each;
    switch (form) {
      case 'rise':
        points.push(point(start, 0), point(end, rest));
        break;
      case 'fall':
        points.push(point(start, 1), point(end, 1 - rest));
        break;
      case 'wave': {
        const count = Math.max(4, Math.min(WAVE_POINTS, Math.floor((each * rest) / LEAST_TICKS)));
        for (let i = 0; i <= count; i++) {
          const along = (i / count) * rest;
          if (i < count || end >= to)
            points.push(point(start + along * each, 0.5 + 0.5 * Math.sin(2 * Math.PI * along)));
        }
        break;
      }
      case 'chance': {
        const share = random();
        points.push(point(start, share), point(end, share));
      }
    }
  }
  return points;
}
