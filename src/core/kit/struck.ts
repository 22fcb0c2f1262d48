import { isLayered } from '../hit/key';
import { isVaried } from '../voice/key';
import type { LayerWithHit } from './pad-sound';

/** Ranges of velocity, each with the velocity its strokes are struck at, and how many different strokes each has. */
const RANGES = [
  { low: 1, high: 44, velocity: 32 },
  { low: 45, high: 88, velocity: 72 },
  { low: 89, high: 127, velocity: 116 },
] as const;
const STROKES = 4;

/**
 * The layers of a pad with those whose hit is a struck voice as the pad plays them: several strokes that differ, softer ones
 * darker, as takes that alternate. The level goes by the pad's velocity alone. Where the pad has takes already, or other
 * voices, which would alternate with these, a voice plays its one stroke.
 */
export function struckLayers(layers: readonly LayerWithHit[]): readonly LayerWithHit[] {
  const voiced = layers.filter(({ hit }) => hit.voice && !isLayered(hit));
  const [only] = voiced;
  if (!only || voiced.length > 1 || layers.some(({ layer }) => layer.isTake)) return layers;
  return layers.flatMap((one) => (one === only ? strokesOf(one) : [one]));
}

function strokesOf({ layer, hit }: LayerWithHit): readonly LayerWithHit[] {
  const { voice } = hit;
  if (!voice) return [{ layer, hit }];
  const settings = { ...voice.settings, softDb: 0 };
  const count = isVaried(voice) ? STROKES : 1;
  return RANGES.flatMap(({ low, high, velocity }) => {
    const [lowVelocity, highVelocity] = [Math.max(low, layer.lowVelocity), Math.min(high, layer.highVelocity)];
    if (lowVelocity > highVelocity) return [];
    return Array.from({ length: count }, (_, n) => ({
      layer: { ...layer, id: `${layer.id} ${velocity} ${n}`, isTake: true, lowVelocity, highVelocity },
      hit: {
        ...hit,
        id: `${hit.id} struck at ${velocity}, ${n}`,
        voice: { settings, velocity, seed: (voice.seed + n) >>> 0 },
      },
    }));
  });
}
