import { PAD_INITIAL } from '../kit/parameters';
import type { PlayableKit } from '../kit/perform';
import { readyEngine } from '../kit/perform';
import { NO_PROGRAMS } from '../kit/programs';
import { STEP_KINDS } from '../live/figures';
import { programOfBus, ROOM_BUS, STRAIGHT_OUT } from '../play/limits';
import { LOOK_AHEAD_S } from '../play/master';
import { PAD, PLAIN_LAYER, SILENT } from '../play/program';
import { SCORE_FLOATS, writeScore } from '../play/score';
import { Transport } from '../play/transport';
import { peakOf } from '../signal/audio';
import { seededRandom } from '../signal/random';
import type { GrooveNote, GrooveRow } from './model';
import { NOTE_INITIAL } from './parameters';
import { printScore } from './print';
import { scoreOf } from './score';
import { grooveTicks } from './time';

const RATE = 48_000;
const HITS = 4;
const FRAMES = 700;

/** Four pads of noise of their own, which correlate with nothing but themselves. */
function kit(limits: boolean): { playable: PlayableKit; hits: Float32Array[] } {
  const random = seededRandom(174);
  const memory = new Float32Array(HITS * FRAMES).map((_, i) => (random() - 0.5) * Math.exp(-(i % FRAMES) / 150));
  const pads = Array.from({ length: HITS }, (_, position) => ({
    pad: {
      ...PAD_INITIAL,
      id: `pad-${position}`,
      kitId: 'k',
      name: `${position}`,
      family: null,
      position,
      note: 36 + position,
    },
    sound: {
      ...SILENT,
      layers: [{ ...PLAIN_LAYER, left: position * FRAMES, right: position * FRAMES, start: 0, end: FRAMES }],
    },
  }));
  const hits = pads.map((_, n) => memory.slice(n * FRAMES, (n + 1) * FRAMES));
  const sound = { seed: 1, evenVelocity: 0, velocityExponent: 1 };
  return { playable: { sampleRate: RATE, memory, kit: sound, limits, pads, buses: [], programs: NO_PROGRAMS }, hits };
}

/** A busy groove of 64 bars at 174 BPM, off the grid as hands are. */
function groove() {
  const random = seededRandom(64);
  const meters = [{ bar: 0, beats: 4, beatUnit: 4 as const }];
  const of = { id: 'g', name: 'Long', bars: 64, meters, bpm: 174, swing: 0.5, swingOf: 16 as const };
  const rows = Array.from({ length: HITS }, (_, n): GrooveRow => {
    return {
      id: `row-${n}`,
      grooveId: 'g',
      position: n,
      role: '',
      note: 36 + n,
      family: null,
      muted: false,
      alone: false,
    };
  });
  const notes = Array.from({ length: 64 * 8 }, (_, n): GrooveNote => {
    const rowId = `row-${Math.floor(random() * HITS)}`;
    const tick = n * 480 + Math.floor(random() * 130);
    return { id: `n${n}`, rowId, tick, length: 120, ...NOTE_INITIAL, velocity: 127 };
  });
  return { of, rows, notes };
}

const joined = (blocks: Iterable<[Float32Array, Float32Array]>) => {
  const all = [...blocks].map(([left]) => left);
  const out = new Float32Array(all.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const block of all) {
    out.set(block, at);
    at += block.length;
  }
  return out;
};

test.each([true, false])(
  'notes of 64 bars at 174 BPM are found again by correlation within a frame of their ticks (limiter %s)',
  (limits) => {
    const { playable, hits } = kit(limits);
    const { of, rows, notes } = groove();
    const score = scoreOf(
      of,
      rows,
      notes,
      playable.pads.map(({ pad }) => pad),
      { from: 0, to: grooveTicks(of) },
      RATE,
    );
    const printed = joined(printScore(playable, score));
    expect(printed.length).toBeGreaterThanOrEqual(Math.round((64 * 4 * 60 * RATE) / 174));
    const framesPerTick = (60 * RATE) / (174 * 960);
    for (const { tick, rowId } of notes) {
      const hit = hits[Number(rowId.slice(4))] as Float32Array;
      const wanted = tick * framesPerTick;
      let best = Number.NEGATIVE_INFINITY;
      let found = 0;
      for (let at = Math.max(0, Math.round(wanted) - 12); at <= Math.round(wanted) + 12; at++) {
        let sum = 0;
        for (let i = 0; i < 300; i++) sum += (printed[at + i] ?? 0) * (hit[i] as number);
        if (sum > best) [best, found] = [sum, at];
      }
      expect(Math.abs(found - wanted)).toBeLessThanOrEqual(1);
    }
  },
);

test('a loop that seams is exactly a lap, and what rings over its end is at its beginning', () => {
  const { playable } = kit(false);
  const length = 10_000.4;
  const strokes = [{ at: 9900, pad: 0, velocity: 127, from: -1, to: -1 }];
  const loop = joined(printScore(playable, { strokes, length }, { seams: true }));
  expect(loop.length).toBe(10_000);
  const plain = joined(printScore(playable, { strokes, length }));
  expect(plain.length).toBeGreaterThan(10_400);
  // The end of the lap, and behind it what the loop has at its beginning.
  expect(loop.slice(9902, 10_000)).toEqual(plain.slice(9902, 10_000));
  expect(Array.from(loop.slice(0, 400))).toEqual(Array.from(plain.slice(10_000, 10_400)));
});

test('stems add up to the whole where no limiter is', () => {
  const { playable } = kit(false);
  const { of, rows, notes } = groove();
  const score = scoreOf(
    { ...of, bars: 4 },
    rows,
    notes,
    playable.pads.map(({ pad }) => pad),
    { from: 0, to: 4 * 3840 },
    RATE,
  );
  const whole = joined(printScore(playable, score));
  const stems = playable.pads.map(({ pad }) => joined(printScore(playable, score, { only: pad.position })));
  for (let i = 0; i < whole.length; i += 7) {
    const sum = stems.reduce((total, stem) => total + (stem[i] ?? 0), 0);
    expect(Math.abs(sum - (whole[i] as number))).toBeLessThan(1e-5);
  }
});

test('what the page plays in blocks of 128 frames is the print to the bit, notes with values of their own and lanes included', () => {
  const { playable } = kit(true);
  const { of, rows, notes } = groove();
  const pads = playable.pads.map(({ pad }) => pad);
  const random = seededRandom(3);
  const own = notes.map((note) => ({
    ...note,
    levelDb: -12 * random(),
    semitones: Math.round(24 * random()) - 12,
    pan: 2 * random() - 1,
    startMs: 2 * random(),
  }));
  const stretch = { from: 0, to: 4 * 3840 };
  const { strokes, length } = scoreOf({ ...of, bars: 4 }, rows, own, pads, stretch, RATE);
  const changes = Array.from({ length: 200 }, (_, n) => ({
    ...{ at: (n * length) / 200, place: n % HITS, over: n % 3 === 0 ? 0 : 400 },
    patch: [PAD.gain, random(), PAD.pan, random() - 0.5],
  }));
  const printed = joined(printScore(playable, { strokes, length, changes }));
  const { engine, master } = readyEngine(playable);
  const transport = new Transport();
  const score = new Float64Array(SCORE_FLOATS);
  const lap = Math.round(length);
  writeScore(strokes, lap, score, 0, changes);
  transport.load(score, 0, 0);
  transport.start(0, 0);
  const late = Math.round(LOOK_AHEAD_S * RATE);
  const live = new Float32Array(lap);
  for (let at = 0; at < lap + late; at += 128) {
    const left = new Float32Array(128);
    const right = new Float32Array(128);
    transport.schedule(engine, 128);
    engine.process(left, right, 128);
    master.process(left, right, 128);
    for (let i = 0; i < 128; i++) if (at + i >= late && at + i - late < lap) live[at + i - late] = left[i] as number;
  }
  // The last lines of the lap are followed by its beginning in the page, by silence in the print.
  expect(live.slice(0, lap - late)).toEqual(printed.slice(0, lap - late));
  expect(peakOf([live])).toBeGreaterThan(0.05);
});

test('stems of buses, and of what goes straight out, add up to the whole', () => {
  const { playable } = kit(false);
  const pads = playable.pads.map(({ pad, sound }, n) => ({
    pad,
    sound: { ...sound, bus: n < 2 ? n + 1 : 0, roomSend: n === 3 ? 0.5 : 0 },
  }));
  const level = (gain: number) => ({
    kind: STEP_KINDS.indexOf('level'),
    form: 0,
    length: 0,
    on: 1,
    mix: 1,
    figures: [gain],
  });
  const buses = [
    { place: 1, steps: [level(0.5)] },
    { place: 2, steps: [level(1)] },
    { place: ROOM_BUS, steps: [level(0.25)] },
  ];
  const bused = { ...playable, pads, buses };
  const strokes = Array.from({ length: 40 }, (_, n) => ({
    at: n * 900,
    pad: n % HITS,
    velocity: 100,
    from: -1,
    to: -1,
  }));
  const score = { strokes, length: 40_000 };
  const whole = joined(printScore(bused, score));
  const places = [...buses.map(({ place }) => programOfBus(place)), STRAIGHT_OUT];
  const stems = places.map((only) => joined(printScore(bused, score, { only })));
  for (const stem of stems) expect(peakOf([stem])).toBeGreaterThan(0.01);
  for (let i = 0; i < whole.length; i += 5) {
    const sum = stems.reduce((total, stem) => total + (stem[i] ?? 0), 0);
    expect(Math.abs(sum - (whole[i] as number))).toBeLessThan(1e-5);
  }
});
