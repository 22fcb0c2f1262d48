import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { readWav } from '../../src/core/format/wav';
import { frameCount, peakOf } from '../../src/core/signal/audio';
import { PROGRAM, remove, scratch, undercroft } from '../harness';

const folder = scratch();
afterAll(() => remove(folder));

const file = (name: string) => join(folder, name);
const settings = (name: string, value: unknown) => {
  writeFileSync(file(name), JSON.stringify(value));
  return file(name);
};
/** What a run that fails says, and its code. */
function failure(...args: string[]): { readonly said: string; readonly code: number | null } {
  try {
    execFileSync(PROGRAM, args, { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });
  } catch (error) {
    const { stderr, status } = error as { stderr: string; status: number | null };
    return { said: stderr, code: status };
  }
  throw new Error('It did not fail.');
}

test('a voice is struck into a WAV file: the same seed the same bytes, softer with less velocity', () => {
  const voice = settings('kick.json', { toneHz: 52, sweep: 30, clickDb: -12 });
  const strike = (name: string, ...more: string[]) => {
    undercroft('voice', voice, '--out', file(name), ...more);
    return readFileSync(file(name));
  };
  const first = strike('a.wav');
  expect(strike('b.wav')).toEqual(first);
  expect(strike('c.wav', '--seed', '2')).not.toEqual(first);
  const { audio } = readWav(first);
  expect(audio.sampleRate).toBe(48_000);
  expect(frameCount(audio)).toBeGreaterThan(10_000);
  const soft = readWav(strike('d.wav', '--velocity', '20')).audio;
  expect(peakOf(soft.channels)).toBeLessThan(peakOf(audio.channels) / 4);
});

test('settings that are none are refused with what would be right', () => {
  expect(failure('voice', settings('wrong.json', { toneHz: -4 }), '--out', file('x.wav')).said).toMatch(/toneHz/);
  expect(failure('voice', settings('other.json', { loudness: 4 }), '--out', file('x.wav')).said).toMatch(
    /loudness.*It has any of toneDb/s,
  );
  writeFileSync(file('text.json'), 'a letter');
  expect(failure('voice', file('text.json'), '--out', file('x.wav')).said).toMatch(/is not JSON/);
  const over = failure('drummer', '--rhythm', '12', '--out', file('x.wav'));
  expect(over).toEqual({ said: expect.stringMatching(/Rhythm lies between 1 and 9/), code: 2 });
});

test('the drummer at its slowest crank is taken apart: each of its drums stands alone, and the ear hears what they are', () => {
  const wav = file('slow.wav');
  const told = JSON.parse(undercroft('drummer', '--speed', '0.1', '--laps', '2', '--out', wav, '--json')) as {
    readonly strokes: readonly { readonly seconds: number; readonly family: string }[];
  };
  const heard = JSON.parse(undercroft('groove', wav, '--json')) as {
    readonly notes: readonly { readonly seconds: number; readonly role: string }[];
  };
  const at = (seconds: number) => told.strokes.filter((stroke) => Math.abs(stroke.seconds - seconds) < 0.01);
  const alone = told.strokes.filter(({ seconds }) => at(seconds).length === 1);
  const found = alone.filter(({ seconds }) => heard.notes.some((note) => Math.abs(note.seconds - seconds) < 0.01));
  expect(found.length / alone.length).toBeGreaterThan(0.95);
  const right = alone.filter(({ seconds, family }) =>
    heard.notes.some((note) => Math.abs(note.seconds - seconds) < 0.01 && note.role === family),
  );
  expect(right.length / alone.length).toBeGreaterThan(0.8);
});
