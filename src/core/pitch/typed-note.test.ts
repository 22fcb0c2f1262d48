import { noteName } from '../signal/units';
import { typedNote } from './typed-note';

test('every note is read from its name and its number, by either way of calling middle C', () => {
  for (const middle of [3, 4])
    for (let note = 0; note < 128; note++) {
      expect(typedNote(String(note), middle)).toBe(note);
      expect(typedNote(noteName(note, middle), middle)).toBe(note);
    }
  expect(['Bb1', 'f#2', ' C4 ', 'H2', '128', '-1', 'C', ''].map((text) => typedNote(text))).toEqual([
    34,
    42,
    60,
    null,
    null,
    null,
    null,
    null,
  ]);
});
