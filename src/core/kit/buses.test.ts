import { padOf } from '../../../test/pads';
import type { StepSound } from '../live/figures';
import { VoiceEngine } from '../play/engine';
import { PROGRAM_FLOATS, writeProgram } from '../play/program';
import { fromDb } from '../signal/units';
import type { BusStep } from '../treatment/live';
import { type Busing, busSound, NO_BUSES, placedBuses } from './buses';
import { matchingGainDb } from './match';
import type { Bus } from './model';
import { type BUS_KINDS, MOST_BUSES } from './parameters';
import { playedSounds, poolSounds } from './render';

const RATE = 44_100;
const FRAMES = 20_000;
/** A rising and falling tone, different on both sides. */
const tone = [0.4, 0.3].map((level) =>
  Float32Array.from({ length: 1000 }, (_, i) => level * Math.sin(i / 7) * Math.sin((Math.PI * i) / 1000)),
);

function busOf(id: string, kind: (typeof BUS_KINDS)[number] = 'bus', set: Partial<Bus> = {}): Bus {
  return { id, kitId: 'kit-id-1', position: 0, name: id, kind, levelDb: 0, muted: false, ...set };
}

const stepOf = (busId: string, processor: BusStep['processor'], values = {}) =>
  ({ id: `${busId}-${processor}`, busId, position: 0, processor, active: true, ...values }) as unknown as BusStep;

/** Pads of one sound, as the engine plays them in a kit. */
function readied(sets: readonly Parameters<typeof padOf>[1][], busing: Busing) {
  const pads = sets.map((set, i) => padOf(i, { velocityDb: 0, ...set }));
  const hits = pads.flatMap(({ layers }) => layers.map(({ hit }) => hit));
  const sound = { sampleRate: RATE, channelCount: 2, frames: 1000, gain: 1, loudest: 0.4 };
  const pool = poolSounds(hits, () => ({
    ...sound,
    read: (from, to) => ({ sampleRate: RATE, channels: tone.map((side) => side.subarray(from, to)) }),
  }));
  return playedSounds(pads, pool, RATE, 120, busing);
}

/** What two pads, struck at once and again later, sound like in a kit. */
function heard(
  sets: readonly Parameters<typeof padOf>[1][],
  busing: Busing,
  { block = 128, frames = FRAMES }: { block?: number; frames?: number } = {},
): [Float32Array, Float32Array] {
  const played = readied(sets, busing);
  const engine = new VoiceEngine(RATE, played.memory);
  for (const [i, one] of played.sounds.entries()) engine.setPad(i, one);
  for (const { place, steps } of played.buses) engine.setBus(place, steps);
  for (const [i] of sets.entries()) {
    engine.strike(i, 127, 100 * i);
    engine.strike(i, 127, 5000 + 37 * i);
  }
  const [left, right] = [new Float32Array(frames), new Float32Array(frames)];
  for (let at = 0; at < frames; at += block) engine.process(left, right, Math.min(block, frames - at), at);
  return [left, right];
}

function furthest(a: readonly Float32Array[], b: readonly Float32Array[]): number {
  return Math.max(
    ...a.map((side, c) => side.reduce((most, x, i) => Math.max(most, Math.abs(x - (b[c]?.[i] ?? 0))), 0)),
  );
}

const plain = heard([{}, {}], { buses: [], busSteps: [] });

test('a bus that does nothing changes nothing, nor does one that is not there', () => {
  const buses = [busOf('drums')];
  expect(furthest(heard([{ busId: 'drums' }, { busId: 'drums' }], { buses, busSteps: [] }), plain)).toBeLessThan(1e-7);
  expect(heard([{ busId: 'gone' }, {}], { buses, busSteps: [] })).toEqual(plain);
});

test('level and mute of a bus are those of all its pads, and of no others', () => {
  const on = (set: Partial<Bus>) => ({ buses: [busOf('drums', 'bus', set)], busSteps: [] });
  const softer = heard([{ busId: 'drums' }, {}], on({ levelDb: -6 }));
  expect(furthest(softer, heard([{ levelDb: -6 }, {}], { buses: [], busSteps: [] }))).toBeLessThan(1e-6);
  const muted = heard([{ busId: 'drums' }, {}], on({ muted: true }));
  expect(furthest(muted, heard([{ muted: true }, {}], { buses: [], busSteps: [] }))).toBeLessThan(1e-7);
});

test('a bus hears its pads together: its compressor is pressed by one pad while the other sounds', () => {
  const compressor = stepOf('drums', 'compressor', { thresholdDb: -30, ratio: 10, attackMs: 1, releaseMs: 50 });
  const busing = { buses: [busOf('drums')], busSteps: [compressor] };
  const both = heard([{ busId: 'drums' }, { busId: 'drums', levelDb: -30 }], busing);
  const [loud, soft] = [
    heard([{ busId: 'drums' }], busing),
    heard([{ muted: true }, { busId: 'drums', levelDb: -30 }], busing),
  ];
  const apart = loud.map((side, c) => side.map((x, i) => x + (soft[c]?.[i] ?? 0)));
  expect(furthest(both, apart)).toBeGreaterThan(0.001);
});

test('what pads send comes out of the room and the echo, whatever the level of the send', () => {
  const buses = [busOf('echoes', 'echo')];
  const busSteps = [stepOf('echoes', 'echo', { timeMs: 100, feedback: 0, toneHz: 20_000, mix: 1 })];
  const sent = heard([{ echoSendDb: -6 }, {}], { buses, busSteps });
  const wet = sent.map((side, c) => side.map((x, i) => x - (plain[c]?.[i] ?? 0)));
  const later = Math.round(0.1 * RATE);
  // The low-pass at 20 kHz takes a little.
  const [peak, dry] = [wet, heard([{}], { buses: [], busSteps: [] })].map((sides, n) =>
    Math.max(...(sides[0] as Float32Array).subarray(n === 0 ? later : 0, (n === 0 ? later : 0) + 1000)),
  ) as [number, number];
  expect(peak / dry).toBeCloseTo(fromDb(-6), 2);
  expect(Math.max(...(wet[0] as Float32Array).subarray(0, later).map(Math.abs))).toBeLessThan(1e-7);
  // Without an echo in the kit a send comes to nothing, and so it does from a muted bus.
  expect(furthest(heard([{ echoSendDb: -6 }, {}], { buses: [], busSteps: [] }), plain)).toBe(0);
  const muted = { buses: [...buses, busOf('drums', 'bus', { muted: true })], busSteps };
  expect(Math.max(...heard([{ echoSendDb: 0, busId: 'drums' }], muted)[0])).toBe(0);
});

test('an echo follows the tempo: an eighth at 120 is a quarter of a second', () => {
  const busing = {
    buses: [busOf('echoes', 'echo')],
    busSteps: [stepOf('echoes', 'echo', { period: '1/8', feedback: 0, mix: 1 })],
  };
  const [left] = heard([{ echoSendDb: 0 }], busing, { frames: 16_000 });
  const at = RATE / 4;
  expect(left.subarray(6100, at).every((x) => x === 0)).toBe(true);
  expect(left.subarray(at, at + 20).some((x) => x !== 0)).toBe(true);
});

test('blocks of 1, 64, 128 and 1000 frames give the same frames, with sends, steps and buses', () => {
  const buses = [busOf('drums', 'bus', { levelDb: -3 }), busOf('hall', 'room'), busOf('echoes', 'echo')];
  const busSteps = [
    stepOf('drums', 'compressor', { thresholdDb: -20 }),
    stepOf('hall', 'room', { mix: 1 }),
    stepOf('echoes', 'echo', { timeMs: 33, mix: 1 }),
  ];
  const sets = [
    { busId: 'drums', roomSendDb: -8 },
    { echoSendDb: -10, roomSendDb: -20 },
  ];
  const [first, ...others] = [1, 64, 128, 1000].map((block) =>
    heard(sets, { buses, busSteps }, { block, frames: 12_000 }),
  );
  for (const other of others) expect(other).toEqual(first);
});

test('buses beyond the most are left out, and there is one room and one echo', () => {
  const many = Array.from({ length: MOST_BUSES + 5 }, (_, i) => busOf(`bus-${i}`, 'bus', { position: i }));
  const placed = placedBuses([...many, busOf('a', 'room'), busOf('b', 'room'), busOf('c', 'echo')]);
  expect(placed).toHaveLength(MOST_BUSES + 2);
  expect(new Set(placed.map(({ place }) => place)).size).toBe(placed.length);
});

test('before a compressor a bus is brought to the loudness that it has after it', () => {
  const compressor = stepOf('drums', 'compressor', { thresholdDb: -40, ratio: 8, attackMs: 1, makeUpDb: 3 });
  const bus = busOf('drums');
  const { memory, sounds } = readied([{}, { levelDb: -6 }], NO_BUSES);
  const pads = sounds.map((sound, position) => {
    const program = new Float64Array(PROGRAM_FLOATS);
    writeProgram(sound, program);
    return { position, program };
  });
  const [on, off] = [true, false].map((active) => busSound(bus, [{ ...compressor, active }], RATE, () => null)) as [
    StepSound[],
    StepSound[],
  ];
  const gain = matchingGainDb({ rate: RATE, memory, pads, on, off });
  expect(Math.abs(gain)).toBeGreaterThan(1);
  // Brought there, nothing is left to do.
  const brought = busSound({ ...bus, levelDb: gain }, [{ ...compressor, active: false }], RATE, () => null);
  expect(matchingGainDb({ rate: RATE, memory, pads, on, off: brought })).toBeCloseTo(0, 1);
  expect(matchingGainDb({ rate: RATE, memory, pads: [], on, off })).toBe(0);
});
