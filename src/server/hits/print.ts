import { randomUUID } from 'node:crypto';
import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { PrintAnswer, PrintRequest } from '@/contract/hits';
import { UndercroftError } from '@/core/errors';
import { encodeFrames } from '@/core/format/pcm';
import { wavHeader } from '@/core/format/wav';
import { HIT_INITIAL } from '@/core/hit/initial';
import { audioKey, isLayered, isPlain, recordingsOf, type TreatedHit, wholeChain } from '@/core/hit/key';
import type { HitSound } from '@/core/hit/render';
import { freeName, LONGEST_NAME } from '@/core/naming/names';
import type { Recording } from '@/core/recording/model';
import { combinedRights } from '@/core/rights/rights';
import { carriedMarks } from '@/core/treatment/carried-marks';
import { stepsOf } from '@/core/treatment/chain';
import type { Db } from '../db/open';
import { commitEdit } from '../history/commit';
import { select } from '../history/tables';
import { openHit } from '../renders/sound';
import type { Workspace } from '../workspace';
import { stepsOfRecordings, treatedHit } from './treated';

/** Frames that are written at a time. */
const PIECE_FRAMES = 65_536;
/** Longest sound that is printed at once: it is rendered whole in memory. */
const LONGEST_PRINTED_S = 600;

export type Parts = Pick<Workspace, 'db' | 'renders' | 'threads'>;

export interface By {
  readonly browser: string;
  readonly tab: string;
}

export type Printed = PrintAnswer & { readonly touched: ReturnType<typeof commitEdit>['touched'] };

/** Prints a hit as it sounds, with steps after its own; see `print`. */
export async function printHit(parts: Parts, hitId: string, request: PrintRequest): Promise<Printed> {
  const stored = treatedHit(parts.db, hitId);
  if (!stored) throw new UndercroftError('not-found', 'The hit is not there (any more).');
  const { finish, name = stored.name, asHit, ...by } = request;
  const last = stored.steps.at(-1)?.position ?? 0;
  const more = stepsOf(hitId, finish, randomUUID).map((step, i) => ({ ...step, position: last + 1 + i }));
  const hit = { ...stored, name, steps: [...stored.steps, ...more] };
  const noteOf = isLayered(hit)
    ? () => layersNote(parts.db, hit, stored.name)
    : (source: string, at: string) => `Printed from the hit ${stored.name} of ${source}, at ${at} s.`;
  return print(parts, hit, noteOf, by, asHit);
}

/** What a layered hit was made of, in words: every hit and its recording. */
function layersNote(db: Db, hit: TreatedHit, name: string): string {
  const titles = new Map(sourcesOf(db, hit).map(({ id, title }) => [id, title]));
  const layers = (hit.members ?? []).map((member) => {
    const from = recordingsOf(member.hit).map((id) => titles.get(id) ?? 'a recording');
    return `${member.hit.name} (${from.join(', ')})`;
  });
  return `Printed from the layered hit ${name}: ${layers.join(', ')}.`;
}

/** The recordings that a hit is made of. */
function sourcesOf(db: Db, hit: TreatedHit): Stored<Recording>[] {
  return select(db, 'recording', 'WHERE id IN (SELECT value FROM json_each(?))', JSON.stringify(recordingsOf(hit)));
}

/** Prints [start, end) of a recording with what is done to the recording; see `print`. */
export async function printRecording(
  parts: Parts,
  recordingId: string,
  { startFrame, endFrame }: { readonly startFrame: number; readonly endFrame?: number | undefined },
  by: By,
): Promise<Printed> {
  const { db } = parts;
  const [recording] = select(db, 'recording', "WHERE id = ? AND state = 'ready'", recordingId);
  if (!recording) throw new UndercroftError('not-found', 'The recording is not there (any more).');
  const { frames, sampleRate } = db
    .prepare('SELECT frames, sample_rate AS sampleRate FROM recording WHERE id = ?')
    .get(recordingId) as { frames: number; sampleRate: number };
  const end = Math.min(frames, endFrame ?? frames);
  if (startFrame >= end)
    throw new UndercroftError(
      'out-of-range',
      `The stretch runs from frame ${startFrame} to ${end}; the recording has ${frames}.`,
    );
  if (end - startFrame > LONGEST_PRINTED_S * sampleRate)
    throw new UndercroftError(
      'too-large',
      `Up to ${LONGEST_PRINTED_S / 60} minutes can be printed at once; mark a stretch of the recording.`,
    );
  const stretch: TreatedHit = {
    ...HIT_INITIAL,
    id: '',
    name: recording.title,
    family: null,
    recordingId,
    startFrame,
    endFrame: end,
    sliceId: null,
    steps: stepsOfRecordings(db, [recordingId]).get(recordingId) ?? [],
  };
  return print(
    parts,
    stretch,
    (source, at) => `Printed from ${source} at ${at} s, with what is done to all of it.`,
    by,
    false,
  );
}

/**
 * Prints a sound to a recording of its own, as 32-bit floats, with the rights of its sources, a note on where it comes from,
 * and the slices and bookmarks that lie in it; with `asHit` as a hit of the whole recording. The same sound printed before is
 * answered with the recording it became. `played` is the sound where that is another than the hit's own: a pad's of its layers.
 */
export async function print(
  { db, renders, threads }: Parts,
  hit: TreatedHit,
  noteOf: (source: string, seconds: string) => string,
  by: By,
  asHit: boolean,
  played: HitSound | null = null,
): Promise<Printed> {
  if (!played && !isPlain(hit)) {
    await threads.renders.ensure(hit);
    // Without its render it would be rendered here, on the thread that answers requests.
    if (!renders.find(audioKey(hit))) throw new UndercroftError('too-large', 'The sound is too large to be printed.');
  }
  const sound = played ?? openHit(db, renders, hit);
  const name = [...hit.name].slice(0, LONGEST_NAME - 8).join('');
  const options = {
    fileName: asHit ? `${name}.wav` : `${name} printed.wav`,
    path: '',
    takeAs: 'recording' as const,
    prepare: [],
  };
  const answer = await threads.imports.import(options, null, wavPieces(sound));
  const whole = { recordingId: answer.recordingId, startFrame: 0, endFrame: sound.frames };
  const known = asHit && answer.duplicate ? hitOn(db, whole) : null;
  if (answer.duplicate && (known || !asHit)) return { ...answer, touched: [], hitId: known };
  const hitId = asHit ? randomUUID() : null;
  const [made] = select(db, 'recording', 'WHERE id = ?', answer.recordingId);
  const changes: Change[] = [];
  if (made && !answer.duplicate) {
    const set = { ...described(db, hit, sound, noteOf), ...(asHit ? { what: 'one-shot' } : {}) };
    changes.push({ op: 'update', doc: 'recording', id: made.id, rev: made.rev, set });
    changes.push(...marksOf({ db }, hit, sound, made.id));
  }
  if (hitId) {
    const { family, tags } = hit;
    const value = { ...HIT_INITIAL, name: freeHitName(db, hit.name), family, tags, sliceId: null, ...whole };
    changes.push({ op: 'create', doc: 'hit', id: hitId, value });
  }
  const { touched } = commitEdit(db, { ...by, label: `printed ${name}`, changes });
  return { ...answer, touched, hitId };
}

/** What is told of a printed recording: the rights of its sources, and what is known of the one it was cut from. */
function described(
  db: Db,
  hit: TreatedHit,
  sound: HitSound,
  noteOf: (source: string, seconds: string) => string,
): Partial<Recording> {
  const sources = sourcesOf(db, hit);
  const [source] = sources;
  if (!source) return {};
  const { tags, tempoBpm, place, madeOn, title } = source;
  const seconds = (hit.startFrame / sound.sampleRate).toFixed(3);
  const notes = noteOf(title, seconds);
  return { ...combinedRights(sources), notes, ...(sources.length === 1 ? { tags, tempoBpm, place, madeOn } : {}) };
}

/** A hit of all of a recording; null where there is none. */
function hitOn(db: Db, { recordingId, endFrame }: { recordingId: string; endFrame: number }): string | null {
  const [found] = select(
    db,
    'hit',
    'WHERE recording_id = ? AND start_frame = 0 AND end_frame = ? AND binned_at IS NULL',
    recordingId,
    endFrame,
  );
  return found?.id ?? null;
}

/** A name that no hit has. */
function freeHitName(db: Db, wanted: string): string {
  const names = db.prepare('SELECT name FROM hit').pluck().all() as string[];
  return freeName(wanted, new Set(names));
}

/** Changes that lay the marks inside a sound onto the recording it was printed to. */
function marksOf({ db }: Pick<Workspace, 'db'>, hit: TreatedHit, sound: HitSound, recordingId: string): Change[] {
  // Layers have marks of their own recordings, none of which is the sum's.
  if (isLayered(hit)) return [];
  const { startFrame, endFrame } = hit;
  const inside = 'WHERE recording_id = ? AND start_frame < ? AND end_frame > ? ORDER BY start_frame';
  const slices = select(db, 'slice', inside, hit.recordingId, endFrame, startFrame);
  const bookmarks = select(
    db,
    'bookmark',
    'WHERE recording_id = ? AND frame >= ? AND frame < ?',
    hit.recordingId,
    startFrame,
    endFrame,
  );
  const carried = carriedMarks(wholeChain(hit), { startFrame, endFrame, ...sound });
  return [
    ...slices.flatMap((slice): Change[] => {
      const { id: _id, rev: _rev, shelf: _shelf, ...value } = slice;
      const place = carried.stretch(slice.startFrame, slice.endFrame);
      if (!place) return [];
      const keepFrame = slice.keepFrame === null ? null : carried.frame(slice.keepFrame);
      // Set by hand, so that a new split leaves them.
      const set = { ...value, ...place, keepFrame, origin: 'hand', recordingId };
      return [{ op: 'create', doc: 'slice', id: randomUUID(), value: set }];
    }),
    ...bookmarks.flatMap(({ label, frame }): Change[] => {
      const at = carried.frame(frame);
      return at === null
        ? []
        : [{ op: 'create', doc: 'bookmark', id: randomUUID(), value: { recordingId, frame: at, label } }];
    }),
  ];
}

/** Tells every page what was printed, and answers as an import does. */
export async function answerPrint(
  { events, threads }: Pick<Workspace, 'events' | 'threads'>,
  printing: Promise<Printed>,
  tab: string,
): Promise<PrintAnswer> {
  const { touched, ...answer } = await printing;
  events.send({ type: 'recordings' });
  if (touched.length > 0) events.send({ type: 'edit', tab, touched });
  threads.wake();
  return answer;
}

/** The sound as a WAV file of 32-bit floats, its gain in it. */
async function* wavPieces(sound: HitSound): AsyncGenerator<Uint8Array> {
  const { sampleRate, channelCount, frames, gain } = sound;
  yield wavHeader({ encoding: 'f32', sampleRate, channelCount }, frames);
  for (let at = 0; at < frames; at += PIECE_FRAMES) {
    const { channels } = sound.read(at, Math.min(frames, at + PIECE_FRAMES));
    yield encodeFrames('f32', gain === 1 ? channels : channels.map((channel) => channel.map((x) => x * gain)));
  }
}
