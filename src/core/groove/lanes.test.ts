import fc from 'fast-check';
import { padSound } from '../kit/pad-sound';
import { KIT_INITIAL, PAD_INITIAL, PAD_PARAMETERS } from '../kit/parameters';
import { NO_PROGRAMS, type Programs } from '../kit/programs';
import { type NumberParameter, number } from '../parameter/parameter';
import { PAD, PROGRAM_FLOATS, writeProgram } from '../play/program';
import { type Change, MOST_CHANGES } from '../play/score';
import { pitchRatio } from '../signal/units';
import { changesOf, type MovedKit } from './changes';
import { laneValue, movableOfPad, parameterIn, replaced, thinned, withParameter } from './lanes';
import type { GrooveLane, GrooveRow, LanePoint } from './model';
import { SHAPE_PARAMETERS, shapePoints } from './shapes';

const PAN: NumberParameter = PAD_PARAMETERS.pan;
const lane = (points: readonly LanePoint[], set: Partial<GrooveLane> = {}): GrooveLane => ({
  ...{ id: 'lane-0001', grooveId: 'groove-1', rowId: 'row-1', bus: '', step: '', parameter: 'pan', holds: false },
  points: [...points],
  ...set,
});
const at = (tick: number, value: number): LanePoint => ({ tick, value });

describe('the value of a lane', () => {
  test('goes in lines from point to point, stays at either end, and jumps where two points are at one tick', () => {
    const one = lane([at(100, -1), at(300, 1), at(300, 0), at(500, 0.5)]);
    const value = (tick: number, before = false) => laneValue(one, PAN, tick, before);
    expect([0, 100, 200, 299, 300, 400, 500, 900].map((tick) => value(tick))).toEqual(
      [-1, -1, 0, 0.99, 0, 0.25, 0.5, 0.5].map((v) => expect.closeTo(v, 9)),
    );
    expect(value(300, true)).toBeCloseTo(1, 9);
    expect(laneValue({ ...one, holds: true }, PAN, 299)).toBe(-1);
    expect(laneValue(lane([]), PAN, 7)).toBeNull();
  });

  test('of a logarithmic parameter is halfway on its bar', () => {
    const hz = PAD_PARAMETERS.cutoffHz;
    expect(laneValue(lane([at(0, 100), at(100, 10_000)]), hz, 50)).toBeCloseTo(1000, 6);
  });

  const points = fc
    .array(fc.tuple(fc.integer({ min: 0, max: 4000 }), fc.double({ min: -1, max: 1, noNaN: true })), { maxLength: 30 })
    .map((all) => all.map(([tick, value]) => at(tick, value)).sort((a, b) => a.tick - b.tick));

  test('is what it was outside a stretch that is drawn anew', () => {
    fc.assert(
      fc.property(points, fc.integer({ min: 0, max: 2000 }), fc.integer({ min: 1, max: 2000 }), (all, from, length) => {
        const to = from + length;
        const drawn = [at(from, 0.25), at(to, -0.25)];
        const after = lane(replaced(lane(all), PAN, from, to, drawn));
        for (const tick of [0, from - 1, to + 1, to + 57, 4000]) {
          if (tick < 0 || (tick >= from && tick <= to)) continue;
          const isOutside = all.some((p) => (tick < from ? p.tick < from : p.tick > to));
          if (isOutside) expect(laneValue(after, PAN, tick)).toBeCloseTo(laneValue(lane(all), PAN, tick) as number, 6);
        }
        expect(laneValue(after, PAN, (from + to) / 2)).toBeCloseTo(0, 6);
      }),
    );
  });

  test('thinned stays within the tolerance, and a single point takes the place of that at its tick', () => {
    fc.assert(
      fc.property(points, (all) => {
        const once = all.filter(({ tick }, i) => all[i - 1]?.tick !== tick);
        const thin = thinned(once, PAN, 0.01);
        for (const { tick, value } of once)
          expect(Math.abs((laneValue(lane(thin), PAN, tick) as number) - value)).toBeLessThanOrEqual(0.02 + 1e-9);
      }),
    );
    expect(replaced(lane([at(0, 0), at(10, 1), at(20, 0)]), PAN, 10, 10, [at(10, -1)])).toEqual([
      at(0, 0),
      at(10, -1),
      at(20, 0),
    ]);
  });
});

test('values in lists are set and read by their place', () => {
  const step = { points: [{ gainDb: 1 }, { gainDb: 2 }] };
  expect(parameterIn(withParameter(step, 'points.1.gainDb', 7), 'points.1.gainDb')).toBe(7);
  expect(parameterIn(step, 'points.1.gainDb')).toBe(2);
  expect(withParameter(step, 'points.4.gainDb', 7)).toBe(step);
});

describe('shapes', () => {
  const shape = { form: 'wave', middle: 0.5, depth: 0.4, period: 960 } as const;
  const forms = SHAPE_PARAMETERS.form.options.map(([form]) => form);

  test('stay within their depth, in order of time, inside the stretch, and seeded', () => {
    fc.assert(
      fc.property(fc.constantFrom(...forms), fc.integer({ min: 100, max: 9000 }), fc.nat(99), (form, length, seed) => {
        const made = shapePoints({ ...shape, form }, PAN, 480, 480 + length, seed);
        expect(made.length).toBeGreaterThan(1);
        for (const [i, { tick, value }] of made.entries()) {
          expect(value).toBeGreaterThanOrEqual(-0.4 - 1e-6);
          expect(value).toBeLessThanOrEqual(0.4 + 1e-6);
          expect(tick).toBeGreaterThanOrEqual(made[i - 1]?.tick ?? 480);
          expect(tick).toBeLessThanOrEqual(480 + length);
        }
        expect(shapePoints({ ...shape, form }, PAN, 480, 480 + length, seed)).toEqual(made);
      }),
    );
  });

  test('a rise over the whole stretch is one line, a wave comes back to its middle', () => {
    expect(shapePoints({ ...shape, form: 'rise', period: 0 }, PAN, 0, 3840, 1)).toEqual([at(0, -0.4), at(3840, 0.4)]);
    const wave = lane(shapePoints(shape, PAN, 0, 3840, 1));
    expect(laneValue(wave, PAN, 960)).toBeCloseTo(0, 6);
    expect(laneValue(wave, PAN, 240)).toBeCloseTo(0.4, 6);
  });
});

describe('what lanes change of programs', () => {
  const RATE = 48_000;
  const pad = { ...PAD_INITIAL, ...{ id: 'pad-0001', kitId: 'kit-1', name: 'Barrel', family: null, position: 3 } };
  const row: GrooveRow = {
    ...{ id: 'row-1', grooveId: 'groove-1', position: 0, role: 'Barrel', note: 36, family: null },
    ...{ muted: false, alone: false },
  };
  const kit: MovedKit = { kit: KIT_INITIAL, pads: [pad], steps: [], buses: [], busSteps: [] };
  const hit = { id: 'hit-00001', name: 'Barrel', recordingId: 'rec', startFrame: 0, endFrame: 900, steps: [] };
  const layer = { id: 'layer-01', padId: pad.id, hitId: hit.id, position: 0, withHitId: null };
  const place = { left: 0, right: 0, start: 0, end: 900, sampleRate: RATE, gain: 1 };
  const layers = [
    {
      layer: {
        ...layer,
        levelDb: 0,
        pan: 0,
        semitones: 0,
        cents: 0,
        offsetMs: 0,
        inverted: false,
        isTake: false,
        lowVelocity: 1,
        highVelocity: 127,
      },
      hit: hit as never,
    },
  ];
  const programs: Programs = {
    ...NO_PROGRAMS,
    pad: (position) => (position === 3 ? (own) => padSound(own, layers, RATE, () => place, 1) : null),
  };
  const changesIn = (lanes: readonly GrooveLane[], strokes: readonly number[] = [], ticks = 3840) =>
    changesOf(
      { bpm: 120 },
      lanes,
      [row],
      kit,
      programs,
      { from: 0, to: ticks },
      strokes.map((tick) => ({ at: tick * 25, pad: 3, velocity: 100, from: -1, to: -1 })),
      RATE,
    );
  const changes = (...of: Parameters<typeof changesIn>) => changesIn(...of).changes;
  const figure = ({ patch }: Change, slot: number) => patch[patch.indexOf(slot) + 1] as number;

  test('an empty lane, and one of what is not there, change nothing', () => {
    expect(changes([lane([])])).toEqual([]);
    expect(changes([lane([at(0, 1)], { step: 'saturation 1', parameter: 'driveDb' })])).toEqual([]);
    expect(changes([lane([at(0, 1)], { rowId: 'another' })])).toEqual([]);
    expect(changes([lane([at(0, 1)], { rowId: null, bus: 'nobody', parameter: 'levelDb' })])).toEqual([]);
  });

  test('a still lane is one change, a moving one a line every ten milliseconds that ends where the lane is', () => {
    expect(changes([lane([at(0, 0.5)])])).toEqual([{ at: 0, over: 0, place: 3, patch: [PAD.pan, 0.5] }]);
    const moving = changes([lane([at(0, -1), at(3840, 1)])]);
    expect(moving.length).toBeGreaterThan(190);
    for (const change of moving) {
      const tick = (change.at + change.over) / 25;
      const wanted = -1 + (2 * tick) / 3840;
      expect(Math.abs(figure(change, PAD.pan) - wanted)).toBeLessThan(2 / 4000);
    }
    // Each begins where the one before it ends.
    for (const [i, { at: start }] of moving.entries())
      if (i > 1) expect(start).toBeCloseTo((moving[i - 1] as Change).at + (moving[i - 1] as Change).over, 6);
  });

  test('a stroke has the values of its very moment', () => {
    const tick = 1234;
    const made = changes([lane([at(0, -1), at(3840, 1)])], [tick]);
    const before = made.filter((change) => change.at < tick * 25 - 1e-6).at(-1) as Change;
    expect(before.at + before.over).toBeCloseTo(tick * 25, 6);
    expect(figure(before, PAD.pan)).toBeCloseTo(-1 + (2 * tick) / 3840, 3);
  });

  test('several lanes of a pad, and one of the kit, go together; each change tells all that any of them moves', () => {
    const made = changes([
      lane([at(0, -1), at(3840, 1)]),
      lane([at(0, 0), at(3840, 12)], { parameter: 'semitones' }),
      lane([at(0, -6)], { rowId: null, parameter: 'levelDb' }),
    ]);
    const slots = new Set(made.map(({ patch }) => patch.filter((_, i) => i % 2 === 0).join(' ')));
    expect(slots.size).toBe(1);
    const end = made.at(-1) as Change;
    const program = new Float64Array(PROGRAM_FLOATS);
    writeProgram(
      padSound({ ...pad, pan: 1, semitones: 12, levelDb: -6 }, layers, RATE, () => place, 1),
      program,
    );
    for (let i = 0; i < end.patch.length; i += 2)
      expect(end.patch[i + 1]).toBeCloseTo(program[end.patch[i] as number] as number, 3);
    expect(end.patch.some((value, i) => i % 2 === 1 && Math.abs(value - pitchRatio(12, 0)) < 1e-3)).toBe(true);
  });

  test('however long it is and however many there are, a score can hold them', () => {
    const wave = number({ label: 'x', unit: '', low: 0, high: 1, step: 1, initial: 0 });
    const points = shapePoints({ form: 'wave', middle: 0.5, depth: 1, period: 240 }, wave, 0, 64 * 3840, 1);
    const all = movableOfPad([]).map(({ parameter, of }) =>
      lane(
        points.slice(0, 8000).map(({ tick, value }) => at(tick, of.low + value * (of.high - of.low))),
        { parameter },
      ),
    );
    const { changes: made, isCut } = changesIn(all.slice(0, 6), [], 64 * 3840);
    expect(isCut).toBe(false);
    // More than fit are cut off, and that is told.
    const most = changesIn(
      all.map((one, n) => ({ ...one, points: one.points.map(({ tick, value }) => at(tick + n, value)) })),
      [],
      64 * 3840,
    );
    expect(most.isCut).toBe(true);
    expect(most.changes.length).toBeLessThanOrEqual(MOST_CHANGES);
    expect(made.length).toBeLessThanOrEqual(MOST_CHANGES);
    expect(made.length).toBeGreaterThan(1000);
  });
});
