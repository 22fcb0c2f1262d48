import fc from 'fast-check';
import { parseMidi, writeMidi } from 'midi-file';
import { seededRandom } from '../signal/random';
import { readMidiFile } from './file';
import { bytesOf, type MidiMessage, MidiStream } from './messages';
import { MidiHands, type PadPlayer } from './playing';
import { writeMidiFile } from './write';

const byte = fc.integer({ min: 0, max: 127 });
const channel = fc.integer({ min: 0, max: 15 });
const anyMessage: fc.Arbitrary<MidiMessage> = fc.oneof(
  fc.record({ kind: fc.constant('note-on' as const), channel, note: byte, velocity: fc.integer({ min: 1, max: 127 }) }),
  fc.record({ kind: fc.constant('note-off' as const), channel, note: byte, velocity: byte }),
  fc.record({ kind: fc.constant('note-pressure' as const), channel, note: byte, value: byte }),
  fc.record({ kind: fc.constant('controller' as const), channel, number: byte, value: byte }),
  fc.record({ kind: fc.constant('program' as const), channel, number: byte }),
  fc.record({ kind: fc.constant('pressure' as const), channel, value: byte }),
  fc.record({ kind: fc.constant('bend' as const), channel, value: fc.integer({ min: -8192, max: 8191 }) }),
);

describe('a stream of MIDI bytes', () => {
  test('gives back every message, however its bytes are cut up, with clocks in between and statuses left out', () => {
    fc.assert(
      fc.property(fc.array(anyMessage, { maxLength: 40 }), fc.integer({ min: 1, max: 5 }), (messages, piece) => {
        const bytes: number[] = [];
        let status = -1;
        for (const message of messages) {
          const [first, ...rest] = bytesOf(message) as [number, ...number[]];
          // Running status: the same status need not be said again.
          if (first !== status) bytes.push(first);
          status = first;
          for (const data of rest) bytes.push(0xf8, data, 0xfe);
        }
        const stream = new MidiStream();
        const read: MidiMessage[] = [];
        for (let i = 0; i < bytes.length; i += piece) read.push(...stream.read(bytes.slice(i, i + piece)));
        expect(read).toEqual(messages);
      }),
      { seed: 21 },
    );
  });

  test('a note on of velocity 0 is a note off; system messages are passed over and end running status', () => {
    const read = (...bytes: number[]) => [...new MidiStream().read(bytes)];
    expect(read(0x99, 38, 0)).toEqual([{ kind: 'note-off', channel: 9, note: 38, velocity: 64 }]);
    expect(read(0xf0, 1, 2, 0xf7, 5, 6, 0x99, 1, 2)).toHaveLength(1);
    expect(read(1, 2, 3)).toEqual([]);
  });
});

describe('hands on pads', () => {
  const played = (messages: readonly MidiMessage[], act: (hands: MidiHands) => void = () => {}) => {
    const log: string[] = [];
    const player: PadPlayer = {
      strike: (pad, velocity) => log.push(`strike ${pad} ${velocity}`),
      release: (pad) => log.push(`release ${pad}`),
      control: (number, value) => number < 8 && log.push(`control ${number} ${value}`),
      press: (pad, value) => value > 0 && log.push(`press ${pad} ${value.toFixed(2)}`),
      stop: () => log.push('stop'),
    };
    const hands = new MidiHands(player, (note) => (note === 36 ? [0, 5] : note < 128 ? [note] : []));
    for (const message of messages) hands.play(message);
    act(hands);
    return log;
  };
  const on = (note: number, ch = 0): MidiMessage => ({ kind: 'note-on', channel: ch, note, velocity: 90 });
  const off = (note: number, ch = 0): MidiMessage => ({ kind: 'note-off', channel: ch, note, velocity: 0 });
  const cc = (number: number, value: number): MidiMessage => ({ kind: 'controller', channel: 0, number, value });

  test('a note plays every pad that has it, and lets them go; one held twice is let go with the last', () => {
    expect(played([on(36), off(36)])).toEqual(['strike 0 90', 'strike 5 90', 'release 0', 'release 5']);
    expect(played([on(40), on(40, 3), off(40), off(40, 3)])).toEqual(['strike 40 90', 'strike 40 90', 'release 40']);
    expect(played([off(40)])).toEqual([]);
    expect(played([on(0), on(127)])).toEqual(['strike 0 90', 'strike 127 90']);
  });

  test('the pedal keeps what is let go until it is up', () => {
    expect(played([cc(64, 127), on(40), off(40), cc(64, 0)])).toEqual(['strike 40 90', 'release 40']);
    expect(played([cc(64, 127), on(40), off(40), on(40), cc(64, 0)])).toEqual(['strike 40 90', 'strike 40 90']);
  });

  test('all notes off, all sound off and a controller that is gone leave no note hanging', () => {
    expect(played([on(40), on(41), cc(123, 0)])).toEqual(['strike 40 90', 'strike 41 90', 'release 40', 'release 41']);
    expect(played([cc(120, 0)])).toEqual(['stop']);
    const gone = played([cc(64, 127), on(40), off(40), on(41)], (hands) => hands.letAllGo());
    expect(gone.slice(2).sort()).toEqual(['release 40', 'release 41']);
  });

  test('pressure and controllers go to 1', () => {
    const pressed: MidiMessage[] = [{ kind: 'note-pressure', channel: 0, note: 9, value: 127 }, cc(1, 127)];
    expect(played(pressed)).toEqual(['press 9 1.00', 'control 1 1']);
  });
});

describe('Standard MIDI Files', () => {
  const notes = Array.from({ length: 200 }, (_, i) => ({
    seconds: i * 0.1371,
    message: { kind: 'note-on', channel: 9, note: 35 + (i % 20), velocity: 1 + (i % 127) } as const,
  }));

  test('what is written is read by another reader, and back, within half a tick', () => {
    const bytes = writeMidiFile(notes, 174, 'Sluice');
    const other = parseMidi(bytes);
    expect(other.header).toMatchObject({ format: 0, numTracks: 1, ticksPerBeat: 960 });
    const strokes = (other.tracks[0] ?? []).filter(({ type }) => type === 'noteOn');
    expect(strokes).toHaveLength(200);
    const { messages, tempos, faults } = readMidiFile(bytes);
    expect(tempos[0]?.bpm).toBeCloseTo(174, 2);
    expect(faults).toEqual([]);
    for (const [i, { seconds, message }] of messages.entries()) {
      expect(message).toEqual(notes[i]?.message);
      expect(Math.abs(seconds - (notes[i]?.seconds ?? 0))).toBeLessThan(0.5 * (60 / 174 / 960) + 1e-9);
    }
  });

  test('tempi that change, several tracks, running status and SMPTE time are read as they are', () => {
    const track = (...events: object[]) => [...events, { deltaTime: 0, meta: true, type: 'endOfTrack' }];
    const note = (deltaTime: number, noteNumber: number) => ({
      deltaTime,
      type: 'noteOn',
      channel: 9,
      noteNumber,
      velocity: 100,
    });
    const tempo = (deltaTime: number, microsecondsPerBeat: number) => ({
      deltaTime,
      meta: true,
      type: 'setTempo',
      microsecondsPerBeat,
    });
    const signature = {
      deltaTime: 0,
      meta: true,
      type: 'timeSignature',
      numerator: 6,
      denominator: 8,
      metronome: 24,
      thirtyseconds: 8,
    };
    const file = {
      header: { format: 1 as const, numTracks: 2, ticksPerBeat: 480 },
      tracks: [track(signature, tempo(0, 500_000), tempo(960, 250_000)), track(note(480, 36), note(960, 38))],
    };
    const bytes = Uint8Array.from(writeMidi(file as never, { running: true }));
    const read = readMidiFile(bytes);
    // A quarter at 120, then after two quarters of it one at 240.
    expect(read.messages.map(({ seconds }) => seconds)).toEqual([0.5, 1.25]);
    expect(read.signatures).toEqual([{ tick: 0, beats: 6, beatUnit: 8 }]);
    const film = bytes.slice();
    // 25 frames a second, 40 ticks a frame: a tick is a millisecond.
    film.set([256 - 25, 40], 12);
    expect(readMidiFile(film).messages.map(({ seconds }) => seconds)).toEqual([0.48, 1.44]);
  });

  test('what is no file, of format 2, or breaks off is told in words, and nothing hangs on mutated files', () => {
    expect(() => readMidiFile(new Uint8Array(40))).toThrow(/MThd/);
    const bytes = writeMidiFile(notes);
    const second = bytes.slice();
    second[9] = 2;
    expect(() => readMidiFile(second)).toThrow(/format 2/);
    const cut = readMidiFile(bytes.slice(0, 500));
    expect(cut.messages.length).toBeGreaterThan(50);
    expect(cut.faults[0]).toMatch(/track 1/);
    const random = seededRandom(2000);
    for (let n = 0; n < 2000; n++) {
      const mutated = bytes.slice(0, 14 + Math.floor(random() * bytes.length));
      for (let i = 0; i < 1 + random() * 8; i++)
        mutated[Math.floor(random() * mutated.length)] = Math.floor(random() * 256);
      try {
        const { messages, seconds } = readMidiFile(mutated);
        expect(Number.isFinite(seconds)).toBe(true);
        for (const { message } of messages) if (message.kind === 'note-on') expect(message.note).toBeLessThan(128);
      } catch (error) {
        expect((error as Error).message).toMatch(/MIDI/);
      }
    }
  });
});
