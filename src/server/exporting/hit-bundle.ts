import { UndercroftError } from '@/core/errors';
import { recordingsOf } from '@/core/hit/key';
import type { Credit } from '@/core/kit/credits';
import { type HitFileOptions, hitFiles } from '@/core/kit/hit-files';
import { heldCredits } from '@/core/kit/shareable';
import type { Db } from '../db/open';
import { select } from '../history/tables';
import { treatedHits } from '../hits/treated';
import { readFormat } from '../importing/pcm';
import { openHit } from '../renders/sound';
import type { RenderStore } from '../renders/store';
import type { MadeFiles } from './made-files';

/** Chosen hits as they sound, in the order given; private where one of their recordings may not be passed on. */
export function* hitBundle(
  db: Db,
  renders: RenderStore,
  ids: readonly string[],
  options: Omit<HitFileOptions, 'isPrivate'>,
): Generator<void, MadeFiles> {
  const hits = treatedHits(db, ids);
  if (hits.length === 0) throw new UndercroftError('not-found', 'The hits are not there (any more).');
  const recordings = select(
    db,
    'recording',
    'WHERE id IN (SELECT value FROM json_each(?)) ORDER BY title COLLATE NOCASE',
    JSON.stringify([...new Set(hits.flatMap(recordingsOf))]),
  );
  const credits = recordings.map(
    ({ id, title, rightsKind, rightsOwner, rightsText }): Credit => ({
      ...{ title, rightsKind, owner: rightsOwner, text: rightsText },
      pads: hits.flatMap((hit) => (recordingsOf(hit).includes(id) ? [hit.name] : [])),
    }),
  );
  const isPrivate = heldCredits(credits).length > 0;
  const wanted = hits.map((hit) => ({
    hit,
    open: () => openHit(db, renders, hit),
    stored: readFormat(db, hit.recordingId).encoding,
  }));
  const files = yield* hitFiles(wanted, credits, { ...options, isPrivate });
  const name = hits.length === 1 ? (hits[0]?.name ?? '') : `${hits.length} hits`;
  return { name, isPrivate, files };
}
