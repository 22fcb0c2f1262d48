import { HIT_INITIAL } from '../hit/initial';
import { applied, renderHit } from '../hit/render';
import { initialValues } from '../parameter/values';
import { seededRandom } from '../signal/random';
import { chainOf, stepsOf, strengthened } from './chain';
import { Chain } from './chain-schema';
import { PROCESSOR_NAMES, processorOf } from './processors';
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
      const { audio, gain } = renderHit({ ...hit, steps }, () => source);
      expect(audio.channels[0]?.every(Number.isFinite)).toBe(true);
      expect(gain !== 1 || audio.channels[0]?.some((x, i) => x !== channel[i])).toBe(true);
    }
  },
);

test('a chain that cannot be is refused, with the step and the parameter named', () => {
  const refused = Chain.safeParse([{ processor: 'gate' }, { processor: 'room', decayS: 99 }]);
  expect(refused.error?.issues).toMatchObject([{ path: [1, 'decayS'], message: 'Decay lies between 0.05 and 5 s.' }]);
});

test('a chain is made weaker and stronger by the values that have a neutral one', () => {
  const chain = [
    { processor: 'attack', attackDb: 8, attackMs: 25 },
    { processor: 'compressor', ratio: 4 },
    { processor: 'equaliser', points: [{ kind: 'bell', gainDb: 6, frequencyHz: 200 }] },
  ] as const;
  expect(strengthened(chain, 1)).toEqual(chain);
  expect(strengthened(chain, 0.5)).toMatchObject([
    { attackDb: 4, attackMs: 25 },
    { ratio: 2.5 },
    { points: [{ gainDb: 3, frequencyHz: 200 }] },
  ]);
  // No further than the range.
  expect(strengthened(chain, 9)[0]).toMatchObject({ attackDb: 24 });
});

test.each(PROCESSOR_NAMES.filter((name) => Object.values(processorOf(name).parameters).some(hasNeutral)))(
  '%s with its neutral values leaves a sound as it is',
  (processor) => {
    const { parameters } = processorOf(processor);
    const random = seededRandom(4);
    const channel = Float32Array.from({ length: 9000 }, (_x, i) => 0.3 * Math.exp(-i / 900) * (random() - 0.5));
    const neutral = Object.fromEntries(
      Object.entries(parameters).flatMap(([key, p]) =>
        hasNeutral(p) ? [[key, (p as { neutral: number }).neutral]] : [],
      ),
    );
    const step = { id: 's', position: 0, active: true, processor, ...initialValues(parameters), ...neutral };
    const sound = applied(step, { sampleRate: 44_100, channels: [channel] });
    for (const out of sound.channels)
      for (const [i, x] of channel.entries()) expect(Math.abs((out[i] as number) - x)).toBeLessThan(1e-4);
  },
);

function hasNeutral(p: object): boolean {
  return 'neutral' in p && p.neutral !== null;
}
