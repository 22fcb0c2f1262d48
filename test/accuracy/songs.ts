import { seededRandom } from '../../src/core/signal/random';
import type { Note } from './patterns';

/** A song of eight-bar parts with known bare bars: drums go on, everything else rests. */
export interface Song {
  readonly bpm: number;
  readonly notes: readonly Note[];
  /** One entry a bar: drums alone, drums under music, music alone, or nothing. */
  readonly bars: readonly ('bare' | 'under' | 'tones' | 'quiet')[];
  readonly programs: readonly [channel: number, program: number][];
  readonly firstTick: number;
}

const BASSES = [32, 33, 34, 38, 39];
const CHORDS = [0, 4, 16, 19, 48, 52, 24, 88];
const TUNES = [26, 40, 56, 65, 73, 80, 11];

/** The same seed always gives the same song. Ticks of 1/480 quarter; four quarters a bar. */
export function song(seed: number): Song {
  const random = seededRandom(seed * 131 + 7);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
  const bpm = Math.round(75 + random() * 80);
  const firstTick = 480;
  const bars: Song['bars'][number][] = [];
  const parts: Song['bars'][number][] = ['tones', 'under', 'under', 'bare', 'under', 'bare', 'quiet', 'under'];
  for (const part of parts) {
    const length = part === 'bare' ? 1 + Math.floor(random() * 4) : part === 'quiet' ? 2 : 3 + Math.floor(random() * 3);
    for (let i = 0; i < length; i++) bars.push(part);
  }
  const notes: Note[] = [];
  const root = pick([33, 36, 38, 40]);
  const busy = random() < 0.4;
  const open = random() < 0.4;
  const musicLevel = 55 + random() * 45;
  for (const [bar, kind] of bars.entries()) {
    const at = (step16: number) => firstTick + bar * 1920 + step16 * 120;
    const drum = (step: number, key: number, velocity: number) =>
      notes.push({
        tick: Math.round(at(step) + (random() - 0.5) * 8),
        key,
        velocity: Math.round(Math.max(1, Math.min(127, velocity))),
        channel: 9,
        lengthTicks: 60,
      });
    if (kind === 'bare' || kind === 'under') {
      for (const s of [0, pick([6, 7, 10]), 8]) drum(s, 36, 90 + random() * 37);
      for (const s of [4, 12]) drum(s, 38, 90 + random() * 37);
      for (let s = 0; s < 16; s += busy ? 1 : 2) drum(s, open && s === 6 ? 46 : 42, 50 + random() * 50);
      if (bars[bar + 1] !== kind) for (const s of [13, 14, 15]) drum(s, pick([41, 45, 48, 50]), 80 + random() * 40);
    }
    if (kind === 'under' || kind === 'tones') {
      const tone = (step: number, key: number, channel: number, level: number, length: number) =>
        notes.push({
          tick: at(step),
          key,
          channel,
          velocity: Math.round(Math.max(1, Math.min(127, musicLevel * level))),
          lengthTicks: Math.min(length, 1920 - step * 120),
        });
      const chord = root + pick([0, 5, 7]);
      for (const s of [0, 6, 8, 14]) tone(s, chord + pick([0, 0, 7, 12]), 0, 1.1, 220);
      for (const s of [0, 8]) for (const k of [0, 4, 7]) tone(s, chord + 24 + k, 1, 0.8, 900);
      if (random() < 0.7) for (const s of [2, 5, 10, 13]) tone(s, chord + 36 + pick([0, 2, 4, 7, 9]), 2, 0.9, 240);
    }
  }
  const programs: Song['programs'] = [
    [0, pick(BASSES)],
    [1, pick(CHORDS)],
    [2, pick(TUNES)],
  ];
  return { bpm, notes: notes.sort((a, b) => a.tick - b.tick), bars, programs, firstTick };
}
