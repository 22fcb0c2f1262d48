import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { NO_PROGRAMS } from '@/core/kit/programs';
import { readWav } from '../../src/core/format/wav';
import { noteOf } from '../../src/core/kit/layout';
import { generalMidiLayout, padOfRole } from '../../src/core/kit/layouts';
import type { Pad } from '../../src/core/kit/model';
import { PAD_INITIAL } from '../../src/core/kit/parameters';
import { type PlayableKit, perform } from '../../src/core/kit/perform';
import { readMidiFile } from '../../src/core/midi/file';
import { writeMidiFile } from '../../src/core/midi/write';
import { PLAIN_LAYER, SILENT } from '../../src/core/play/program';
import { toMono } from '../../src/core/signal/audio';
import { remove, scratch } from '../harness';

// The keys of General MIDI percussion (MIDI Association, RP-003), played by fluidsynth with a font of that standard, and by
// kits laid out so.

const RATE = 48_000;
const KEYS = Array.from({ length: 81 - 35 + 1 }, (_, i) => 35 + i);
const APART_S = 0.4;
const FONT = '/usr/share/sounds/sf2/TimGM6mb.sf2';
let folder: string;
beforeAll(() => {
  folder = scratch();
});
afterAll(() => remove(folder));

/** A kit of that layout, whose pads all play a short tone of their own; some roles may be missing. */
function kitOf(hz: number, without: readonly number[] = []): PlayableKit & { readonly roles: readonly Pad[] } {
  const memory = Float32Array.from(
    { length: 4000 },
    (_, i) => 0.5 * Math.cos((2 * Math.PI * hz * i) / RATE) * Math.exp(-i / 500),
  );
  const places = generalMidiLayout().filter((place) => !without.includes(noteOf(place)));
  const roles = places.map(({ position, role, family, note, settings }): Pad => {
    const id = `pad-${position}`;
    return { ...PAD_INITIAL, ...settings, id, kitId: 'kit', position, name: role, role, family, note };
  });
  const layer = { ...PLAIN_LAYER, left: 0, right: 0, start: 0, end: memory.length };
  const pads = roles.map((pad) => ({ pad, sound: { ...SILENT, layers: [layer] } }));
  return {
    sampleRate: RATE,
    memory,
    kit: { seed: 1, evenVelocity: 0, velocityExponent: 1 },
    limits: false,
    pads,
    buses: [],
    programs: NO_PROGRAMS,
    roles,
  };
}

/** Which keys are heard: those in whose time something rises above silence, and how many frames after its beginning. */
function heardIn(mono: Float32Array, floor: number): Map<number, number> {
  const found = new Map<number, number>();
  for (const [i, key] of KEYS.entries()) {
    const from = Math.round((1 + i * APART_S) * RATE);
    const after = mono.subarray(from, from + Math.round(APART_S * RATE)).findIndex((x) => Math.abs(x) > floor);
    if (after >= 0) found.set(key, after);
  }
  return found;
}

test('a General MIDI file plays the same notes in three kits as in fluidsynth, each on its frame', () => {
  const [midi, wav] = [join(folder, 'keys.mid'), join(folder, 'keys.wav')];
  const notes = KEYS.flatMap((note, i) => {
    const on = { seconds: 1 + i * APART_S, message: { kind: 'note-on', channel: 9, note, velocity: 110 } } as const;
    const off = { seconds: on.seconds + 0.1, message: { kind: 'note-off', channel: 9, note, velocity: 0 } } as const;
    return [on, off];
  });
  writeFileSync(midi, writeMidiFile(notes, 120));
  const options = ['-ni', '-R', '0', '-C', '0', '-r', String(RATE), '-O', 'float', '-T', 'wav', '-F', wav];
  execFileSync('fluidsynth', [...options, FONT, midi], { stdio: 'ignore' });
  const outside = heardIn(toMono(readWav(readFileSync(wav)).audio), 1e-3);
  expect(outside.size).toBeGreaterThan(40);
  const { messages } = readMidiFile(readFileSync(midi));
  for (const kit of [kitOf(300), kitOf(800), kitOf(2000)]) {
    const blocks = [...perform(kit, messages)].map(([left]) => left);
    const whole = new Float32Array(blocks.reduce((sum, { length }) => sum + length, 0));
    let at = 0;
    for (const block of blocks) {
      whole.set(block, at);
      at += block.length;
    }
    const own = heardIn(whole, 0.01);
    expect([...own.keys()]).toEqual(expect.arrayContaining([...outside.keys()]));
    for (const after of own.values()) expect(after).toBe(0);
  }
});

test('every role of a rhythm has its place in each kit, and one that is missing a substitute of its family', () => {
  const second = kitOf(800);
  const third = kitOf(2000, [35]);
  for (const place of generalMidiLayout()) {
    const inSecond = padOfRole(place, second.roles);
    expect(inSecond).toMatchObject({ isSubstitute: false, pad: { position: place.position } });
    const inThird = padOfRole(place, third.roles);
    expect(inThird?.isSubstitute).toBe(noteOf(place) === 35);
    expect(inThird?.pad.family).toBe(place.family);
  }
});
