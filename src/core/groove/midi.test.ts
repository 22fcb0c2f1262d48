import { parseMidi } from 'midi-file';
import { readMidiFile } from '../midi/file';
import { writeTracks } from '../midi/write';
import { seededRandom } from '../signal/random';
import { grooveFromMidi, grooveToMidi, type WholeGroove } from './midi';
import type { GrooveNote, GrooveRow } from './model';
import { NOTE_INITIAL } from './parameters';

let made = 0;
const newId = () => `id-${made++}`;

/** A groove of every kind of bar, with rolls, on General MIDI's notes. */
function example(seed: number, bars = 6): WholeGroove {
  const random = seededRandom(seed);
  const below = (n: number) => Math.floor(random() * n);
  const rows = [36, 38, 42, 46].map((note, position): GrooveRow => {
    return { id: `row-${note}`, grooveId: 'g', position, role: '', note, family: null, muted: false, alone: false };
  });
  const meters = [
    { bar: 0, beats: 4, beatUnit: 4 as const },
    { bar: 2, beats: 7, beatUnit: 8 as const },
  ];
  const notes = rows.flatMap(({ id }) =>
    Array.from({ length: 2 * bars }, (_, n): GrooveNote => {
      const tick = n * 1600 + below(900);
      return {
        id: newId(),
        rowId: id,
        tick,
        length: 60 + below(500),
        ...NOTE_INITIAL,
        velocity: 1 + below(127),
        strokes: 1 + below(4),
        ramp: 0.5,
      };
    }),
  );
  const groove = { name: 'Night watch', bars, meters, bpm: 94, swing: 0.5, swingOf: 16 as const };
  return { groove, rows, notes, lanes: [] };
}

/** What sounds: tick, note and velocity of every stroke. */
const struck = (bytes: Uint8Array) =>
  readMidiFile(bytes)
    .messages.flatMap(({ tick, message }) =>
      message.kind === 'note-on' ? [[tick, message.note, message.velocity]] : [],
    )
    .sort(([a = 0, b = 0], [c = 0, d = 0]) => a - c || b - d);

test.each([0, 1] as const)(
  'a groove of format %i is read by another reader with the same strokes, tempo and signatures',
  (format) => {
    for (let seed = 0; seed < 20; seed++) {
      const bytes = grooveToMidi(example(seed), format);
      const other = parseMidi(bytes);
      expect(other.header).toMatchObject({ format, ticksPerBeat: 960, numTracks: format === 0 ? 1 : 5 });
      const seen: number[][] = [];
      for (const track of other.tracks) {
        let tick = 0;
        for (const event of track) {
          tick += event.deltaTime;
          if (event.type === 'noteOn' && event.velocity > 0) seen.push([tick, event.noteNumber, event.velocity]);
        }
      }
      seen.sort(([a = 0, b = 0], [c = 0, d = 0]) => a - c || b - d);
      expect(seen).toEqual(struck(bytes));
      const meta = other.tracks[0] ?? [];
      expect(meta.filter(({ type }) => type === 'timeSignature')).toMatchObject([
        { numerator: 4, denominator: 4 },
        { numerator: 7, denominator: 8 },
      ]);
      expect(meta.find(({ type }) => type === 'setTempo')).toMatchObject({
        microsecondsPerBeat: Math.round(60e6 / 94),
      });
    }
  },
);

test('read back, a groove has the same bars, signatures, tempo and strokes, and is written as the same bytes', () => {
  for (let seed = 0; seed < 20; seed++) {
    const whole = example(seed);
    const bytes = grooveToMidi(whole, 0);
    const read = grooveFromMidi(readMidiFile(bytes), 'Night watch', newId);
    expect(read?.faults).toEqual([]);
    expect(read?.groove).toMatchObject({ bars: whole.groove.bars, meters: whole.groove.meters, bpm: 94 });
    const again = grooveToMidi(read as WholeGroove, 0);
    expect(struck(again)).toEqual(struck(bytes));
    // From here on nothing changes any more.
    const third = grooveFromMidi(readMidiFile(again), 'Night watch', newId);
    expect(grooveToMidi(third as WholeGroove, 0)).toEqual(again);
  }
});

test('notes have the roles of General MIDI, of the drums’ channel where there is one', () => {
  const read = grooveFromMidi(readMidiFile(grooveToMidi(example(1), 1)), 'One', newId);
  expect(read?.rows.map(({ role }) => role).sort()).toEqual([
    'Acoustic snare',
    'Bass drum 1',
    'Closed hi-hat',
    'Open hi-hat',
  ]);
});

test('what a groove cannot have is told: more bars, other tempi, odd signatures', () => {
  const long = example(3, 60);
  const far = { ...long, notes: long.notes.map((note, n) => ({ ...note, tick: note.tick + n * 4000 })) };
  const read = grooveFromMidi(
    readMidiFile(grooveToMidi({ ...far, groove: { ...far.groove, bars: 64 } }, 0)),
    'Far',
    newId,
  );
  expect(read?.groove.bars).toBeLessThanOrEqual(64);
  expect(grooveFromMidi({ ...readMidiFile(grooveToMidi(example(1), 0)), messages: [] }, 'None', newId)).toBeNull();
});

test('a file of 300,000 notes that are never let go is read in a moment, as far as a groove goes', () => {
  const messages = Array.from({ length: 300_000 }, (_, tick) => {
    return { tick, message: { kind: 'note-on', channel: 9, note: 36, velocity: 90 } as const };
  });
  const file = readMidiFile(writeTracks({ bpm: 120, title: 'Flood', tracks: [{ name: '', messages }] }, 0));
  const begun = performance.now();
  const read = grooveFromMidi(file, 'Flood', newId);
  expect(performance.now() - begun).toBeLessThan(5000);
  expect(read?.notes).toHaveLength(12_000);
  expect(read?.faults.join()).toMatch(/288000 notes/);
});

test('2,000 mutated files are read as far as they make sense, or refused in words', () => {
  const bytes = grooveToMidi(example(5), 1);
  const random = seededRandom(99);
  for (let n = 0; n < 2000; n++) {
    const mutated = bytes.slice(0, 14 + Math.floor(random() * bytes.length));
    for (let i = 0; i < 1 + random() * 8; i++)
      mutated[Math.floor(random() * mutated.length)] = Math.floor(random() * 256);
    let file: ReturnType<typeof readMidiFile>;
    try {
      file = readMidiFile(mutated);
    } catch (error) {
      expect((error as Error).message).toMatch(/MIDI/);
      continue;
    }
    const read = grooveFromMidi(file, 'Odd', newId);
    if (!read) continue;
    expect(read.groove.bars).toBeGreaterThanOrEqual(1);
    expect(read.groove.bars).toBeLessThanOrEqual(64);
    for (const { tick, length, velocity } of read.notes)
      expect(tick >= 0 && Number.isInteger(tick) && length >= 1 && velocity >= 1 && velocity <= 127).toBe(true);
  }
});
