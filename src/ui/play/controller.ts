import { MidiStream } from '@/core/midi/messages';
import { MidiHands } from '@/core/midi/playing';
import { createStore } from '../parts/store';
import { playerFor } from './door';

/** The door for MIDI from any controller, real or simulated: bytes come in, pads are played. */

/** Channel that is listened to, 0 to 15; null for all. */
export const channel = createStore<number | null>(null);
/** Waits for the next note, which is learnt instead of played; null otherwise. */
export const learning = createStore<((note: number) => void) | null>(null);
/** The last message that came, in words, and how many came. */
export const lastHeard = createStore<{ readonly text: string; readonly count: number }>({ text: '', count: 0 });

let padsByNote: ReadonlyMap<number, readonly number[]> = new Map();
let timeMs = 0;
const player = playerFor(() => timeMs);

/** Sets which pads each note plays. */
export function setPadNotes(pads: ReadonlyMap<number, readonly number[]>): void {
  padsByNote = pads;
}

interface Controller {
  readonly stream: MidiStream;
  readonly hands: MidiHands;
}

const controllers = new Map<string, Controller>();

function controllerOf(id: string): Controller {
  const known = controllers.get(id);
  if (known) return known;
  const made = { stream: new MidiStream(), hands: new MidiHands(player, (note) => padsByNote.get(note) ?? []) };
  controllers.set(id, made);
  return made;
}

/** Bytes of a controller, at a time of the page's clock in ms. */
export function receiveMidi(id: string, bytes: Iterable<number>, at: number): void {
  const { stream, hands } = controllerOf(id);
  timeMs = at;
  for (const message of stream.read(bytes)) {
    const wanted = channel.get();
    if (wanted !== null && message.channel !== wanted) continue;
    tellHeard(describe(message));
    if (message.kind === 'note-on') {
      const learn = learning.get();
      if (learn) {
        learning.set(null);
        learn(message.note);
        continue;
      }
    }
    hands.play(message);
  }
}

/** A controller has gone: what it held is let go. */
export function loseController(id: string): void {
  const known = controllers.get(id);
  if (!known) return;
  timeMs = performance.now();
  known.hands.letAllGo();
  controllers.delete(id);
}

let waiting: string | null = null;
let count = 0;

/** What came is shown once a frame. */
function tellHeard(text: string): void {
  count++;
  const isFirst = waiting === null;
  waiting = text;
  if (!isFirst) return;
  requestAnimationFrame(() => {
    lastHeard.set({ text: waiting ?? '', count });
    waiting = null;
  });
}

function describe(message: ReturnType<MidiStream['read']> extends Generator<infer M> ? M : never): string {
  const on = `channel ${message.channel + 1}`;
  switch (message.kind) {
    case 'note-on':
      return `note ${message.note} on, velocity ${message.velocity}, ${on}`;
    case 'note-off':
      return `note ${message.note} off, ${on}`;
    case 'note-pressure':
      return `pressure ${message.value} on note ${message.note}, ${on}`;
    case 'pressure':
      return `pressure ${message.value}, ${on}`;
    case 'controller':
      return `controller ${message.number} at ${message.value}, ${on}`;
    case 'program':
      return `program ${message.number}, ${on}`;
    case 'bend':
      return `bend ${message.value}, ${on}`;
  }
}
