import { type KnownSounds, together } from './descriptions';

const sound = (id: number, figures: string | null) => ({ id, startFrame: 100 * id, endFrame: 100 * id + 50, figures });
const known = [sound(1, 'one'), sound(2, 'two')] as KnownSounds['sounds'];

it('puts figures that were left out beside those that are new, and drops what is no slice any more', () => {
  const view = { sounds: [sound(2, null), sound(5, 'five')], unheard: 3, rhythm: null };
  expect(together(view, known)).toEqual({ sounds: [sound(2, 'two'), sound(5, 'five')], unheard: 3, rhythm: null });
});

it('tells where figures were left out that are not known', () => {
  expect(together({ sounds: [sound(2, null), sound(3, null)], unheard: 0, rhythm: null }, known)).toBeNull();
});
