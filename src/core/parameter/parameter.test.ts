import fc from 'fast-check';
import { z } from 'zod';
import { PadSettings } from '../kit/model';
import { LAYER_PARAMETERS, PAD_PARAMETERS } from '../kit/parameters';
import { SPLIT_PARAMETERS } from '../onset/split';
import { choice, number, optional, type Parameters, toggle } from './parameter';
import { shapeOf } from './schema';
import { clip, filled, initialValues, shareOf, sparse, typedValue, valueAt } from './values';

const DECLARED: Readonly<Record<string, Parameters>> = {
  pad: PAD_PARAMETERS,
  layer: LAYER_PARAMETERS,
  split: SPLIT_PARAMETERS,
};
const numbers = Object.entries(DECLARED).flatMap(([of, parameters]) =>
  Object.entries(parameters).flatMap(([key, p]) => (p.kind === 'number' ? [[`${of}.${key}`, p] as const] : [])),
);

describe('every parameter that is declared', () => {
  test.each(Object.entries(DECLARED))('%s: initial values are allowed, and are not stored', (_, parameters) => {
    const values = initialValues(parameters);
    expect(z.object(shapeOf(parameters)).parse(values)).toEqual(values);
    expect(sparse(parameters, values)).toEqual({});
    expect(filled(parameters, {})).toEqual(values);
  });

  test.each(numbers)('%s: the bar shows each value where a drag finds it, ends included', (_, p) => {
    expect([shareOf(p, p.low), shareOf(p, p.high)]).toEqual([0, 1]);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (share) => {
        expect(shareOf(p, valueAt(p, share))).toBeCloseTo(share, 9);
      }),
      { seed: 1, numRuns: 50 },
    );
  });

  test.each(numbers)('%s: whatever is typed is in range, and what is shown can be typed', (_, p) => {
    const schema = z.object(shapeOf({ p }));
    fc.assert(
      fc.property(fc.double({ min: -1e6, max: 1e6, noNaN: true }), (value) => {
        expect(schema.safeParse({ p: typedValue(p, String(value)) }).success).toBe(true);
      }),
      { seed: 2, numRuns: 50 },
    );
    const first = p.initial ?? p.none?.first ?? 0;
    expect(typedValue(p, (first * p.times).toFixed(p.digits))).toBe(first);
  });
});

test('values are stored where they differ from the initial ones, and read back whole', () => {
  const parameters = {
    a: number({ label: 'A', unit: 'dB', low: -1, high: 1, step: 0.1, initial: 0 }),
    b: toggle('B', ['no', 'yes'], false),
  };
  const values = { a: 0.5, b: false };
  expect(sparse(parameters, values)).toEqual({ a: 0.5 });
  expect(filled(parameters, { a: 0.5, gone: 3 })).toEqual(values);
});

test('a value out of range is refused with the limits and the unit', () => {
  const parameters = {
    level: number({ label: 'Level', unit: 'dB', low: -60, high: 24, step: 0.5, initial: 0 }),
    count: number({ label: 'Count', unit: '', low: 1, high: 4, step: 1, initial: 1, whole: true }),
    way: choice(
      'Way',
      [
        ['up', 'up'],
        ['down', 'down'],
      ],
      'up',
    ),
  };
  const refused = (value: object) => z.object(shapeOf(parameters)).partial().safeParse(value).error?.issues[0]?.message;
  expect(refused({ level: 30 })).toBe('Level lies between -60 and 24 dB.');
  expect(refused({ level: Number.NaN })).toBe('Level lies between -60 and 24 dB.');
  expect(refused({ count: 1.5 })).toBe('Count is a whole number.');
  expect(refused({ way: 'left' })).toBe('Way is one of up, down.');
  expect(refused({ level: -60, count: 4, way: 'down' })).toBeUndefined();
});

test('settings that are told in part stay in part: no initial value is filled in', () => {
  expect(PadSettings.parse({ pan: 0.5 })).toEqual({ pan: 0.5 });
});

test('numbers are typed with a comma, a true minus or a unit, and land on what can be shown', () => {
  const level = number({ label: 'Level', unit: 'dB', low: -60, high: 24, step: 0.5, initial: 0 });
  expect([
    typedValue(level, '−3,25 dB'),
    typedValue(level, '99'),
    typedValue(level, 'loud'),
    typedValue(level, ''),
  ]).toEqual([-3.2, 24, null, null]);
  expect(typedValue(PAD_PARAMETERS.pan, '-40')).toBe(-0.4);
  expect(clip({ low: 0, high: 9, whole: true }, 4.4, 0.1)).toBe(4);
  expect(
    optional({ label: 'X', unit: '', low: 0, high: 1, step: 1, none: { label: 'none', first: 1 } }).initial,
  ).toBeNull();
});
