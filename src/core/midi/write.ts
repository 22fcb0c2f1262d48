import { bytesOf, type MidiMessage } from './messages';

/** Ticks in a quarter note of files that are written: fine enough for the timing of hands. */
export const TICKS_PER_QUARTER = 960;

/** A message and when it comes, in seconds. */
export interface WrittenMessage {
  readonly seconds: number;
  readonly message: MidiMessage;
}

/** A track: its name, and its messages at their ticks, in any order; of the same tick, those given first come first. */
export interface WrittenTrack {
  readonly name: string;
  readonly messages: readonly { readonly tick: number; readonly message: MidiMessage }[];
}

/** What a file tells besides its notes. */
export interface WrittenFile {
  readonly bpm: number;
  readonly title: string;
  readonly meters?: readonly { readonly tick: number; readonly beats: number; readonly beatUnit: number }[];
  /** When it ends, in ticks; otherwise with its last message. */
  readonly ticks?: number;
  readonly tracks: readonly WrittenTrack[];
}

/** Channel 10 of drums, counted from 0. */
export const DRUM_CHANNEL = 9;
const LONGEST_NAME = 127;

/**
 * A Standard MIDI File (MIDI Association, RP-001) of 960 ticks a quarter: format 0 with everything in one track, or format
 * 1 with the time in a track of its own before the others.
 */
export function writeTracks(file: WrittenFile, format: 0 | 1): Uint8Array<ArrayBuffer> {
  const { bpm, title, meters = [], ticks = 0, tracks } = file;
  const microseconds = Math.round(60e6 / bpm);
  const time: Event[] = [
    { tick: 0, bytes: [0xff, 0x51, 3, microseconds >> 16, (microseconds >> 8) & 0xff, microseconds & 0xff] },
    // 24 clocks of MIDI and eight 32nds a quarter, as is usual.
    ...meters.map(({ tick, beats, beatUnit }) => ({
      tick,
      bytes: [0xff, 0x58, 4, beats, Math.round(Math.log2(beatUnit)), 24, 8],
    })),
  ];
  const own = tracks.map(({ messages }) => messages.map(({ tick, message }) => ({ tick, bytes: bytesOf(message) })));
  const chunks =
    format === 0
      ? [trackBytes([...named(title), ...time, ...own.flat()], ticks)]
      : [
          trackBytes([...named(title), ...time], ticks),
          ...tracks.map(({ name }, i) => trackBytes([...named(name), ...(own[i] ?? [])], ticks)),
        ];
  const header = [0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, format, 0, chunks.length, TICKS_PER_QUARTER >> 8];
  return Uint8Array.from([...header, TICKS_PER_QUARTER & 0xff].concat(...chunks));
}

/** A file of format 0 from messages by seconds. */
export function writeMidiFile(messages: readonly WrittenMessage[], bpm = 120, title = ''): Uint8Array<ArrayBuffer> {
  const perTick = Math.round(60e6 / bpm) / 1e6 / TICKS_PER_QUARTER;
  const timed = messages.map(({ seconds, message }) => ({ tick: Math.round(Math.max(0, seconds) / perTick), message }));
  return writeTracks({ bpm, title, tracks: [{ name: '', messages: timed }] }, 0);
}

interface Event {
  readonly tick: number;
  readonly bytes: readonly number[];
}

function named(name: string): Event[] {
  const bytes = [...new TextEncoder().encode(name)].slice(0, LONGEST_NAME);
  return bytes.length > 0 ? [{ tick: 0, bytes: [0xff, 0x03, bytes.length, ...bytes] }] : [];
}

/** A track with its header, ended at `ticks` or after its last event. */
function trackBytes(events: readonly Event[], ticks: number): number[] {
  const data: number[] = [];
  let last = 0;
  for (const { tick, bytes } of [...events].sort((a, b) => a.tick - b.tick)) {
    data.push(...variableLength(tick - last), ...bytes);
    last = tick;
  }
  data.push(...variableLength(Math.max(0, ticks - last)), 0xff, 0x2f, 0);
  const size = [data.length >>> 24, (data.length >>> 16) & 0xff, (data.length >>> 8) & 0xff, data.length & 0xff];
  return [0x4d, 0x54, 0x72, 0x6b, ...size, ...data];
}

/** A number in groups of seven bits, of which all but the last have the high bit. */
function variableLength(value: number): number[] {
  const groups = [value & 0x7f];
  for (let rest = Math.floor(value / 128); rest > 0; rest = Math.floor(rest / 128))
    groups.unshift((rest & 0x7f) | 0x80);
  return groups;
}
