import { randomUUID } from 'node:crypto';
import type { Preparation, TakeAs } from '@/contract/taking';
import { featuresOf } from '@/core/describe/features';
import { doubtOf } from '@/core/describe/plausible';
import { rootOf } from '@/core/describe/root';
import type { Said } from '@/core/format/said';
import { HIT_INITIAL } from '@/core/hit/initial';
import type { TreatedHit } from '@/core/hit/key';
import { Hit } from '@/core/hit/model';
import { prepareHit } from '@/core/hit/prepare';
import { readFileName } from '@/core/naming/file-names';
import { freeName } from '@/core/naming/names';
import type { Candidate } from '@/core/onset/detect';
import { separateStrikes } from '@/core/onset/strikes';
import { frameCount, toMono } from '@/core/signal/audio';
import { centsBetween, noteToHz } from '@/core/signal/units';
import { newStep } from '@/core/treatment/step';
import type { Db } from '../db/open';
import { insertDoc, prepared } from '../history/tables';
import { LONGEST_TREATED_S } from '../hits/treated';
import { readAudio } from '../importing/pcm';

/** Longest file that is imported as a single sound without being told, in seconds, and the most strikes it may hold. */
const LONGEST_S = 6;
const MOST_STRIKES = 2;
/** A pitch further than this from the named note, apart from octaves, is reported. */
const NAMED_NOTE_CENTS = 60;

interface Row {
  readonly title: string;
  readonly fileName: string;
  readonly frames: number;
  readonly sampleRate: number;
  readonly takeAs: TakeAs;
  readonly prepare: string;
  readonly dc: string;
  readonly said: string | null;
}

/**
 * The hit that a recording imported as a single sound becomes: named after its file, with family, root and tempo from
 * the name or the file's metadata, checked against the sound. Empty where it stays a recording.
 */
export function oneShotsOf(db: Db, recordingId: string, marks: readonly Candidate[]): TreatedHit[] {
  const row = prepared(
    db,
    `SELECT title, file_name AS fileName, frames, sample_rate AS sampleRate, take_as AS takeAs, prepare, dc, said
     FROM recording WHERE id = ?`,
  ).get(recordingId) as Row;
  if (row.takeAs === 'recording') return [];
  // A second analysis makes no second hit.
  if (prepared(db, 'SELECT 1 FROM hit WHERE recording_id = ?').get(recordingId)) return [];
  const strikes = separateStrikes(marks, row.sampleRate);
  const single = row.frames <= LONGEST_S * row.sampleRate && strikes.length <= MOST_STRIKES;
  if (row.takeAs === 'auto' && !single) return [];
  return [describeOneShot(db, recordingId, row, strikes)];
}

function describeOneShot(db: Db, recordingId: string, row: Row, strikes: readonly number[]): TreatedHit {
  const named = readFileName(row.fileName);
  const said = row.said === null ? null : (JSON.parse(row.said) as Said);
  // A longer sound is hardly a single one: its beginning gives its family, and its ends stay.
  const longest = LONGEST_TREATED_S * row.sampleRate;
  const isLong = row.frames > longest;
  const audio = readAudio(db, recordingId, 0, Math.min(row.frames, longest));
  const mono = toMono(audio);
  const features = featuresOf(mono, row.sampleRate);
  const doubts = named.family && features ? [doubtOf(named.family, features)] : [];
  const note = said?.rootNote ?? named.note;
  const toldHz = note === null ? null : noteToHz(note) * 2 ** ((said?.rootCents ?? 0) / 1200);
  const heard = toldHz === null ? null : rootOf(mono, row.sampleRate);
  if (toldHz !== null && heard) {
    const off = centsBetween(heard.hz, toldHz);
    const inOctave = off - 1200 * Math.round(off / 1200);
    if (Math.abs(inOctave) > NAMED_NOTE_CENTS)
      doubts.push(`Told to be at ${toldHz.toFixed(1)} Hz, but heard at ${heard.hz.toFixed(1)} Hz.`);
  }
  const key = said?.key ?? named.key;
  const parsed = Hit.parse({
    ...HIT_INITIAL,
    id: randomUUID(),
    name: freeName(row.title, takenNames(db, row.title)),
    family: named.family,
    recordingId,
    startFrame: 0,
    endFrame: row.frames,
    sliceId: null,
    rootHz: toldHz,
    tempoBpm: said?.tempoBpm ?? named.tempoBpm,
    tags: key ? [key.replaceAll(',', ' ').slice(0, 40)] : [],
    doubt: doubts.filter((d) => d !== '').join(' '),
    strikes: strikes.slice(1, 65),
  });
  const hit: TreatedHit = { ...parsed, steps: [] };
  const ticks = new Set(JSON.parse(row.prepare) as Preparation[]);
  if (ticks.size === 0 || frameCount(audio) === 0) return hit;
  if (isLong) return { ...hit, doubt: `${hit.doubt} Longer than ${LONGEST_TREATED_S} s: not prepared.`.trim() };
  const { steps, ...set } = prepareHit(hit, audio, ticks, JSON.parse(row.dc) as number[]);
  const made = steps.map(({ processor, position, values }) => ({
    ...newStep(hit.id, processor, position, values),
    id: randomUUID(),
  }));
  const ready = Hit.safeParse({ ...hit, ...set });
  // A sound outside all limits is a hit nevertheless.
  return ready.success
    ? { ...ready.data, steps: made }
    : { ...hit, doubt: `${hit.doubt} Its sound could not be prepared.`.trim() };
}

/** Names of hits that begin like the wanted one, to find a free name. */
function takenNames(db: Db, name: string): Set<string> {
  const stem = name.replace(/ \d{1,6}$/, '').replace(/[\\%_]/g, '\\$&');
  const rows = prepared(db, "SELECT name FROM hit WHERE name LIKE ? ESCAPE '\\'").all(`${stem}%`) as { name: string }[];
  return new Set(rows.map((r) => r.name));
}

/** Creates the hit and marks the recording as a single sound; part of the analysis' transaction. */
export function takeOneShot(db: Db, { steps, ...hit }: TreatedHit): void {
  insertDoc(db, 'hit', hit, 1);
  for (const step of steps) insertDoc(db, 'step', step, 1);
  prepared(db, "UPDATE recording SET what = 'one-shot', rev = rev + 1 WHERE id = ? AND what IS NULL").run(
    hit.recordingId,
  );
}
