import type { DocName } from '@/contract/documents';
import type { Fields } from '@/contract/kinds';
import { UndercroftError } from '@/core/errors';
import { MOST_LANES, MOST_NOTES } from '@/core/groove/model';
import { MOST_BUSES } from '@/core/kit/parameters';
import { MOST_DEPTH, MOST_MEMBERS } from '@/core/layering/parameters';
import { MAX_STEPS } from '@/core/live/limits';
import { freeName } from '@/core/naming/names';
import { MAX_LAYERS, MAX_TOGETHER } from '@/core/play/limits';
import { type ProcessorName, processorOf } from '@/core/treatment/processors';
import type { Db } from '../db/open';
import { LONGEST_TREATED_S } from '../hits/treated';
import { prepared, readDoc, select } from './tables';

/** Documents of one kind that an edit has changed, in their new state; removed ones are left out. */
type Changed = readonly Fields[];
type Rule = (db: Db, changed: Changed) => void;

/** Checks what must hold between documents after an edit. Throws `refused`, `not-found` or `out-of-range`. */
const RULES: Readonly<Record<DocName, readonly Rule[]>> = {
  recording: [readyRecordings('id')],
  cut: [readyRecordings('id')],
  slice: [readyRecordings('recordingId'), insideRecording('slice')],
  bookmark: [readyRecordings('recordingId')],
  hit: [readyRecordings('recordingId'), insideRecording('hit'), treatable('id')],
  step: [treatable('hitId')],
  member: [layersOfHit, noCycle, layersTreatable],
  memberStep: [],
  recordingStep: [readyRecordings('recordingId'), oneSoundOnly, treatable('recordingId')],
  recipe: [],
  kit: [oneKitAName],
  pad: [onePadAPlace],
  layer: [layersOfPad],
  padStep: [fewSteps('padStep', 'padId', 'pad_id', 'A pad')],
  bus: [busesOfKit],
  busStep: [fewSteps('busStep', 'busId', 'bus_id', 'A bus')],
  variation: [],
  plan: [],
  performance: [],
  layout: [],
  groove: [],
  grooveRow: [],
  grooveNote: [fewNotes],
  grooveLane: [fewLanes],
};

/** Rules of a single document, checked before it is stored. */
export function checkOwnRules(doc: DocName, { startFrame, endFrame }: Readonly<Fields>): void {
  if (typeof startFrame !== 'number' || typeof endFrame !== 'number' || endFrame > startFrame) return;
  throw new UndercroftError(
    'out-of-range',
    `A ${doc} ends after it starts; it would run from ${startFrame} to ${endFrame}.`,
    `${doc}.endFrame`,
  );
}

/** Checks the rules between documents; `records` are the edit's changes. */
export function checkRules(db: Db, records: readonly { readonly doc: DocName; readonly id: string }[]): void {
  const changed = new Map<DocName, Map<string, Fields>>();
  for (const { doc, id } of records) {
    const value = readDoc(db, doc, id)?.value;
    if (value) changed.set(doc, (changed.get(doc) ?? new Map()).set(id, value));
  }
  for (const [doc, values] of changed) for (const rule of RULES[doc]) rule(db, [...values.values()]);
}

/** A recording that is being removed, or was, cannot be used. */
export function requireReady(db: Db, recordingId: string): void {
  const { n } = prepared(db, "SELECT count(*) AS n FROM recording WHERE id = ? AND state = 'ready'").get(
    recordingId,
  ) as { n: number };
  if (n === 0)
    throw new UndercroftError('refused', 'The recording was removed for good; nothing can be made of it any more.');
}

function readyRecordings(field: 'id' | 'recordingId'): Rule {
  return (db, changed) => {
    for (const id of new Set(changed.map((value) => value[field] as string))) requireReady(db, id);
  };
}

function insideRecording(doc: 'slice' | 'hit'): Rule {
  return (db, changed) => {
    const find = prepared(db, 'SELECT frames FROM recording WHERE id = ?');
    for (const { recordingId, endFrame } of changed) {
      const recording = find.get(recordingId) as { frames: number } | undefined;
      if (!recording) throw new UndercroftError('not-found', `The recording of this ${doc} is not there.`);
      if ((endFrame as number) > recording.frames) {
        throw new UndercroftError(
          'out-of-range',
          `The recording ends at frame ${recording.frames}; the ${doc} would end at ${endFrame}.`,
        );
      }
    }
  };
}

/** A treated hit is rendered whole in memory: its length is limited, far above any single sound. */
function treatable(field: 'id' | 'hitId' | 'recordingId'): Rule {
  const column = field === 'recordingId' ? 'h.recording_id' : 'h.id';
  return (db, changed) => {
    const ids = [...new Set(changed.map((value) => value[field] as string))];
    const long = prepared(
      db,
      `SELECT h.name FROM hit h JOIN recording r ON r.id = h.recording_id
       WHERE ${column} IN (SELECT value FROM json_each(?)) AND h.end_frame - h.start_frame > ${LONGEST_TREATED_S} * r.sample_rate
         AND (EXISTS (SELECT 1 FROM member m WHERE m.hit_id = h.id)
           OR EXISTS (SELECT 1 FROM step s WHERE s.hit_id = h.id)
           OR h.inherits = 1 AND EXISTS (SELECT 1 FROM recordingStep s WHERE s.recording_id = h.recording_id))`,
    ).get(JSON.stringify(ids)) as { name: string } | undefined;
    if (long)
      throw new UndercroftError(
        'refused',
        `"${long.name}" is longer than ${LONGEST_TREATED_S} s; hits up to that length can be treated. Shorten it first, or let it leave what is done to its recording.`,
      );
  };
}

/** A recording of many sounds has no step that shapes one sound from start to end, and no level measured on each. */
function oneSoundOnly(_db: Db, changed: Changed): void {
  for (const step of changed) {
    const { label, singleSound } = processorOf(step.processor as ProcessorName);
    if (singleSound)
      throw new UndercroftError(
        'refused',
        `${label} shapes one sound from its start to its end: add it to single hits.`,
      );
    if (step.processor === 'level' && step.to !== 'gain')
      throw new UndercroftError(
        'refused',
        'The level of a recording is a gain, so that its sounds keep their balance; set the level of single hits to a peak or a loudness.',
      );
  }
}

function onePadAPlace(db: Db, changed: Changed): void {
  for (const kitId of new Set(changed.map((pad) => pad.kitId))) {
    const twice = prepared(db, 'SELECT position FROM pad WHERE kit_id = ? GROUP BY position HAVING count(*) > 1').get(
      kitId,
    );
    if (twice)
      throw new UndercroftError(
        'refused',
        'Two sounds cannot lie on one pad; lay the second beside the first as a layer.',
      );
  }
}

function layersOfPad(db: Db, changed: Changed): void {
  for (const padId of new Set(changed.map((layer) => layer.padId))) {
    const layers = select(db, 'layer', 'WHERE pad_id = ?', padId);
    if (layers.filter(({ isTake }) => !isTake).length > MAX_TOGETHER)
      throw new UndercroftError('refused', `A pad plays up to ${MAX_TOGETHER} sounds at once; take one off first.`);
    if (layers.length > MAX_LAYERS)
      throw new UndercroftError('refused', `A pad has up to ${MAX_LAYERS} sounds with its takes; drop one first.`);
  }
}

function fewSteps(doc: 'padStep' | 'busStep', field: string, column: string, said: string): Rule {
  return (db, changed) => {
    const count = prepared(db, `SELECT count(*) AS n FROM ${doc} WHERE ${column} = ?`);
    for (const id of new Set(changed.map((step) => step[field])))
      if ((count.get(id) as { n: number }).n > MAX_STEPS)
        throw new UndercroftError('refused', `${said} has up to ${MAX_STEPS} steps; take one off first.`);
  };
}

function fewNotes(db: Db, changed: Changed): void {
  const count = prepared(
    db,
    `SELECT count(*) AS n FROM grooveNote WHERE row_id IN
       (SELECT id FROM grooveRow WHERE groove_id = (SELECT groove_id FROM grooveRow WHERE id = ?))`,
  );
  for (const id of new Set(changed.map(({ rowId }) => rowId)))
    if ((count.get(id) as { n: number }).n > MOST_NOTES)
      throw new UndercroftError('refused', `A groove has up to ${MOST_NOTES} notes; take some out first.`);
}

function fewLanes(db: Db, changed: Changed): void {
  const count = prepared(db, 'SELECT count(*) AS n FROM grooveLane WHERE groove_id = ?');
  for (const id of new Set(changed.map(({ grooveId }) => grooveId)))
    if ((count.get(id) as { n: number }).n > MOST_LANES)
      throw new UndercroftError('refused', `A groove has up to ${MOST_LANES} lanes; empty one first.`);
}

function busesOfKit(db: Db, changed: Changed): void {
  for (const kitId of new Set(changed.map((bus) => bus.kitId))) {
    const kinds = select(db, 'bus', 'WHERE kit_id = ?', kitId).map(({ kind }) => kind);
    for (const [kind, most] of [
      ['bus', MOST_BUSES],
      ['room', 1],
      ['echo', 1],
    ] as const)
      if (kinds.filter((one) => one === kind).length > most)
        throw new UndercroftError(
          'refused',
          kind === 'bus' ? `A kit has up to ${MOST_BUSES} buses; remove one first.` : `A kit has one ${kind}.`,
        );
  }
}

function layersOfHit(db: Db, changed: Changed): void {
  const count = prepared(db, 'SELECT count(*) AS n FROM member WHERE layered_id = ?');
  for (const id of new Set(changed.map((member) => member.layeredId))) {
    if ((count.get(id) as { n: number }).n <= MOST_MEMBERS) continue;
    throw new UndercroftError('refused', `A layered hit has up to ${MOST_MEMBERS} layers; take one out first.`);
  }
}

/** A hit is no layer of itself, however far down; names the way there. */
function noCycle(db: Db, changed: Changed): void {
  const layers = prepared(
    db,
    'SELECT h.id, h.name FROM member m JOIN hit h ON h.id = m.hit_id WHERE m.layered_id = ? ORDER BY m.position, m.id',
  );
  const find = prepared(db, 'SELECT id, name FROM hit WHERE id = ?');
  interface Named {
    readonly id: string;
    readonly name: string;
  }
  const follow = (way: readonly Named[]): void => {
    for (const layer of layers.all((way.at(-1) as Named).id) as Named[]) {
      const names = [...way, layer].map(({ name }) => `"${name}"`);
      if (way.some(({ id }) => id === layer.id))
        throw new UndercroftError(
          'refused',
          `A hit cannot be a layer of itself: ${names.join(' would contain ')}. Use a printed copy of it instead.`,
        );
      if (way.length > MOST_DEPTH)
        throw new UndercroftError(
          'refused',
          `Layered hits lie up to ${MOST_DEPTH} deep in one another, here ${names.join(' in ')}; print one of them first.`,
        );
      follow([...way, layer]);
    }
  };
  for (const id of new Set(changed.map((member) => member.layeredId))) {
    const hit = find.get(id) as Named | undefined;
    if (hit) for (const top of uppermost(db, hit)) follow([top]);
  }
}

/** The layered hits that contain a hit and are in none themselves; the hit where there are none, as in a cycle. */
function uppermost(db: Db, hit: { readonly id: string; readonly name: string }): { id: string; name: string }[] {
  const tops = prepared(
    db,
    `WITH RECURSIVE up (id) AS (SELECT ? UNION SELECT m.layered_id FROM member m JOIN up ON m.hit_id = up.id)
     SELECT h.id, h.name FROM up JOIN hit h ON h.id = up.id WHERE NOT EXISTS (SELECT 1 FROM member m WHERE m.hit_id = up.id)`,
  ).all(hit.id) as { id: string; name: string }[];
  return tops.length > 0 ? tops : [hit];
}

/** A layer is rendered whole in memory, as a treated hit is. */
function layersTreatable(db: Db, changed: Changed): void {
  const long = prepared(
    db,
    `SELECT h.name FROM hit h JOIN recording r ON r.id = h.recording_id
     WHERE h.id IN (SELECT value FROM json_each(?)) AND h.end_frame - h.start_frame > ${LONGEST_TREATED_S} * r.sample_rate
       AND NOT EXISTS (SELECT 1 FROM member m WHERE m.layered_id = h.id)`,
  ).get(JSON.stringify(changed.map((member) => member.hitId))) as { name: string } | undefined;
  if (long)
    throw new UndercroftError(
      'refused',
      `"${long.name}" is longer than ${LONGEST_TREATED_S} s; hits up to that length can be layers. Shorten it first.`,
    );
}

function oneKitAName(db: Db, changed: Changed): void {
  const ids = new Set(changed.map((kit) => kit.id));
  const kits = prepared(db, 'SELECT id, name FROM kit').all() as { id: string; name: string }[];
  const count = new Map<string, number>();
  const fold = (name: string) => name.toLocaleLowerCase('en');
  for (const { name } of kits) count.set(fold(name), (count.get(fold(name)) ?? 0) + 1);
  const twice = kits.find(({ id, name }) => ids.has(id) && (count.get(fold(name)) as number) > 1);
  if (!twice) return;
  const free = freeName(twice.name, new Set(kits.filter((k) => k.id !== twice.id).map((k) => k.name)));
  throw new UndercroftError('refused', `There is a kit named "${twice.name}" already. "${free}" is free.`, 'kit.name');
}
