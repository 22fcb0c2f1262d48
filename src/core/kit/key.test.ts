import { SCALES } from '../pitch/intervals';
import { typedNote } from '../pitch/typed-note';
import { hzToNote, noteToHz } from '../signal/units';
import { centsToKey, movedBy, scaleSteps, soundingHz, tunedToKey, typedSteps } from './key';

const A_MINOR = { tonic: 9, scale: 'minor' } as const;
const none = { semitones: 0, cents: 0 };

test('a pad tuned to the key sounds one of its notes, moved by no more than its gaps need', () => {
  for (const scale of Object.keys(SCALES) as (keyof typeof SCALES)[])
    for (let cents = 0; cents < 1200; cents += 37) {
      const rootHz = noteToHz(40) * 2 ** (cents / 1200);
      const tuned = tunedToKey(rootHz, { semitones: -3, cents: 12 }, { tonic: 2, scale }, 1);
      const { note, cents: off } = hzToNote(soundingHz(rootHz, tuned, 1));
      expect(Math.abs(off)).toBeLessThan(0.1);
      expect(SCALES[scale] as readonly number[]).toContain((note - 2 + 120) % 12);
      const widest = Math.max(...SCALES[scale].map((step, i, all) => (all[i + 1] ?? 12) - step));
      const moved =
        1200 * Math.log2(soundingHz(rootHz, tuned, 1) / soundingHz(rootHz, { semitones: -3, cents: 12 }, 1));
      expect(Math.abs(moved)).toBeLessThanOrEqual(50 * widest + 50.1);
    }
});

test('what stands off the key is told in cents, upwards positive', () => {
  expect(centsToKey(noteToHz(69), A_MINOR)).toBeCloseTo(0, 6);
  expect(centsToKey(noteToHz(68.7), A_MINOR)).toBeCloseTo(30, 6);
  expect(movedBy({ semitones: 1, cents: 40 }, { semitones: 0, cents: 30 })).toEqual({ semitones: 2, cents: -30 });
});

test('a scale goes up from the pitch that is there', () => {
  // E2, 20 cents low, in A minor: E F G A B C D E.
  const hz = noteToHz(40) * 2 ** (-20 / 1200);
  const steps = scaleSteps(8, A_MINOR, hz);
  expect(steps.map(({ semitones }) => semitones)).toEqual([0, 1, 3, 5, 7, 8, 10, 12]);
  for (const { cents } of steps) expect(cents).toBeCloseTo(20, 6);
  expect(scaleSteps(6, { tonic: 0, scale: 'minor pentatonic' }, null).map(({ semitones }) => semitones)).toEqual([
    0, 3, 5, 7, 10, 12,
  ]);
});

test('steps are typed as semitones or as notes', () => {
  expect(typedSteps('-5, 0 +7', null, typedNote)).toEqual({
    steps: [-5, 0, 7].map((semitones) => ({ semitones, cents: 0 })),
  });
  const typed = typedSteps('A2 C3', noteToHz(45), typedNote);
  expect('steps' in typed && typed.steps.map(({ semitones }) => semitones)).toEqual([0, 3]);
  expect(typedSteps('A2', null, typedNote)).toEqual({ unread: 'A2' });
  expect(typedSteps('0 77', noteToHz(45), typedNote)).toEqual({ unread: '77' });
  expect(typedSteps('0 H4', noteToHz(45), typedNote)).toEqual({ unread: 'H4' });
});

test('nothing moves a pad that sounds a note of the key already', () => {
  expect(tunedToKey(noteToHz(45), none, A_MINOR)).toEqual(none);
});
