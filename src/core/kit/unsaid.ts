import type { Pad } from './model';
import { type LayerWithHit, takesOf } from './pad-sound';
import { unsaidInSfz } from './told-in-sfz';

/** The pads of which the SFZ file cannot say everything, and what. */
export function unsaidOf(
  pads: readonly { readonly pad: Pad; readonly layers: readonly Pick<LayerWithHit, 'layer'>[] }[],
  tempoBpm: number,
): { readonly name: string; readonly lost: readonly string[] }[] {
  return pads.flatMap(({ pad, layers }) => {
    const takes = takesOf(layers).length;
    const lost = unsaidInSfz(pad, { takes, layers: layers.length - takes + 1 }, tempoBpm);
    return lost.length > 0 ? [{ name: pad.name, lost }] : [];
  });
}
