import { between } from './amount';
import type { Recipe } from './recipes';

/** Recipes that make the sum of layers one sound (common practice), by the edges between its lows, middle and highs in hertz. */
export function bindingRecipes([lowEdgeHz, highEdgeHz]: readonly [number, number]): readonly Recipe[] {
  const edges = { lowEdgeHz, highEdgeHz };
  return [
    {
      name: 'Hold together',
      help: 'a little of each band taken down after the attack, which stays',
      steps: (a) => [
        {
          processor: 'bands',
          ...edges,
          lowThresholdDb: between(-18, -34, a),
          middleThresholdDb: between(-20, -36, a),
          highThresholdDb: between(-22, -38, a),
          ratio: between(1.5, 4, a),
          attackMs: 22,
          releaseMs: 140,
        },
      ],
    },
    {
      name: 'One body',
      help: 'the lows held even and all of it rounded, so that layers ring as one',
      steps: (a) => [
        { processor: 'bands', ...edges, lowThresholdDb: between(-24, -40, a), ratio: between(2, 6, a), attackMs: 8 },
        {
          processor: 'saturation',
          character: 'round',
          driveDb: between(2, 9, a),
          outputDb: between(-1, -4, a),
          mix: 0.5,
        },
      ],
    },
    {
      name: 'One punch',
      help: 'a slow compressor that lets the attack through, and more of the attack',
      steps: (a) => [
        {
          processor: 'compressor',
          thresholdDb: between(-16, -28, a),
          ratio: between(2, 6, a),
          attackMs: 18,
          releaseMs: 90,
        },
        { processor: 'attack', attackDb: between(1, 5, a) },
      ],
    },
    {
      name: 'One place',
      help: 'a small room around all layers, mostly under the attack',
      steps: (a) => [{ processor: 'room', decayS: 0.25, mix: between(0.04, 0.2, a, 0.01) }],
    },
  ];
}
