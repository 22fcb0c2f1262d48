import fc from 'fast-check';
import { cleanName, freeName, nameFromPattern, paddedNumber, titleFromFileName } from './names';
import { safeFileName } from './safe-names';

test('control characters and line breaks become spaces', () => {
  expect(cleanName(' a\u0000b\n\tc  d ')).toBe('a b c d');
  expect(() => cleanName('\u0007 ')).toThrow(/at least one visible character/);
  expect(() => cleanName('x'.repeat(300))).toThrow(/at most 120 characters; this one has 300/);
});

test('a title comes from the file name, whatever is in it', () => {
  expect(titleFromFileName('my_loop_94.wav')).toBe('my loop 94');
  expect(titleFromFileName('../../etc/pass"wd/odd.name.WAV')).toBe('odd.name');
  expect(titleFromFileName('.wav')).toBe('Untitled recording');
  expect([...titleFromFileName(`${'n'.repeat(300)}.wav`)]).toHaveLength(120);
});

test('a name that is taken gets the next number, case aside', () => {
  expect(freeName('Kick', new Set(['snare']))).toBe('Kick');
  expect(freeName('Kick', new Set(['kick', 'Kick 2']))).toBe('Kick 3');
  expect(freeName('Kick 7', new Set(['Kick 7']))).toBe('Kick 8');
  expect(freeName('Kick 09', new Set(['Kick 09']))).toBe('Kick 10');
  expect(freeName('Kick 01', new Set(['Kick 01', 'Kick 02']))).toBe('Kick 03');
});

test('the pattern is filled in, unknown words are left', () => {
  const parts = { family: 'Kick', source: 'Sluice', number: '03' };
  expect(nameFromPattern('{family} {source} {number}', parts)).toBe('Kick Sluice 03');
  expect(nameFromPattern('{number}-{who}', parts)).toBe('03-{who}');
});

test('where the family is not known the name is of source and number', () => {
  const parts = { family: '', source: 'Sluice', number: '12' };
  expect(nameFromPattern('{family} {source} {number}', parts)).toBe('Sluice 12');
  expect(nameFromPattern('{number}-{family}', parts)).toBe('12');
  expect(nameFromPattern('{family}', parts)).toBe('Sluice');
});

test('numbers are as wide as the largest, so that names sort as they count', () => {
  expect([1, 12].map((n) => paddedNumber(n, 40))).toEqual(['01', '12']);
  expect(paddedNumber(7, 1200)).toBe('0007');
  const names = Array.from({ length: 130 }, (_, i) => paddedNumber(i + 1, 130));
  expect([...names].sort()).toEqual(names);
});

test('file names hold nothing that a file system or a path minds', () => {
  expect(safeFileName('a/b\\c:"d"?')).toBe('a-b-c-d');
  expect(safeFileName('con')).toBe('sound con');
  expect(safeFileName('...')).toBe('sound');
  fc.assert(
    fc.property(fc.string({ maxLength: 300, unit: 'binary' }), (name) => {
      const safe = safeFileName(name);
      expect(safe).not.toMatch(/[\u0000-\u001f<>:"/\\|?*]/);
      expect(safe).not.toMatch(/^\.|^\s|^$/);
      expect([...safe].length).toBeLessThanOrEqual(90);
    }),
    { seed: 6 },
  );
});
