import type { KitView } from '@/contract/views';
import { grooveFromMidi, type WholeGroove } from '@/core/groove/midi';
import { noteOf } from '@/core/kit/layout';
import { readMidiFile } from '@/core/midi/file';
import { writeMidiFile } from '@/core/midi/write';
import { tell } from '../parts/notice';
import { keptMessages } from '../play/kept';

/** What was played on a kit between two moments as a groove at a tempo, in the player's own timing. */
export function grooveOfKept(kit: KitView, fromMs: number, toMs: number, bpm: number): WholeGroove | null {
  const notes = new Map(kit.pads.map((pad) => [pad.position, noteOf(pad)]));
  const { messages, strokes } = keptMessages(fromMs - 1, toMs + 60_000, (pad) => notes.get(pad));
  if (strokes === 0) {
    tell('Nothing was played on pads of this kit.');
    return null;
  }
  const name = `${kit.kit.name} as played`;
  return grooveFromMidi(readMidiFile(writeMidiFile(messages, bpm, name)), name, () => crypto.randomUUID());
}
