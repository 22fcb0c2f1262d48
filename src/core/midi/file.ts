import { UndercroftError } from '../errors';
import { dataBytes, type MidiMessage, messageOf } from './messages';

/** A message of a file at its time. */
export interface TimedMessage {
  readonly tick: number;
  readonly seconds: number;
  readonly track: number;
  readonly message: MidiMessage;
}

export interface MidiFile {
  readonly format: 0 | 1;
  /** In order of time. */
  readonly messages: readonly TimedMessage[];
  /** Ticks in a quarter note; null where the file counts frames of film. */
  readonly ticksPerQuarter: number | null;
  /** Tempi by tick, in quarter notes a minute; at least one, at tick 0. */
  readonly tempos: readonly { readonly tick: number; readonly bpm: number }[];
  readonly signatures: readonly { readonly tick: number; readonly beats: number; readonly beatUnit: number }[];
  /** Names of its tracks, empty where a track has none. */
  readonly names: readonly string[];
  /** When its last track ends. */
  readonly seconds: number;
  readonly ticks: number;
  /** What could not be read, in words. */
  readonly faults: readonly string[];
}

/** Most events that are read: hours of playing. */
const MOST_EVENTS = 1_000_000;
const PLAIN_BPM = 120;

interface Raw {
  readonly tick: number;
  readonly track: number;
  readonly message: MidiMessage | null;
  readonly microseconds?: number;
  readonly signature?: readonly [number, number];
  readonly name?: string;
}

/**
 * Reads a Standard MIDI File of format 0 or 1 (MIDI Association, "Standard MIDI files 1.0", RP-001): running status, tempi
 * and signatures, SMPTE time. A track that breaks off is read up to there and named in `faults`. Throws
 * `unsupported-audio` for format 2 and `damaged-audio` where there is nothing to read.
 */
export function readMidiFile(bytes: Uint8Array): MidiFile {
  const data = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 14 || tagAt(bytes, 0) !== 'MThd')
    throw new UndercroftError('damaged-audio', 'This is no Standard MIDI File: it does not begin with "MThd".');
  const format = data.getUint16(8);
  if (format > 1)
    throw new UndercroftError(
      'unsupported-audio',
      `This MIDI file is of format ${format}, of which each track is a piece of its own; save it as format 0 or 1.`,
    );
  const division = data.getUint16(12);
  const faults: string[] = [];
  const raw: Raw[] = [];
  let ends = 0;
  let track = 0;
  for (let at = 8 + data.getUint32(4); at + 8 <= bytes.length; ) {
    const length = data.getUint32(at + 4);
    if (tagAt(bytes, at) === 'MTrk') {
      const end = Math.min(bytes.length, at + 8 + length);
      if (at + 8 + length > bytes.length) faults.push(`track ${track + 1} breaks off before its end`);
      ends = Math.max(ends, readTrack(bytes, at + 8, end, track++, raw, faults));
    }
    at += 8 + length;
  }
  if (track === 0) throw new UndercroftError('damaged-audio', 'This MIDI file has no tracks.');
  if (division === 0) throw new UndercroftError('damaged-audio', 'This MIDI file does not say how long a tick is.');
  raw.sort((a, b) => a.tick - b.tick || a.track - b.track);
  return timed(format as 0 | 1, division, raw, ends, faults);
}

function timed(format: 0 | 1, division: number, raw: readonly Raw[], ends: number, faults: string[]): MidiFile {
  const isFilm = (division & 0x8000) !== 0;
  const ticksPerQuarter = isFilm ? null : division;
  // Frames a second as a negative byte (29 stands for 29.97), then ticks a frame.
  const film = 256 - (division >> 8);
  const filmRate = (film === 29 ? 30_000 / 1001 : film) * (division & 0xff);
  const messages: TimedMessage[] = [];
  const tempos: { tick: number; bpm: number }[] = [{ tick: 0, bpm: PLAIN_BPM }];
  const signatures: MidiFile['signatures'][number][] = [];
  const names: string[] = [];
  let [fromTick, fromSeconds, perTick] = [0, 0, isFilm ? 1 / filmRate : 60 / PLAIN_BPM / division];
  const secondsAt = (tick: number) => fromSeconds + (tick - fromTick) * perTick;
  for (const { tick, track, message, microseconds, signature, name } of raw) {
    if (name !== undefined) names[track] ??= name;
    const seconds = secondsAt(tick);
    if (message) messages.push({ tick, seconds, track, message });
    if (signature) signatures.push({ tick, beats: signature[0], beatUnit: signature[1] });
    if (microseconds === undefined || isFilm) continue;
    [fromTick, fromSeconds, perTick] = [tick, seconds, microseconds / 1e6 / division];
    if (tick === tempos.at(-1)?.tick) tempos.pop();
    tempos.push({ tick, bpm: 60e6 / microseconds });
  }
  const named = Array.from(names, (name = '') => name);
  return {
    format,
    messages,
    ticksPerQuarter,
    tempos,
    signatures,
    names: named,
    seconds: secondsAt(ends),
    ticks: ends,
    faults,
  };
}

/** Reads a track's events into `raw`; gives the tick at which it ends. */
function readTrack(bytes: Uint8Array, from: number, end: number, track: number, raw: Raw[], faults: string[]): number {
  let at = from;
  let tick = 0;
  let status = 0;
  const broken = () => {
    faults.push(`track ${track + 1} is damaged from byte ${at} on`);
    return tick;
  };
  const number = (): number | null => {
    let value = 0;
    for (let i = 0; i < 4 && at < end; i++) {
      const byte = bytes[at++] as number;
      value = value * 128 + (byte & 0x7f);
      if (byte < 0x80) return value;
    }
    return null;
  };
  while (at < end) {
    const delta = number();
    if (delta === null || at >= end) return broken();
    tick += delta;
    if (raw.length >= MOST_EVENTS) {
      faults.push(`track ${track + 1} has more than ${MOST_EVENTS} events; the rest is left out`);
      return tick;
    }
    const byte = bytes[at] as number;
    if (byte === 0xff || byte === 0xf0 || byte === 0xf7) {
      at++;
      const kind = byte === 0xff ? (bytes[at++] ?? 0) : -1;
      const length = number();
      if (length === null || at + length > end) return broken();
      const event = metaOf(kind, bytes.subarray(at, at + length));
      if (event) raw.push({ tick, track, message: null, ...event });
      at += length;
      // End of track.
      if (kind === 0x2f) return tick;
      continue;
    }
    if (byte >= 0x80) {
      if (byte > 0xef) return broken();
      status = byte;
      at++;
    } else if (status === 0) return broken();
    const count = dataBytes(status);
    if (at + count > end) return broken();
    const [first, second] = [bytes[at] as number, count === 2 ? (bytes[at + 1] as number) : 0];
    if (first > 127 || second > 127) return broken();
    at += count;
    raw.push({ tick, track, message: messageOf(status, first, second) });
  }
  return tick;
}

/** Tempo, time signature and name of the track; null for all else. */
function metaOf(kind: number, data: Uint8Array): Pick<Raw, 'microseconds' | 'signature' | 'name'> | null {
  if (kind === 0x03) return { name: new TextDecoder().decode(data) };
  if (kind === 0x51 && data.length >= 3) {
    const microseconds = ((data[0] as number) << 16) | ((data[1] as number) << 8) | (data[2] as number);
    return microseconds > 0 ? { microseconds } : null;
  }
  if (kind === 0x58 && data.length >= 2) return { signature: [data[0] as number, 2 ** (data[1] as number)] };
  return null;
}

function tagAt(bytes: Uint8Array, at: number): string {
  return String.fromCharCode(...bytes.subarray(at, at + 4));
}
