import { reasonOf } from './reasons';

test('reasons say what is foreign, and where it comes from, as far as that is known', () => {
  const tail = { id: 't', number: 12, family: 'open hat' } as const;
  expect(reasonOf({ kind: 'tail before', db: -18.04 }, tail)).toBe('Tail, likely of the open hat, slice 12: −18.0 dB');
  expect(reasonOf({ kind: 'tail before', db: -18 }, null)).toBe('What rang on from before: −18.0 dB');
  expect(reasonOf({ kind: 'tail before', db: 0.62 }, null)).toBe('What rang on from before: +0.6 dB');
  expect(reasonOf({ kind: 'another onset', db: -6, seconds: 0.1204 }, tail)).toBe('Another onset 120 ms in: −6.0 dB');
  expect(reasonOf({ kind: 'foreign to its group', db: -9, hz: 5231 }, tail)).toBe(
    'Sound around 5.2 kHz that others of its shelf do not have: −9.0 dB',
  );
});
