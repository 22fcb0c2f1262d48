import type { KitView } from '@/contract/views';
import type { Hit } from '@/core/hit/model';
import { type BundleFile, type BundleOptions, type BundlePad, bundleFiles } from '@/core/kit/bundle';
import type { Credit } from '@/core/kit/credits';
import { requireShareable } from '@/core/kit/shareable';
import type { LayerWithHit } from '@/core/kit/sound';
import type { Db } from '../db/open';
import { readAudio } from '../importing/pcm';
import { kitView } from '../views/kits';

/** Pads of a kit with their layers and hits, as the core prints them. */
export function bundlePads(view: KitView): BundlePad[] {
  const hits = new Map(view.hits.map((hit) => [hit.id, hit]));
  return view.pads.map((pad) => ({
    pad,
    layers: view.layers.flatMap((layer): LayerWithHit[] => {
      const hit = hits.get(layer.hitId);
      return layer.padId === pad.id && hit ? [{ layer, hit }] : [];
    }),
  }));
}

export function creditsOf(view: KitView): Credit[] {
  const pads = bundlePads(view);
  return view.recordings.map((recording) => ({
    title: recording.title,
    rightsKind: recording.rightsKind,
    owner: recording.rightsOwner,
    text: recording.rightsText,
    pads: pads.filter((p) => p.layers.some((l) => l.hit.recordingId === recording.id)).map((p) => p.pad.name),
  }));
}

/**
 * The files of a stored kit's bundle, made as they are read. Throws `refused` where it is to be passed on and holds what may
 * not be.
 */
export function kitBundle(
  db: Db,
  kitId: string,
  options: Pick<BundleOptions, 'isPrivate' | 'isNumbered'>,
): { name: string; files: readonly BundleFile[] } {
  const view = kitView(db, kitId);
  const credits = creditsOf(view);
  if (!options.isPrivate) requireShareable(view.kit.name, credits);
  const read = (hit: Hit, start: number, end: number) => readAudio(db, hit.recordingId, start, end);
  return { name: view.kit.name, files: bundleFiles(view.kit.name, bundlePads(view), credits, read, options) };
}
