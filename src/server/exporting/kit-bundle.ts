import { resolvedKit } from '@/contract/resolved';
import type { KitView } from '@/contract/views';
import { recordingsOf, type TreatedHit } from '@/core/hit/key';
import { type BundleOptions, bundleFiles } from '@/core/kit/bundle';
import type { Credit } from '@/core/kit/credits';
import { fittedHit } from '@/core/kit/fit';
import type { LayerWithHit, PlayedPad } from '@/core/kit/pad-sound';
import { requireShareable } from '@/core/kit/shareable';
import { asKitHas } from '@/core/kit/whole-kit';
import type { Db } from '../db/open';
import { openHit } from '../renders/sound';
import type { RenderStore } from '../renders/store';
import { kitView } from '../views/kits';
import type { MadeFiles } from './made-files';

/** Pads of a kit with their layers and hits, for printing. */
export function playedPads(view: KitView): PlayedPad[] {
  const hits = new Map(view.hits.map((hit) => [hit.id, hit]));
  return asKitHas(view.pads, view.kit).map((pad) => ({
    pad,
    steps: view.steps.filter(({ padId }) => padId === pad.id),
    layers: view.layers.flatMap((layer): LayerWithHit[] => {
      const hit = hits.get(layer.hitId);
      return layer.padId === pad.id && hit ? [{ layer, hit: fittedHit(pad, hit, view.kit.tempoBpm) }] : [];
    }),
  }));
}

export function creditsOf(view: KitView): Credit[] {
  const pads = playedPads(view);
  // A layered hit names the recording it was made around, which need not be in it any more.
  const sources = new Set(view.hits.flatMap(recordingsOf));
  const used = view.recordings.filter(({ id }) => sources.has(id));
  return used.map((recording) => ({
    title: recording.title,
    rightsKind: recording.rightsKind,
    owner: recording.rightsOwner,
    text: recording.rightsText,
    pads: pads.filter((p) => p.layers.some((l) => recordingsOf(l.hit).includes(recording.id))).map((p) => p.pad.name),
  }));
}

/**
 * The files of a stored kit's bundle, made as they are read; yields while peaks are searched. Throws `refused` where it
 * is to be shared and holds sounds that may not be.
 */
export function* kitBundle(
  db: Db,
  renders: RenderStore,
  kitId: string,
  options: Pick<BundleOptions, 'isPrivate' | 'isNumbered'>,
): Generator<void, MadeFiles> {
  const view = resolvedKit(kitView(db, kitId));
  const credits = creditsOf(view);
  if (!options.isPrivate) requireShareable(view.kit.name, credits);
  const open = (hit: TreatedHit) => openHit(db, renders, hit);
  const files = yield* bundleFiles(view.kit.name, playedPads(view), credits, open, {
    ...options,
    tempoBpm: view.kit.tempoBpm,
  });
  return { name: view.kit.name, isPrivate: options.isPrivate ?? false, files };
}
