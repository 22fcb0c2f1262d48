import { arrange, type Sorters } from './listing';

interface Row {
  readonly id: string;
  readonly title: string;
  readonly tempo: number | null;
}
const rows: Row[] = [
  { id: 'a', title: 'Sluice loop 10', tempo: 94 },
  { id: 'b', title: 'sluice loop 9', tempo: null },
  { id: 'c', title: 'Headrace', tempo: 168 },
];
const sorters: Sorters<Row> = { title: (r) => r.title, tempo: (r) => r.tempo };
const ids = (query: string, by: string, down: boolean) =>
  arrange(rows, query, (r) => `${r.title} ${r.tempo ?? ''}`, sorters, { by, down }).map((r) => r.id);

test('every word typed must be there, in any order and case', () => {
  expect(ids('LOOP sluice', 'none', false)).toEqual(['a', 'b']);
  expect(ids('loop 94', 'none', false)).toEqual(['a']);
  expect(ids('loop 168', 'none', false)).toEqual([]);
});

test('names sort as people count, and what has no value comes last either way', () => {
  expect(ids('', 'title', false)).toEqual(['c', 'b', 'a']);
  expect(ids('', 'tempo', false)).toEqual(['a', 'c', 'b']);
  expect(ids('', 'tempo', true)).toEqual(['c', 'a', 'b']);
});
