import type { Family } from '../family';
import { PAD_INITIAL } from './parameters';
import { substitutesFor } from './substitutes';

const pad = (name: string, family: Family | null, position: number, role = '') => ({
  ...PAD_INITIAL,
  ...{ id: `pad-${name}`, kitId: 'kit-00001', name, family, position, role },
});
const hit = (name: string, family: Family, binnedAt: number | null = null) => ({ name, family, binnedAt });

test('pads of the family come first, the nearest note before others, then hits that share words with the role', () => {
  const wanted = pad('Low tom', 'tom', 6, 'Low tom');
  const sounding = [pad('Churn', 'tom', 5), pad('Barrel', 'kick', 0), pad('Trough', 'tom', 2), wanted];
  const hits = [hit('Tom high', 'tom'), hit('Bucket', 'kick'), hit('Low bucket tom', 'tom'), hit('Gone tom', 'tom', 5)];
  const found = substitutesFor(wanted, sounding, hits);
  expect(found.map((one) => (one.kind === 'pad' ? one.pad.name : one.hit.name))).toEqual([
    'Trough',
    'Churn',
    'Low bucket tom',
    'Tom high',
  ]);
});

test('nothing stands in for a role without a family', () => {
  expect(substitutesFor(pad('Odd', null, 30, 'Odd'), [pad('Barrel', 'kick', 0)], [])).toEqual([]);
});
