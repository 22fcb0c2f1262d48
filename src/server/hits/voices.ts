import { randomUUID } from 'node:crypto';
import type { z } from 'zod';
import type { Change, Touched } from '@/contract/edits';
import type { ImportAnswer } from '@/contract/views';
import type { MadeVoice, MakeVoice, PrintedStrokes, PrintStrokes } from '@/contract/voices';
import { UndercroftError } from '@/core/errors';
import { writeWav } from '@/core/format/wav';
import { HIT_INITIAL } from '@/core/hit/initial';
import { freeName } from '@/core/naming/names';
import { STRUCK_RIGHTS } from '@/core/rights/struck';
import { frameCount, silence } from '@/core/signal/audio';
import { struckAudio, VOICE_RATE } from '@/core/voice/source';
import type { Db } from '../db/open';
import { commitEdit } from '../history/commit';
import { prepared, select } from '../history/tables';

/** Takes a file in, by its name. */
export type TakeFile = (fileName: string, bytes: Uint8Array) => Promise<ImportAnswer>;

/** Kept free after each stroke that is printed, in seconds. */
const GAP_S = 0.1;

/** Makes a hit whose source is a struck voice. Its recording is the stroke with which it begins. */
export async function makeVoice(
  db: Db,
  take: TakeFile,
  { name, family, voice, ...by }: z.output<typeof MakeVoice>,
): Promise<MadeVoice & { readonly touched: readonly Touched[] }> {
  const audio = struckAudio(voice);
  const { recordingId } = await take(`${name}.wav`, writeWav(audio, 'f32'));
  const hitId = randomUUID();
  const value = {
    ...HIT_INITIAL,
    ...{ name: freeHitName(db, name), family, recordingId, startFrame: 0, endFrame: frameCount(audio), sliceId: null },
    voice,
  };
  const changes: Change[] = [
    ...described(db, recordingId, 'The first stroke of a hit that is a struck voice.'),
    { op: 'create', doc: 'hit', id: hitId, value },
  ];
  const { touched } = commitEdit(db, { ...by, label: `made the voice ${value.name}`, changes });
  return { hitId, recordingId, touched };
}

/** Prints strokes of a voice, the softest first, each a hit of its own. */
export async function printStrokes(
  db: Db,
  take: TakeFile,
  hitId: string,
  { velocities, each, ...by }: z.output<typeof PrintStrokes>,
): Promise<PrintedStrokes & { readonly touched: readonly Touched[] }> {
  const [hit] = select(db, 'hit', 'WHERE id = ?', hitId);
  if (!hit) throw new UndercroftError('not-found', 'The hit is not there (any more).');
  const { voice, name, family } = hit;
  if (!voice)
    throw new UndercroftError('refused', `${name} is no struck voice: only of one several strokes can be printed.`);
  const wanted = [...velocities].sort((a, b) => a - b);
  const struck = wanted.flatMap((velocity, v) =>
    Array.from({ length: each }, (_, n) => ({
      velocity,
      audio: struckAudio({ ...voice, velocity, seed: (voice.seed + v * each + n) >>> 0 }),
    })),
  );
  const gap = Math.round(GAP_S * VOICE_RATE);
  const sides = Math.max(...struck.map(({ audio }) => audio.channels.length));
  const whole = silence(
    struck.reduce((sum, { audio }) => sum + frameCount(audio) + gap, 0),
    sides,
    VOICE_RATE,
  );
  let at = 0;
  const placed = struck.map(({ velocity, audio }) => {
    const startFrame = at;
    for (const [c, channel] of whole.channels.entries())
      channel.set(audio.channels[c] ?? (audio.channels[0] as Float32Array), startFrame);
    at += frameCount(audio) + gap;
    return { velocity, startFrame, endFrame: startFrame + frameCount(audio), hitId: randomUUID() };
  });
  const { recordingId } = await take(`${name} strokes.wav`, writeWav(whole, 'f32'));
  const names = new Set(prepared(db, 'SELECT name FROM hit').pluck().all() as string[]);
  const hits = placed.map(({ velocity, startFrame, endFrame, hitId: id }): Change => {
    const own = freeName(`${name} at ${velocity}`, names);
    names.add(own);
    const value = { ...HIT_INITIAL, name: own, family, recordingId, startFrame, endFrame, sliceId: null };
    return { op: 'create', doc: 'hit', id, value };
  });
  const changes = [...described(db, recordingId, `Strokes of the voice ${name}, printed.`), ...hits];
  const { touched } = commitEdit(db, { ...by, label: `printed ${hits.length} strokes of ${name}`, changes });
  return { recordingId, strokes: placed.map(({ hitId: id, velocity }) => ({ hitId: id, velocity })), touched };
}

/** What is told of a recording of strokes; nothing of one that was there before. */
function described(db: Db, recordingId: string, notes: string): Change[] {
  const [recording] = select(db, 'recording', 'WHERE id = ?', recordingId);
  if (!recording || (recording.rightsKind !== 'unknown' && recording.binnedAt === null)) return [];
  // One that lies in the bin is wanted again.
  const set =
    recording.rightsKind !== 'unknown'
      ? { binnedAt: null }
      : { what: 'one-shot', notes, binnedAt: null, ...STRUCK_RIGHTS };
  return [{ op: 'update', doc: 'recording', id: recordingId, rev: recording.rev, set }];
}

function freeHitName(db: Db, wanted: string): string {
  return freeName(wanted, new Set(prepared(db, 'SELECT name FROM hit').pluck().all() as string[]));
}
