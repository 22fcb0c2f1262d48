import { resolvedKit } from '@/contract/resolved';
import { UndercroftError } from '@/core/errors';
import { kitSound } from '@/core/kit/pad-sound';
import type { PlayableKit } from '@/core/kit/perform';
import { playedSounds, poolHits } from '@/core/kit/render';
import type { PadSound } from '@/core/play/program';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';
import { readAudio } from '../importing/pcm';
import { kitView } from '../views/kits';
import { playedPads } from './kit-bundle';

/** A stored kit ready to be played, its sounds in memory; at another tempo than its own where one is given. */
export function playableKit(db: Db, kitId: string, sampleRate: number, tempoBpm?: number): PlayableKit {
  const stored = resolvedKit(kitView(db, kitId));
  const view = { ...stored, kit: { ...stored.kit, tempoBpm: tempoBpm ?? stored.kit.tempoBpm } };
  const pads = playedPads(view);
  const hits = pads.flatMap(({ layers }) => layers.map(({ hit }) => hit));
  const pool = poolHits(hits, ({ recordingId }, start, end) => readAudio(db, recordingId, start, end));
  const { memory, sounds, buses, programs } = playedSounds(pads, pool, sampleRate, view.kit.tempoBpm, view);
  return {
    sampleRate,
    memory,
    kit: kitSound(view.kit.id, view.kit),
    limits: view.kit.limiter,
    pads: pads.map(({ pad }, i) => ({ pad, sound: sounds[i] as PadSound })),
    ...{ buses, programs },
  };
}

/** The id of the kit of a name or an id. Throws `not-found` with the names there are. */
export function kitIdOf(db: Db, nameOrId: string): string {
  const kits = prepared(db, 'SELECT id, name FROM kit ORDER BY name COLLATE NOCASE').all() as {
    id: string;
    name: string;
  }[];
  const lower = nameOrId.toLowerCase();
  const found = kits.find(({ id, name }) => id === nameOrId || name.toLowerCase() === lower);
  if (found) return found.id;
  const names = kits.map(({ name }) => `"${name}"`).join(', ');
  throw new UndercroftError(
    'not-found',
    `There is no kit "${nameOrId}" in the workspace; ${names === '' ? 'it has none' : `it has ${names}`}.`,
  );
}
