import { readMidiFile } from '@/core/midi/file';
import { bytesOf, type MidiMessage } from '@/core/midi/messages';
import { createStore } from '../parts/store';
import { loseController, receiveMidi } from './controller';

/** The simulated controller: sends true MIDI bytes through the same door as a real one, by hand or from a performance. */
export const SIMULATED = 'simulated';

/** Whether it is plugged in. */
export const plugged = createStore(true);
/** The performance that it replays: its id, and how far it is in seconds. */
export const replaying = createStore<{ readonly id: string; readonly seconds: number } | null>(null);

/** How often a replay looks for messages that are due, in ms. */
const LOOK_MS = 4;

export function sendSimulated(message: MidiMessage, at = performance.now()): void {
  if (plugged.get()) receiveMidi(SIMULATED, bytesOf(message), at);
}

/** Pulls the plug, also in the middle of a roll, or puts it back. */
export function plugSimulated(isIn: boolean): void {
  plugged.set(isIn);
  if (isIn) return;
  stopReplay();
  loseController(SIMULATED);
}

let timer: ReturnType<typeof setInterval> | undefined;

/** Replays a MIDI file from its beginning. */
export function replay(id: string, file: Uint8Array): void {
  stopReplay();
  const { messages, seconds: end } = readMidiFile(file);
  const begun = performance.now();
  let next = 0;
  replaying.set({ id, seconds: 0 });
  timer = setInterval(() => {
    const seconds = (performance.now() - begun) / 1000;
    for (let due = messages[next]; due && due.seconds <= seconds; due = messages[++next])
      sendSimulated(due.message, begun + 1000 * due.seconds);
    replaying.set({ id, seconds });
    if (next >= messages.length && seconds >= end) stopReplay();
  }, LOOK_MS);
}

/** Ends a replay; what it held is let go. */
export function stopReplay(): void {
  if (timer === undefined) return;
  clearInterval(timer);
  timer = undefined;
  replaying.set(null);
  for (const number of [123, 121]) sendSimulated({ kind: 'controller', channel: 0, number, value: 0 });
}
