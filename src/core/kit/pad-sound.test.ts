import { padOf } from '../../../test/pads';
import type { Parameter } from '../parameter/parameter';
import { firstSet } from '../parameter/values';
import { LAYER, LAYER_SLOTS, layerAt, PAD, PAD_SLOTS, PROGRAM_FLOATS, writeProgram } from '../play/program';
import { noteOfPlace } from './layout';
import type { Pad } from './model';
import { HEARD_BY, LAYER_HEARD_BY, padSound } from './pad-sound';
import { LAYER_PARAMETERS, type LayerValues, PAD_PARAMETERS, type PadValues } from './parameters';
import { normaliseGain } from './render';

const COUNTED = { moveCount: 'moves', cutCount: 'cuts' } as const;

describe('what each parameter is heard by', () => {
  const at = (set: Partial<Pad>, layerSet = {}) => {
    const { pad, layers } = padOf(3, set, [[0, 500]], layerSet);
    const sound = { left: 0, right: 500, start: 0, end: 500, sampleRate: 44_100, gain: 1 };
    const memory = Float32Array.from({ length: 1000 }, (_, i) => Math.sin(i / 7) / 2);
    const pool = { memory, soundOf: () => sound };
    const gain = normaliseGain(pad, layers, pool, 44100);
    const program = new Float64Array(PROGRAM_FLOATS);
    writeProgram(
      padSound(pad, layers, 44100, pool.soundOf, gain, 120, [], { bus: 0, room: true, echo: true }),
      program,
    );
    return program;
  };
  const changed = (a: Float64Array, b: Float64Array) => [
    ...PAD_SLOTS.filter((slot) => a[PAD[slot]] !== b[PAD[slot]]).map(
      (slot) => COUNTED[slot as keyof typeof COUNTED] ?? slot,
    ),
    ...LAYER_SLOTS.filter((slot) => a[layerAt(0) + LAYER[slot]] !== b[layerAt(0) + LAYER[slot]]),
  ];
  const other = (p: Parameter) =>
    p.kind === 'list'
      ? [{ source: 'velocity', target: 'tune', depth: 50 }]
      : p.kind === 'data'
        ? ''
        : p.kind === 'number'
          ? (p.none?.first ?? (p.initial === p.high ? p.low : p.high))
          : firstSet(p);

  test.each(Object.keys(PAD_PARAMETERS).filter((key) => key !== 'alone') as (keyof PadValues)[])(
    'a pad’s %s',
    (key) => {
      // A loop of this short sound ends within it; only a loop in tempo has slices.
      const own = { loopEndMs: 6, fit: 'slices', loopBpm: 200, cuts: [{ atMs: 5 }] } as Partial<PadValues>;
      const basis: Partial<PadValues> =
        key === 'fit' ? { loopBpm: 100 } : key === 'loopBpm' || key === 'cuts' ? { fit: 'slices', loopBpm: 100 } : {};
      const value = own[key] ?? other(PAD_PARAMETERS[key]);
      expect(changed(at(basis), at({ ...basis, [key]: value }))).toEqual(HEARD_BY[key]);
    },
  );

  const alone = (Object.keys(LAYER_PARAMETERS) as (keyof LayerValues)[]).filter((key) => key !== 'isTake');
  test.each(alone)('a layer’s %s', (key) => {
    const heard = changed(at({}), at({}, { [key]: other(LAYER_PARAMETERS[key]) }));
    expect(heard).toEqual(LAYER_HEARD_BY[key]);
  });

  test('a layer’s part as a take, where there are others', () => {
    const { pad, layers } = padOf(3, {}, [
      [0, 500],
      [500, 900],
      [900, 1200],
    ]);
    const of = (isTake: readonly boolean[], withHitId: string | null = null) =>
      padSound(
        pad,
        layers.map(({ layer, hit }, i) => ({
          layer: { ...layer, isTake: isTake[i] as boolean, withHitId: i === 2 ? withHitId : null },
          hit,
        })),
        44100,
        ({ startFrame }) => ({ left: startFrame, right: startFrame, start: 0, end: 400, sampleRate: 44100, gain: 1 }),
        1,
      ).layers.map(({ take, underTake }) => [take, underTake]);
    expect(of([false, false, false])).toEqual([
      [1, -1],
      [0, -1],
      [0, -1],
    ]);
    expect(of([true, true, false])).toEqual([
      [1, -1],
      [1, -1],
      [0, -1],
    ]);
    expect(of([true, true, false], layers[1]?.hit.id)).toEqual([
      [1, -1],
      [1, -1],
      [0, 1],
    ]);
    // A layer under a take that the pad does not have is left out.
    expect(of([true, true, false], 'another')).toHaveLength(2);
  });

  test('every place of the 128 has a note of its own', () => {
    expect(new Set(Array.from({ length: 128 }, (_, position) => noteOfPlace(position))).size).toBe(128);
  });
});
