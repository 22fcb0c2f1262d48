import { bytesOf, type MidiMessage } from './messages';

/** Ticks in a quarter note of files that are written: fine enough for the timing of hands. */
export const TICKS_PER_QUARTER = 960;

/** A message and when it comes, in seconds. */
export interface WrittenMessage {
  readonly seconds: number;
  readonly message: MidiMessage;
}

/**
 * A Standard MIDI File of format 0 (MIDI Association, RP-001): one track with a tempo and the messages, which come in any
 * order; of the same tick, those that were given first come first.
 */
export function writeMidiFile(messages: readonly WrittenMessage[], bpm = 120, title = ''): Uint8Array<ArrayBuffer> {
  const track: number[] = [];
  const name = [...new TextEncoder().encode(title)].slice(0, 127);
  if (name.length > 0) track.push(0, 0xff, 0x03, name.length, ...name);
  const microseconds = Math.round(60e6 / bpm);
  track.push(0, 0xff, 0x51, 3, microseconds >> 16, (microseconds >> 8) & 0xff, microseconds & 0xff);
  const perTick = microseconds / 1e6 / TICKS_PER_QUARTER;
  const timed = messages.map(({ seconds, message }) => ({ tick: Math.round(Math.max(0, seconds) / perTick), message }));
  let last = 0;
  for (const { tick, message } of timed.sort((a, b) => a.tick - b.tick)) {
    track.push(...variableLength(tick - last), ...bytesOf(message));
    last = tick;
  }
  track.push(0, 0xff, 0x2f, 0);
  const bytes = new Uint8Array(22 + track.length);
  const data = new DataView(bytes.buffer);
  bytes.set([0x4d, 0x54, 0x68, 0x64], 0);
  data.setUint32(4, 6);
  data.setUint16(10, 1);
  data.setUint16(12, TICKS_PER_QUARTER);
  bytes.set([0x4d, 0x54, 0x72, 0x6b], 14);
  data.setUint32(18, track.length);
  bytes.set(track, 22);
  return bytes;
}

/** A number in groups of seven bits, of which all but the last have the high bit. */
function variableLength(value: number): number[] {
  const groups = [value & 0x7f];
  for (let rest = Math.floor(value / 128); rest > 0; rest = Math.floor(rest / 128))
    groups.unshift((rest & 0x7f) | 0x80);
  return groups;
}
