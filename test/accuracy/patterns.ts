import { seededRandom } from '../../src/core/signal/random';

/** A struck note of a test pattern: time in ticks of 1/480 quarter, GM percussion or melodic key. */
export interface Note {
  readonly tick: number;
  readonly key: number;
  readonly velocity: number;
  readonly channel: number;
  readonly lengthTicks: number;
}

export const GROUPS = ['plain', 'busy', 'overlapping', 'under music', 'field takes', 'degraded'] as const;
export type Group = (typeof GROUPS)[number];

export interface Pattern {
  readonly group: Group;
  readonly seed: number;
  readonly bpm: number;
  readonly notes: readonly Note[];
}

/** The channel of drums, counted from 0 (MIDI Association RP-003). */
export const DRUMS = 9;
// Keys of the GM Level 1 percussion key map (MIDI Association RP-003).
const KICK = 36;
const SNARE = 38;
const RIM = 37;
const CLOSED = 42;
const OPEN = 46;
const CRASH = 49;
const RIDE = 51;
const TOMS = [41, 45, 48, 50];

/** Hands, wood and metal beside the usual drums (RP-003). */
const OTHERS = [RIM, 39, CLOSED, OPEN, CRASH, RIDE, ...TOMS, 47, 54, 56, 60, 62, 63, 64, 65, 69, 70, 75, 76];
/** Second drums of a family. */
const SECONDS = [35, SNARE, 40];
/** How far strokes of one step are apart at most, in seconds. */
const APART_S = 0.012;

/**
 * Strokes at random of three to eight drums, alone and together, four bars; there may be two of a family, and one that is
 * never heard alone.
 */
export function mixedPattern(seed: number): Pattern {
  const random = seededRandom(seed * 131 + 7);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
  const bpm = 70 + Math.round(random() * 90);
  const chosen = new Set<number>([KICK, pick([SNARE, 40]), pick([CLOSED, OPEN])]);
  const count = 3 + Math.floor(random() * 6);
  while (chosen.size < count) chosen.add(random() < 0.25 ? pick(SECONDS) : pick(OTHERS));
  const keys = [...chosen];
  // Some are never heard alone.
  const joined = random() < 0.6 ? { key: pick(keys), to: pick(keys) } : null;
  const alone = 0.3 + 0.5 * random();
  const notes: Note[] = [];
  for (let step = 0; step < 64; step++) {
    if (random() > 0.55) continue;
    const kind = random();
    const size = kind < alone ? 1 : kind < alone + 0.8 * (1 - alone) ? 2 : 3;
    const struck = new Set<number>();
    while (struck.size < size) struck.add(pick(keys));
    if (joined && struck.has(joined.key)) struck.add(joined.to);
    for (const key of struck) {
      const tick = Math.round(480 + step * 120 + (random() - 0.5) * APART_S * (bpm / 60) * 480);
      notes.push({ tick, key, velocity: 40 + Math.floor(random() * 87), channel: DRUMS, lengthTicks: 60 });
    }
  }
  return { group: 'plain', seed, bpm, notes: notes.sort((a, b) => a.tick - b.tick) };
}

/** A pattern of a group; the same group and seed always give the same notes. */
export function pattern(group: Group, seed: number): Pattern {
  const random = seededRandom(seed * 977 + GROUPS.indexOf(group) * 31 + 5);
  const bpm = Math.round(80 + random() * 70);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
  const notes: Note[] = [];
  const hit = (tick: number, key: number, velocity: number) =>
    notes.push({
      tick: Math.round(tick),
      key,
      velocity: Math.max(1, Math.min(127, Math.round(velocity))),
      channel: DRUMS,
      lengthTicks: 60,
    });
  const ticksOf = (ms: number) => (ms / 60000) * bpm * 480;
  const human = () => ticksOf((random() - 0.5) * 12);
  const bars = group === 'field takes' ? 6 : 4;
  for (let bar = 0; bar < bars; bar++) {
    const at = (step16: number) => 480 + bar * 1920 + step16 * 120;
    if (group === 'field takes') {
      for (const step of [0, 5, 11])
        hit(
          at(step) + random() * 200,
          pick([KICK, SNARE, RIM, ...TOMS, 54, 56, 60, 64, 69, 75]),
          8 + 119 * random() ** 1.5,
        );
      continue;
    }
    for (let s = 0; s < 16; s += group === 'busy' ? 1 : 2) {
      if (random() < 0.92)
        hit(at(s) + human(), group === 'overlapping' && s % 4 === 2 ? OPEN : CLOSED, 55 + random() * 50);
    }
    for (const s of [0, pick([6, 7, 10]), 8]) hit(at(s) + human(), KICK, 90 + random() * 37);
    for (const s of [4, 12]) {
      hit(at(s) + human(), SNARE, 90 + random() * 37);
      if (group === 'busy' && random() < 0.6) hit(at(s) - ticksOf(25 + random() * 15), SNARE, 45 + random() * 30);
    }
    if (group === 'busy') {
      for (const s of [3, 7, 9, 15]) if (random() < 0.7) hit(at(s) + human(), SNARE, 22 + random() * 20);
      if (bar === bars - 1) for (let i = 0; i < 12; i++) hit(at(12) + i * 40, SNARE, 60 + i * 5);
    }
    if (group === 'overlapping') {
      if (bar % 2 === 0) hit(at(0), CRASH, 110);
      for (const s of [2, 6, 14]) hit(at(s) + human(), RIDE, 70 + random() * 40);
      for (const s of [13, 14, 15]) hit(at(s) + human(), pick(TOMS), 80 + random() * 40);
    }
    if (group === 'under music') {
      const root = pick([33, 36, 38, 40]);
      for (const s of [0, 6, 8, 14])
        notes.push({ tick: at(s), key: root + pick([0, 0, 7, 12]), velocity: 80, channel: 0, lengthTicks: 200 });
      for (const s of [0, 8])
        for (const k of [0, 4, 7])
          notes.push({ tick: at(s), key: root + 24 + k, velocity: 62, channel: 1, lengthTicks: 840 });
      for (const s of [2, 5, 10, 13])
        notes.push({ tick: at(s), key: root + 36 + pick([0, 2, 4, 7, 9]), velocity: 70, channel: 2, lengthTicks: 220 });
    }
  }
  return { group, seed, bpm, notes: notes.sort((a, b) => a.tick - b.tick) };
}

/** MIDI programs (0-based, GM Level 1 sound set) of the melodic channels: fingered bass, electric piano, jazz guitar. */
export const PROGRAMS: readonly [channel: number, program: number][] = [
  [0, 33],
  [1, 4],
  [2, 26],
];
