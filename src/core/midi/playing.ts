import type { MidiMessage } from './messages';

/** What a performance does to the pads of a kit. */
export interface PadPlayer {
  /** Velocity 1 to 127. */
  strike(pad: number, velocity: number): void;
  release(pad: number): void;
  /** Value 0 to 1. */
  control(number: number, value: number): void;
  /** A pad, or all of them for -1; value 0 to 1. */
  press(pad: number, value: number): void;
  stop(): void;
}

const PEDAL = 64;
const ALL_SOUND_OFF = 120;
const RESET_CONTROLLERS = 121;
const ALL_NOTES_OFF = 123;
const CHANNELS = 16;

/**
 * Plays pads by MIDI messages. A pedal that is down keeps what is let go until it is up; all notes off lets everything go
 * and all sound off ends it (MIDI Association, "MIDI 1.0 detailed specification", channel mode messages). `padsOf` gives
 * the pads of a note.
 */
export class MidiHands {
  /** Channels on which each note is down. */
  private readonly down = new Map<number, Set<number>>();
  private readonly pedals = new Set<number>();
  /** Notes let go while the pedal was down. */
  private readonly kept = new Set<number>();

  constructor(
    private readonly player: PadPlayer,
    private readonly padsOf: (note: number) => readonly number[],
  ) {}

  play(message: MidiMessage): void {
    const { channel } = message;
    switch (message.kind) {
      case 'note-on':
        this.down.set(message.note, (this.down.get(message.note) ?? new Set()).add(channel));
        this.kept.delete(message.note);
        for (const pad of this.padsOf(message.note)) this.player.strike(pad, message.velocity);
        break;
      case 'note-off':
        this.letGo(message.note, channel);
        break;
      case 'note-pressure':
        for (const pad of this.padsOf(message.note)) this.player.press(pad, message.value / 127);
        break;
      case 'pressure':
        this.player.press(-1, message.value / 127);
        break;
      case 'controller':
        this.control(channel, message.number, message.value);
        break;
      case 'program':
      case 'bend':
        break;
    }
  }

  /** Lets everything go: for a controller that is gone. */
  letAllGo(): void {
    for (let channel = 0; channel < CHANNELS; channel++) this.pedal(channel, false);
    for (const note of [...this.down.keys()]) this.end(note);
    this.down.clear();
    this.player.press(-1, 0);
  }

  private control(channel: number, number: number, value: number): void {
    if (number === PEDAL) this.pedal(channel, value >= 64);
    else if (number === ALL_SOUND_OFF) this.player.stop();
    else if (number === RESET_CONTROLLERS) {
      this.pedal(channel, false);
      for (let n = 0; n < ALL_SOUND_OFF; n++) this.player.control(n, 0);
    } else if (number >= ALL_NOTES_OFF) {
      for (const note of [...this.down.keys()]) this.letGo(note, channel);
    } else this.player.control(number, value / 127);
  }

  private letGo(note: number, channel: number): void {
    const channels = this.down.get(note);
    if (!channels?.delete(channel) || channels.size > 0) return;
    this.down.delete(note);
    if (this.pedals.has(channel)) this.kept.add(note);
    else this.end(note);
  }

  private pedal(channel: number, isDown: boolean): void {
    if (isDown) this.pedals.add(channel);
    else this.pedals.delete(channel);
    if (this.pedals.size > 0) return;
    for (const note of this.kept) this.end(note);
    this.kept.clear();
  }

  private end(note: number): void {
    for (const pad of this.padsOf(note)) {
      this.player.press(pad, 0);
      this.player.release(pad);
    }
  }
}
