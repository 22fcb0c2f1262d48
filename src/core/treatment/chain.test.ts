import { HIT_INITIAL } from '../hit/initial';
import { renderHit } from '../hit/render';
import { seededRandom } from '../signal/random';
import { Chain, chainOf, stepsOf } from './chain';
import { RECIPES } from './recipes';

test.each(RECIPES.map((recipe) => [recipe.name, recipe] as const))(
  '%s: its steps are valid at every amount, and change the sound',
  (_, recipe) => {
    const random = seededRandom(9);
    const channel = Float32Array.from({ length: 12_000 }, (_x, i) => Math.exp(-i / 1000) * (random() - 0.5));
    const source = { sampleRate: 44_100, channels: [channel] };
    for (const amount of [0, 0.5, 1]) {
      const chain = Chain.parse(recipe.steps(amount));
      const steps = stepsOf('h', chain, () => 's');
      expect(chainOf(steps)).toEqual(chain.map((step) => ({ active: true, ...step })));
      const hit = {
        ...HIT_INITIAL,
        id: 'h',
        name: 'h',
        family: null,
        recordingId: 'r',
        sliceId: null,
        startFrame: 0,
        endFrame: 12_000,
      };
      const { audio, gain } = renderHit({ ...hit, steps }, source);
      expect(audio.channels[0]?.every(Number.isFinite)).toBe(true);
      expect(gain !== 1 || audio.channels[0]?.some((x, i) => x !== channel[i])).toBe(true);
    }
  },
);

test('a chain that cannot be is refused, with the step and the parameter named', () => {
  const refused = Chain.safeParse([{ processor: 'gate' }, { processor: 'room', decayS: 99 }]);
  expect(refused.error?.issues).toMatchObject([{ path: [1, 'decayS'], message: 'Decay lies between 0.05 and 5 s.' }]);
});
