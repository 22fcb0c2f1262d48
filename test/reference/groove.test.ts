import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseMidi } from 'midi-file';
import { writeWav } from '../../src/core/format/wav';
import { demoRecordings } from '../../src/demo/scenario';
import { VOICE_FAMILY } from '../../src/demo/voices';
import { RATE, renderNotes } from '../accuracy/fluid';
import { TUNING } from '../accuracy/fonts';
import { remove, scratch, undercroft } from '../harness';

const folder = scratch();
afterAll(() => remove(folder));

interface Told {
  readonly bpm: number;
  readonly beatsPerBar: number;
  readonly notes: readonly {
    readonly seconds: number;
    readonly note: number;
    readonly velocity: number;
    readonly role: string;
  }[];
}

interface Struck {
  readonly seconds: number;
  readonly family: string;
}

const WINDOW_S = 0.005;

/** The share of strokes that are told with their role within 5 ms. */
function share(told: Told, struck: readonly Struck[]): number {
  const right = struck.filter(({ seconds, family }) =>
    told.notes.some((note) => note.role === family && Math.abs(note.seconds - seconds) < WINDOW_S),
  );
  return right.length / struck.length;
}

test.each(['Sluice loop', 'Headrace loop'])('the rhythm of %s is a groove of roles, in its tempo', (title) => {
  const recording = demoRecordings().find((one) => one.title === title);
  if (!recording) throw new Error(`There is no ${title}.`);
  const wav = join(folder, recording.fileName);
  writeFileSync(wav, writeWav(recording.audio, recording.encoding));
  const midi = join(folder, `${title}.mid`);
  const told = JSON.parse(undercroft('groove', wav, '--out', midi, '--json')) as Told;
  expect(told.bpm).toBeCloseTo(title === 'Sluice loop' ? 94 : 168, 0);
  const truth = recording.truth.map(({ frame, voice }) => ({
    seconds: frame / recording.audio.sampleRate,
    family: VOICE_FAMILY[voice] as string,
  }));
  // When they fall; what they are is a matter of the ear, and of a person who names them.
  const timed = truth.filter(({ seconds }) => told.notes.some((note) => Math.abs(note.seconds - seconds) < WINDOW_S));
  expect(timed.length / truth.length).toBeGreaterThan(0.97);
  expect(share(told, truth)).toBeGreaterThan(title === 'Sluice loop' ? 0.5 : 0.33);
  // An outside reader has as many notes as were told.
  const csv = execFileSync('midicsv', [midi], { encoding: 'utf8' });
  expect(csv.split('\n').filter((line) => /Note_on_c/.test(line) && !/, 0$/.test(line))).toHaveLength(
    told.notes.length,
  );
  const notes = parseMidi(readFileSync(midi)).tracks.flatMap((track) => track.filter(({ type }) => type === 'noteOn'));
  expect(notes).toHaveLength(told.notes.length);
});

test('of loops that fluidsynth renders the strokes have their roles', () => {
  const shares: number[] = [];
  for (const [bpm, seed] of [
    [96, 1],
    [120, 2],
    [140, 3],
  ] as const) {
    // Two bars of kick, snare, closed and open hat, one drum at a time or two.
    const steps = [36, 42, 42, 42, 38, 42, 36, 42, 42, 36, 42, 42, 38, 42, 46, 42];
    const notes = [0, 1, 2, 3].flatMap((bar) =>
      steps.map((key, n) => ({
        ...{ channel: 9, key, velocity: 70 + ((n * 7 + seed * 13) % 50) },
        ...{ tick: (bar * 16 + n) * 120, lengthTicks: 100 },
      })),
    );
    const seconds = (4 * 4 * 60) / bpm + 1;
    const samples = renderNotes(TUNING.tim as string[], notes as never, bpm, seconds, folder);
    const wav = join(folder, `fluid-${bpm}.wav`);
    writeFileSync(wav, writeWav({ sampleRate: RATE, channels: [samples] }, 's16'));
    const told = JSON.parse(undercroft('groove', wav, '--json')) as Told;
    const families: Record<number, string> = { 36: 'kick', 38: 'snare', 42: 'closed hat', 46: 'open hat' };
    const truth = notes.map(({ tick, key }) => ({ seconds: (tick * 60) / bpm / 480, family: families[key] as string }));
    shares.push(share(told, truth));
    expect(told.bpm).toBeCloseTo(bpm, 0);
  }
  expect(shares.reduce((sum, one) => sum + one, 0) / shares.length).toBeGreaterThan(0.9);
});
