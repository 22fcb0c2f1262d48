import { typedPitch } from './typed';

test.each([
  ['A4', 440],
  ['a4', 440],
  ['110', 110],
  ['110,5 Hz', 110.5],
  ['C4', 261.6256],
  ['Bb2', 116.5409],
  ['A♯2', 116.5409],
  ['A2 +50', 113.2233],
  ['A2 −50 c', 106.8687],
])('%s is %d Hz', (text, hz) => expect(typedPitch(text)).toBeCloseTo(hz, 3));

test.each(['', 'H2', 'A', 'loud', '2', '99999', 'C-3', 'A2 + x'])('"%s" is no pitch', (text) =>
  expect(typedPitch(text)).toBeNull(),
);
