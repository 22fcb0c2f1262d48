import { LONGEST_PERFORMANCE_S } from '@/core/midi/limits';
import type { MidiMessage } from '@/core/midi/messages';
import type { WrittenMessage } from '@/core/midi/write';
import { createStore } from '../parts/store';
import { followPlaying, type Played } from './door';

/** What is played is kept as it comes, the last ten minutes of it, so that any part can be kept for good. */
const kept: Played[] = [];
/** Most that is kept: ten minutes of the fastest hands. */
const MOST = 60_000;

/** How many strokes are kept, and when the first and the last fell, in ms of the page's clock. */
export interface KeptPlaying {
  readonly strokes: number;
  readonly fromMs: number;
  readonly toMs: number;
}

const NOTHING: KeptPlaying = { strokes: 0, fromMs: 0, toMs: 0 };
export const keptPlaying = createStore<KeptPlaying>(NOTHING);
let waits = false;

followPlaying((played) => {
  kept.push(played);
  const oldest = played.timeMs - 1000 * LONGEST_PERFORMANCE_S;
  while (kept.length > MOST || (kept[0] && kept[0].timeMs < oldest)) kept.shift();
  if (waits) return;
  waits = true;
  setTimeout(() => {
    waits = false;
    const strokes = kept.filter(({ kind }) => kind === 'strike');
    const [first, last] = [strokes[0], strokes.at(-1)];
    keptPlaying.set(first && last ? { strokes: strokes.length, fromMs: first.timeMs, toMs: last.timeMs } : NOTHING);
  }, 100);
});

/** When each kept stroke fell, in ms, and how hard it was. */
export function keptStrokes(): { readonly timeMs: number; readonly velocity: number }[] {
  return kept.flatMap((played) => (played.kind === 'strike' ? [played] : []));
}

/** What was played between two moments as MIDI messages, from the first stroke on; `noteOf` gives a pad's note. */
export function keptMessages(
  fromMs: number,
  toMs: number,
  noteOf: (pad: number) => number | undefined,
): { readonly messages: WrittenMessage[]; readonly strokes: number; readonly seconds: number } {
  const within = kept.filter(({ timeMs }) => timeMs >= fromMs && timeMs <= toMs);
  const begun = within.find(({ kind }) => kind === 'strike')?.timeMs ?? 0;
  const messages = within.flatMap((played): WrittenMessage[] => {
    const message = messageOf(played, noteOf);
    return message && played.timeMs >= begun ? [{ seconds: (played.timeMs - begun) / 1000, message }] : [];
  });
  const strokes = messages.filter(({ message }) => message.kind === 'note-on').length;
  return { messages, strokes, seconds: messages.at(-1)?.seconds ?? 0 };
}

function messageOf(played: Played, noteOf: (pad: number) => number | undefined): MidiMessage | null {
  // Drums are on channel 10 (MIDI Association RP-003).
  const channel = 9;
  if (played.kind === 'control')
    return { kind: 'controller', channel, number: played.number, value: Math.round(127 * played.value) };
  const note = noteOf(played.pad);
  if (note === undefined) return null;
  return played.kind === 'strike'
    ? { kind: 'note-on', channel, note, velocity: Math.max(1, Math.min(127, Math.round(played.velocity))) }
    : { kind: 'note-off', channel, note, velocity: 64 };
}
