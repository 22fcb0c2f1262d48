import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { KitDocs } from '@/contract/views';
import type { Layer, Pad } from '@/core/kit/model';
import { takesOf } from '@/core/kit/pad-sound';
import { LAYER_INITIAL, LAYER_PARAMETERS } from '@/core/kit/parameters';
import { type HeardTake, laidOverVelocity } from '@/core/kit/takes';
import { clip } from '@/core/parameter/values';

/** The takes of a pad; see `takesOf`. */
export function padTakes(layers: readonly Stored<Layer>[]): readonly Stored<Layer>[] {
  return takesOf(layers.map((layer) => ({ layer }))).map(({ layer }) => layer);
}

/** How a pad's takes are laid: over the velocities by their loudness, as they are or levelled, or all in turn. */
export type LayWay = 'as they are' | 'levelled' | 'in turn';

/** Brings the takes that a pad keeps into play, beside those that it plays. */
export function layTakes(
  view: KitDocs,
  pad: Stored<Pad>,
  layers: readonly Stored<Layer>[],
  heard: readonly HeardTake[],
  way: LayWay,
  newId: () => string,
): Change[] {
  const takes = padTakes(layers);
  const kept = view.variations.filter(({ padId }) => padId === pad.id);
  const loudness = new Map(heard.map((take) => [take.hitId, take]));
  const known = [...takes, ...kept].flatMap(({ hitId }) => loudness.get(hitId) ?? []);
  const laid = new Map(laidOverVelocity(known, pad.velocityDb).map((take) => [take.hitId, take]));
  const placed = (hitId: string, levelDb: number): Partial<Layer> => {
    const take = laid.get(hitId);
    if (!take || way === 'in turn') return { isTake: true, lowVelocity: 1, highVelocity: 127 };
    const { lowVelocity, highVelocity, gainDb } = take;
    const levelled = way === 'levelled' ? { levelDb: clip(LAYER_PARAMETERS.levelDb, levelDb + gainDb) } : {};
    return { isTake: true, lowVelocity, highVelocity, ...levelled };
  };
  const last = Math.max(-1, ...layers.map(({ position }) => position));
  return [
    ...takes.map(
      ({ id, rev, hitId, levelDb }): Change => ({ op: 'update', doc: 'layer', id, rev, set: placed(hitId, levelDb) }),
    ),
    ...kept.flatMap(({ id, rev, hitId }, i): Change[] => [
      {
        op: 'create',
        doc: 'layer',
        id: newId(),
        value: { ...LAYER_INITIAL, padId: pad.id, hitId, position: last + 1 + i, ...placed(hitId, 0) },
      },
      { op: 'remove', doc: 'variation', id, rev },
    ]),
  ];
}

/** Keeps one take in play, for all strokes; the others stay with the pad to be taken again. */
export function oneTake(
  view: KitDocs,
  pad: Stored<Pad>,
  layers: readonly Stored<Layer>[],
  keep: Stored<Layer>,
  newId: () => string,
): Change[] {
  const last = Math.max(-1, ...view.variations.filter(({ padId }) => padId === pad.id).map(({ position }) => position));
  return padTakes(layers).flatMap((take, i): Change[] =>
    take.id === keep.id
      ? [
          {
            op: 'update',
            doc: 'layer',
            id: take.id,
            rev: take.rev,
            set: { isTake: false, lowVelocity: 1, highVelocity: 127 },
          },
        ]
      : [
          { op: 'remove', doc: 'layer', id: take.id, rev: take.rev },
          {
            op: 'create',
            doc: 'variation',
            id: newId(),
            value: { padId: pad.id, hitId: take.hitId, position: last + 1 + i },
          },
        ],
  );
}
