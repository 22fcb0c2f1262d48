import { resolvedKit } from '@/contract/resolved';
import type { KitView, RecordingView } from '@/contract/views';
import { recordingsOf, type TreatedHit } from '@/core/hit/key';
import { type BundleOptions, bundleFiles } from '@/core/kit/bundle';
import type { Credit } from '@/core/kit/credits';
import { fittedHit } from '@/core/kit/fit';
import { kitSound, type LayerWithHit, type PlayedPad } from '@/core/kit/pad-sound';
import { requireShareable } from '@/core/kit/shareable';
import { struckLayers } from '@/core/kit/struck';
import { asKitHas } from '@/core/kit/whole-kit';
import { combinedRights } from '@/core/rights/rights';
import type { Source } from '@/core/rights/source';
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
    layers: struckLayers(
      view.layers.flatMap((layer): LayerWithHit[] => {
        const hit = hits.get(layer.hitId);
        return layer.padId === pad.id && hit ? [{ layer, hit: fittedHit(pad, hit, view.kit.tempoBpm) }] : [];
      }),
    ),
  }));
}

export function creditsOf(view: KitView): Credit[] {
  const pads = playedPads(view);
  // A layered hit names the recording it was made around, which need not be in it any more.
  const sources = new Set(view.hits.flatMap(recordingsOf));
  const used = view.recordings.filter(({ id }) => sources.has(id));
  const named = new Map<string, { readonly source: Source; readonly recordingIds: string[] }>();
  for (const recording of used)
    for (const source of sourcesOf(recording)) {
      const key = JSON.stringify([source.title, source.rightsKind, source.owner, source.text]);
      const known = named.get(key) ?? { source, recordingIds: [] };
      known.recordingIds.push(recording.id);
      named.set(key, known);
    }
  const credits = [...named.values()].map(({ source, recordingIds }) => ({
    ...source,
    recordingIds,
    pads: pads
      .filter((p) => p.layers.some((l) => recordingsOf(l.hit).some((id) => recordingIds.includes(id))))
      .map((p) => p.pad.name),
  }));
  return credits.sort((a, b) => compare(a.title, b.title) || compare(a.owner, b.owner));
}

/** Whom a recording is credited to: itself, or what it was printed from before it came here, unless its rights were changed since. */
function sourcesOf(recording: RecordingView): readonly Source[] {
  const { title, rightsKind, rightsOwner, rightsText, origins } = recording;
  const own = { title, rightsKind, owner: rightsOwner, text: rightsText };
  if (origins.length === 0) return [own];
  const then = combinedRights(
    origins.map((origin) => ({ ...origin, rightsOwner: origin.owner, rightsText: origin.text })),
  );
  const isSame = then.rightsKind === rightsKind && then.rightsOwner === rightsOwner && then.rightsText === rightsText;
  return isSame ? origins : [own, ...origins];
}

function compare(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0;
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
  const files = yield* bundleFiles(
    { ...view.kit, seed: kitSound(view.kit.id, view.kit).seed },
    playedPads(view),
    credits,
    open,
    {
      ...options,
      busing: view,
    },
  );
  return { name: view.kit.name, isPrivate: options.isPrivate ?? false, files };
}
