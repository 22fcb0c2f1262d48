/** A channel message of MIDI 1.0; channels 0 to 15, all other values 0 to 127, but for a bend of -8192 to 8191. */
export type MidiMessage = { readonly channel: number } & (
  | { readonly kind: 'note-on'; readonly note: number; readonly velocity: number }
  | { readonly kind: 'note-off'; readonly note: number; readonly velocity: number }
  | { readonly kind: 'note-pressure'; readonly note: number; readonly value: number }
  | { readonly kind: 'controller'; readonly number: number; readonly value: number }
  | { readonly kind: 'program'; readonly number: number }
  | { readonly kind: 'pressure'; readonly value: number }
  | { readonly kind: 'bend'; readonly value: number }
);

const SYSEX = 0xf0;
const REAL_TIME = 0xf8;

/** Data bytes of a channel message by its status. */
export function dataBytes(status: number): 1 | 2 {
  const high = status & 0xf0;
  return high === 0xc0 || high === 0xd0 ? 1 : 2;
}

/**
 * A channel message from its bytes. A note on without a velocity is a note off (MIDI Association, "MIDI 1.0 detailed
 * specification", 4.2, "Running status" and "Note off").
 */
export function messageOf(status: number, first: number, second: number): MidiMessage {
  const channel = status & 0x0f;
  switch (status & 0xf0) {
    case 0x80:
      return { kind: 'note-off', channel, note: first, velocity: second };
    case 0x90:
      return second === 0
        ? { kind: 'note-off', channel, note: first, velocity: 64 }
        : { kind: 'note-on', channel, note: first, velocity: second };
    case 0xa0:
      return { kind: 'note-pressure', channel, note: first, value: second };
    case 0xb0:
      return { kind: 'controller', channel, number: first, value: second };
    case 0xc0:
      return { kind: 'program', channel, number: first };
    case 0xd0:
      return { kind: 'pressure', channel, value: first };
    default:
      return { kind: 'bend', channel, value: ((second << 7) | first) - 8192 };
  }
}

/** The bytes of a channel message. */
export function bytesOf(message: MidiMessage): number[] {
  const { channel } = message;
  switch (message.kind) {
    case 'note-off':
      return [0x80 | channel, message.note, message.velocity];
    case 'note-on':
      return [0x90 | channel, message.note, message.velocity];
    case 'note-pressure':
      return [0xa0 | channel, message.note, message.value];
    case 'controller':
      return [0xb0 | channel, message.number, message.value];
    case 'program':
      return [0xc0 | channel, message.number];
    case 'pressure':
      return [0xd0 | channel, message.value];
    case 'bend': {
      const value = message.value + 8192;
      return [0xe0 | channel, value & 0x7f, value >> 7];
    }
  }
}

/**
 * Reads a stream of MIDI bytes in pieces of any size: running status, real-time bytes inside other messages, and system
 * messages that are passed over.
 */
export class MidiStream {
  private status = 0;
  private first = -1;

  /** Gives every channel message that the bytes complete. */
  *read(bytes: Iterable<number>): Generator<MidiMessage> {
    for (const byte of bytes) {
      // Real-time messages are one byte long and may lie between the bytes of others.
      if (byte >= REAL_TIME) continue;
      if (byte >= 0x80) {
        // System messages end running status; their data is passed over until the next status.
        this.status = byte >= SYSEX ? 0 : byte;
        this.first = -1;
        continue;
      }
      if (this.status === 0) continue;
      if (this.first < 0 && dataBytes(this.status) === 2) {
        this.first = byte;
        continue;
      }
      const message = this.first < 0 ? messageOf(this.status, byte, 0) : messageOf(this.status, this.first, byte);
      this.first = -1;
      yield message;
    }
  }
}
