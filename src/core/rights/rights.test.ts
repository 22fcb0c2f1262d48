import { combinedRights, heldBack, type RightsOf } from './rights';

const of = (rightsKind: RightsOf['rightsKind'], set: Partial<RightsOf> = {}): RightsOf => ({
  title: 'Mill',
  rightsKind,
  rightsOwner: '',
  rightsText: '',
  ...set,
});

test('the rights of several recordings are the strictest ones, with every owner and the terms of each', () => {
  const one = of('own', { rightsOwner: 'Ada' });
  expect(combinedRights([one])).toEqual({ rightsKind: 'own', rightsOwner: 'Ada', rightsText: '' });
  expect(combinedRights([one, of('cc-by', { title: 'Weir', rightsOwner: 'Ben', rightsText: 'by Ben' })])).toEqual({
    rightsKind: 'cc-by',
    rightsOwner: 'Ada; Ben',
    rightsText: 'Mill: own work; Weir: CC BY 4.0 - by Ben',
  });
  expect(combinedRights([one, of('not-shared'), of('unknown')]).rightsKind).toBe('not-shared');
  expect(combinedRights([]).rightsKind).toBe('unknown');
});

test('terms that nobody has told hold the whole back', () => {
  const untold = combinedRights([of('other', { rightsText: 'no sale' }), of('other', { title: 'Weir' })]);
  expect(heldBack(untold)).not.toBeNull();
  expect(heldBack(combinedRights([of('other', { rightsText: 'no sale' }), of('own')]))).toBeNull();
});
