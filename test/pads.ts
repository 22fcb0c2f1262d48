import { HIT_INITIAL } from '../src/core/hit/initial';
import type { Pad } from '../src/core/kit/model';
import type { PlayedPad } from '../src/core/kit/pad-sound';
import { LAYER_INITIAL, PAD_INITIAL } from '../src/core/kit/parameters';

/** Without what makes no two strokes alike. */
const PLAIN = { fadeOutMs: 0, driftCents: 0, driftDb: 0 };

/** A pad at a place, with a layer for each region of one recording. */
export function padOf(
  position: number,
  set: Partial<Pad> = {},
  regions: [number, number][] = [[100, 1100]],
  layerSet = {},
): PlayedPad {
  const pad: Pad = {
    id: `pad-id-${position}`,
    kitId: 'kit-id-1',
    position,
    name: `Hit ${position}`,
    family: null,
    ...PAD_INITIAL,
    ...PLAIN,
    ...set,
  };
  const layers = regions.map(([startFrame, endFrame], i) => ({
    layer: {
      id: `layer-${i}`,
      padId: pad.id,
      hitId: `hit-${position}-${i}`,
      position: i,
      ...LAYER_INITIAL,
      ...layerSet,
    },
    hit: {
      id: `hit-${position}-${i}`,
      name: pad.name,
      family: null,
      recordingId: 'rec-id-1',
      startFrame,
      endFrame,
      sliceId: null,
      ...HIT_INITIAL,
      steps: [],
    },
  }));
  return { pad, layers, steps: [] };
}
