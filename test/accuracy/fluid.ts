import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { writeMidi } from 'midi-file';
import { readWav } from '../../src/core/format/wav';
import { toMono } from '../../src/core/signal/audio';
import { DRUMS, type Note, PROGRAMS } from './patterns';

export const RATE = 44100;

/** Renders notes through a SoundFont with fluidsynth, reverb and chorus off, to one channel of float samples. */
export function renderNotes(
  fonts: readonly string[],
  notes: readonly Note[],
  bpm: number,
  seconds: number,
  folder: string,
  silenceBefore: readonly number[] = [],
  programs: readonly (readonly [channel: number, program: number])[] = PROGRAMS,
): Float32Array {
  // The renderer would take its own default font instead, and say nothing that fails.
  const missing = fonts.find((font) => !existsSync(font));
  if (missing) throw new Error(`${missing} is missing: install the Debian packages named in docs/onsets.md.`);
  // A font that holds nothing but a kit has it as program 0 of bank 0, where a percussion channel does not look.
  const drumChannel = fonts.length > 1 ? 3 : 9;
  const midi = join(folder, 'notes.mid');
  writeNotes(midi, notes, bpm, seconds, { drumChannel, silenceBefore, programs });
  const wav = join(folder, 'notes.wav');
  const options = ['-ni', '-R', '0', '-C', '0', '-g', '0.4', '-r', String(RATE), '-O', 'float', '-T', 'wav', '-F', wav];
  execFileSync('fluidsynth', [...options, ...fonts, midi], { stdio: 'ignore' });
  const mono = toMono(readWav(readFileSync(wav)).audio);
  const length = Math.round(seconds * RATE);
  const out = new Float32Array(length);
  out.set(mono.subarray(0, length));
  return out;
}

export interface MidiOptions {
  /** Where notes of the channel of drums go. */
  readonly drumChannel?: number;
  /** Ticks before which everything is silenced. */
  readonly silenceBefore?: readonly number[];
  readonly programs?: readonly (readonly [channel: number, program: number])[];
}

/** Writes notes as a Standard MIDI File of 480 ticks a quarter. */
export function writeNotes(
  path: string,
  notes: readonly Note[],
  bpm: number,
  seconds: number,
  { drumChannel = DRUMS, silenceBefore = [], programs = [] }: MidiOptions = {},
): void {
  const events: { tick: number; order: number; event: Record<string, unknown> }[] = [];
  for (const note of notes) {
    const common = { channel: note.channel === DRUMS ? drumChannel : note.channel, noteNumber: note.key };
    events.push({ tick: note.tick, order: 2, event: { type: 'noteOn', velocity: note.velocity, ...common } });
    events.push({ tick: note.tick + note.lengthTicks, order: 1, event: { type: 'noteOff', velocity: 0, ...common } });
  }
  for (const tick of silenceBefore) {
    for (const channel of [0, 1, 2, drumChannel]) {
      events.push({ tick, order: 0, event: { type: 'controller', channel, controllerType: 120, value: 0 } });
    }
  }
  events.sort((a, b) => a.tick - b.tick || a.order - b.order);
  const track: Record<string, unknown>[] = [
    { deltaTime: 0, meta: true, type: 'setTempo', microsecondsPerBeat: Math.round(60e6 / bpm) },
    ...programs.map(([channel, programNumber]) => ({ deltaTime: 0, type: 'programChange', channel, programNumber })),
  ];
  let now = 0;
  for (const { tick, event } of events) {
    track.push({ deltaTime: tick - now, ...event });
    now = tick;
  }
  const endTick = Math.ceil((seconds / 60) * bpm * 480);
  track.push({ deltaTime: Math.max(0, endTick - now), meta: true, type: 'endOfTrack' });
  writeFileSync(
    path,
    Uint8Array.from(writeMidi({ header: { format: 0, numTracks: 1, ticksPerBeat: 480 }, tracks: [track] } as never)),
  );
}
