import fc from 'fast-check';
import { writeSfz } from '../format/sfz';
import { oneLine, safeFileName } from './safe-names';

const bytes = (text: string) => new TextEncoder().encode(text).length;

test.each([
  ['Kick key=60', 'Kick key-60'],
  ['Hat sample=other.wav', 'Hat sample-other.wav'],
  ['$var', 'var'],
  ['a\u202egnp.wav', 'a gnp.wav'],
  ['zero\u200bwidth\ufeff', 'zero width'],
  ['C1\u0085mark\u2028line', 'C1 mark line'],
  ['nul.txt', 'sound nul.txt'],
  ['COM\u00b9', 'sound COM\u00b9'],
  ['conout$', 'conout'],
  ['half \ud83e', 'half'],
  ['...', 'sound'],
  ['', 'sound'],
  ['Jalape\u0301n\u0303o', 'Jalapéño'],
])('%j becomes %j', (name, safe) => expect(safeFileName(name)).toBe(safe));

test('any name becomes one that file systems and SFZ files take', () => {
  const anything = fc.string({
    unit: fc.constantFrom('👩‍👩‍👧', '💥', 'a', 'ü', ' ', '.', '=', '\u200d', '\ud800', '\u202e', '\n'),
  });
  fc.assert(
    fc.property(fc.oneof(anything, fc.string({ unit: 'binary', maxLength: 300 })), (name) => {
      const safe = safeFileName(name);
      expect(bytes(safe)).toBeLessThanOrEqual(200);
      expect(safe).not.toMatch(/[\p{Cc}\p{Cf}\p{Cs}\p{Zl}\p{Zp}<>:"/\\|?*=$]|^[. ]|[. ]$/u);
      expect(safe).toBe(safeFileName(safe));
      expect(safe.length).toBeGreaterThan(0);
    }),
  );
});

test('eighty emoji make a name of whole emoji within 200 bytes', () => {
  const safe = safeFileName('💥'.repeat(80));
  expect(safe).toBe('💥'.repeat(50));
});

test('what stands in a title or a label begins no line and no opcode of an SFZ file', () => {
  const region = { opcodes: { key: 36, volume: 0 } };
  const label = 'Kick\u2028key=60\rsample=x';
  const text = writeSfz('Kit\n<region>', [{ ...region, sample: `samples/${safeFileName(label)}.wav`, label }]);
  const opcodes = text.split(/[\r\n\u2028\u2029\u0085]+/).filter((line) => !line.startsWith('//'));
  expect(opcodes.filter((line) => line.startsWith('key='))).toEqual(['key=36']);
  expect(opcodes.filter((line) => line.startsWith('<region>'))).toHaveLength(1);
  expect(opcodes.find((line) => line.startsWith('sample='))).toBe('sample=samples/Kick key-60 sample-x.wav');
  expect(oneLine(' a\u0000b\n')).toBe('a b');
});
