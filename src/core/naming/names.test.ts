import fc from 'fast-check';
import { cleanName, freeName, nameFromPattern, safeFileName, titleFromFileName } from './names';

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
});

test('the pattern is filled in, unknown words are left', () => {
  const parts = { family: 'Kick', source: 'Sluice', number: 3 };
  expect(nameFromPattern('{family} {source} {number}', parts)).toBe('Kick Sluice 3');
  expect(nameFromPattern('{number}-{who}', parts)).toBe('3-{who}');
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
