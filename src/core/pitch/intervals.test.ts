import { noteToHz } from '../signal/units';
import { movesTo, moveToScale, PITCH_CLASSES, SCALES } from './intervals';

const pc = (name: (typeof PITCH_CLASSES)[number]) => PITCH_CLASSES.indexOf(name);
const ways = (from: (typeof PITCH_CLASSES)[number], to: (typeof PITCH_CLASSES)[number], octave = 4) =>
  movesTo(noteToHz(12 * (octave + 1) + pc(from)), pc(to)).map(({ semitones }) => semitones);

// Common practice in tuning drums by intervals.
test.each([
  ['A♯', 'A', [-1, 11]],
  ['A♯', 'G', [-3, 9]],
  ['C', 'A', [-3, 9]],
  ['C', 'G', [-5, 7]],
  ['G♯', 'C♯', [5, -7]],
  ['D', 'D', [0]],
] as const)('from %s to %s: %j', (from, to, wanted) => expect(ways(from, to)).toEqual(wanted));

test('every pair of notes, in every octave: each way lands on the note, the nearer is first, an octave lies between', () => {
  for (const from of PITCH_CLASSES)
    for (const to of PITCH_CLASSES)
      for (const octave of [0, 2, 4, 7]) {
        const found = ways(from, to, octave);
        for (const semitones of found) expect((((pc(from) + semitones) % 12) + 12) % 12).toBe(pc(to));
        if (from === to) continue;
        expect(Math.abs((found[0] as number) - (found[1] as number))).toBe(12);
        expect(Math.abs(found[0] as number)).toBeLessThanOrEqual(6);
      }
});

test('what lies between notes is brought onto one by cents', () => {
  const [move] = movesTo(noteToHz(45.3), pc('A'));
  expect(move?.semitones).toBe(0);
  expect(move?.cents).toBeCloseTo(-30, 6);
});

test('the nearest note of a scale is one of it, and none nearer is', () => {
  for (const scale of Object.keys(SCALES) as (keyof typeof SCALES)[])
    for (let tonic = 0; tonic < 12; tonic++)
      for (let note = 36; note < 60; note++) {
        const { semitones } = moveToScale(noteToHz(note), tonic, scale);
        const inside = (n: number) => (SCALES[scale] as readonly number[]).includes((((n - tonic) % 12) + 12) % 12);
        expect(inside(note + semitones)).toBe(true);
        for (let d = 0; d < Math.abs(semitones); d++) expect(inside(note + d) || inside(note - d)).toBe(false);
      }
});
