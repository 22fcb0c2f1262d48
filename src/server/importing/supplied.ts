import { randomUUID } from 'node:crypto';
import type { Change } from '@/contract/edits';
import type { ImportAnswer, SuppliedAnswer } from '@/contract/views';
import type { Family } from '@/core/family';
import { writeWav } from '@/core/format/wav';
import { HIT_INITIAL } from '@/core/hit/initial';
import { noteOfPlace } from '@/core/kit/layout';
import { generalMidiLayout } from '@/core/kit/layouts';
import { KIT_INITIAL, LAYER_INITIAL, PAD_INITIAL } from '@/core/kit/parameters';
import { freeName } from '@/core/naming/names';
import { STRUCK_RIGHTS } from '@/core/rights/struck';
import { type SuppliedStroke, suppliedRecordings } from '@/core/supplied/starter-kit';
import type { Db } from '../db/open';
import { commitEdit } from '../history/commit';
import { prepared, select } from '../history/tables';

const NAME = 'Starter kit';

/**
 * Puts the starter kit and its hits into the workspace, marked as supplied, as one edit. Recordings and hits that are
 * still there from an earlier time are used again; where the kit is there, nothing is stored.
 */
export async function putSupplied(
  db: Db,
  importFile: (fileName: string, bytes: Uint8Array) => Promise<ImportAnswer>,
  by: { readonly browser: string; readonly tab: string },
): Promise<SuppliedAnswer & { readonly touched: ReturnType<typeof commitEdit>['touched'] }> {
  const there = suppliedKit(db);
  if (there) return there;
  const changes: Change[] = [];
  const strokes: Struck[] = [];
  for (const { family, title, audio, strokes: own } of suppliedRecordings()) {
    const { recordingId } = await importFile(`${title}.wav`, writeWav(audio, 's24'));
    const [recording] = select(db, 'recording', 'WHERE id = ?', recordingId);
    if (!recording) throw new Error(`The recording of ${title} is not there after its import.`);
    const set = { what: 'take', supplied: true, binnedAt: null, ...STRUCK_RIGHTS };
    changes.push({ op: 'update', doc: 'recording', id: recordingId, rev: recording.rev, set });
    for (const stroke of own) strokes.push({ ...stroke, ...hitOf(db, recordingId, family, stroke), family });
  }
  // Asked for twice at once, the other one may be done by now.
  const other = suppliedKit(db);
  if (other) return other;
  const hits = strokes.flatMap(({ made }) => made ?? []);
  const kit = kitChanges(db, strokes);
  const { touched } = commitEdit(db, {
    ...by,
    label: `put in the ${kit.name.toLowerCase()}`,
    changes: [...changes, ...hits, ...kit.made],
  });
  return { kitId: kit.kitId, name: kit.name, hits: hits.length, known: false, touched };
}

/** The answer where the kit is there already. */
function suppliedKit(db: Db) {
  const [kit] = select(db, 'kit', 'WHERE supplied = 1 AND version_of IS NULL LIMIT 1');
  return kit ? { kitId: kit.id, name: kit.name, hits: 0, known: true, touched: [] } : null;
}

interface Struck extends SuppliedStroke {
  readonly family: Family;
  readonly hitId: string;
  /** The change that makes its hit; null where that is there. */
  readonly made: Change | null;
}

function hitOf(db: Db, recordingId: string, family: Family, stroke: SuppliedStroke): Pick<Struck, 'hitId' | 'made'> {
  const { name, startFrame, endFrame } = stroke;
  const known = prepared(
    db,
    'SELECT id FROM hit WHERE recording_id = ? AND start_frame = ? AND end_frame = ? AND binned_at IS NULL',
  )
    .pluck()
    .get(recordingId, startFrame, endFrame) as string | undefined;
  if (known) return { hitId: known, made: null };
  const hitId = randomUUID();
  const value = { ...HIT_INITIAL, name, family, recordingId, startFrame, endFrame, sliceId: null };
  return { hitId, made: { op: 'create', doc: 'hit', id: hitId, value } };
}

/** The kit, by the roles and choke groups of General MIDI's layout; softer and harder strokes are takes. */
function kitChanges(db: Db, strokes: readonly Struck[]) {
  const kitId = randomUUID();
  const name = freeName(NAME, new Set(prepared(db, 'SELECT name FROM kit').pluck().all() as string[]));
  const about = 'A plain kit of our own struck voice, on the notes of General MIDI.';
  const value = { ...KIT_INITIAL, name, about, words: ['supplied'], supplied: true };
  const made: Change[] = [{ op: 'create', doc: 'kit', id: kitId, value }];
  for (const { position, role, settings } of generalMidiLayout()) {
    const own = strokes.filter(({ note }) => note === noteOfPlace(position));
    const [first] = own;
    if (!first) continue;
    const padId = randomUUID();
    const padName = first.name.replace(/ \d+$/, '');
    const pad = { ...PAD_INITIAL, ...settings, kitId, position, name: padName, family: first.family, role };
    made.push({ op: 'create', doc: 'pad', id: padId, value: pad });
    for (const [i, { hitId, lowVelocity, highVelocity }] of own.entries()) {
      const layer = { ...LAYER_INITIAL, padId, hitId, position: i, lowVelocity, highVelocity, isTake: true };
      made.push({ op: 'create', doc: 'layer', id: randomUUID(), value: layer });
    }
  }
  return { kitId, name, made };
}
