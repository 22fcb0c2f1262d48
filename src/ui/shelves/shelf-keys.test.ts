import { withKeys } from './shelf-keys';

const shelf = (...ids: string[]) => ({ slices: ids.map((id) => ({ slice: { id } })) });
const keysOf = (shelves: readonly { readonly key: string }[]) => shelves.map(({ key }) => key);

it('keeps the key of a shelf whose barest slice has changed, or that has changed places with another', () => {
  const before = withKeys([shelf('a', 'b', 'c'), shelf('d', 'e')], []);
  expect(keysOf(before)).toEqual(['a', 'd']);
  expect(keysOf(withKeys([shelf('d', 'e', 'f', 'g'), shelf('c', 'b', 'a')], before))).toEqual(['d', 'a']);
});

it('gives the key of a shelf that was parted to its larger part, and no key twice', () => {
  const before = withKeys([shelf('a', 'b', 'c', 'd', 'e')], []);
  expect(keysOf(withKeys([shelf('c', 'd', 'e'), shelf('a', 'b')], before))).toEqual(['a', 'b']);
  const parted = withKeys([shelf('c', 'd', 'e'), shelf('a', 'b')], before);
  expect(keysOf(withKeys([shelf('a', 'b', 'c', 'd', 'e')], parted))).toEqual(['a']);
});
