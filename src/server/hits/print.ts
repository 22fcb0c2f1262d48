import type { ImportAnswer } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { encodeFrames } from '@/core/format/pcm';
import { wavHeader } from '@/core/format/wav';
import { audioKey, isPlain } from '@/core/hit/key';
import type { HitSound } from '@/core/hit/render';
import { commitEdit } from '../history/commit';
import { select } from '../history/tables';
import { openHit } from '../renders/sound';
import type { Workspace } from '../workspace';
import { treatedHit } from './treated';

/** Frames that are written at a time. */
const PIECE_FRAMES = 65_536;

/**
 * Prints a hit as it sounds to a recording of its own, as 32-bit floats, with the rights of the recording it comes from
 * and a note on where that is. The same sound printed before is answered with the recording it became.
 */
export async function printHit(
  { db, renders, threads }: Pick<Workspace, 'db' | 'renders' | 'threads'>,
  hitId: string,
  by: { readonly browser: string; readonly tab: string },
): Promise<ImportAnswer & { readonly touched: ReturnType<typeof commitEdit>['touched'] }> {
  const hit = treatedHit(db, hitId);
  if (!hit) throw new UndercroftError('not-found', 'The hit is not there (any more).');
  if (!isPlain(hit)) {
    await threads.renders.ensure(hit);
    // Without its render it would be rendered here, on the thread that answers requests.
    if (!renders.find(audioKey(hit))) throw new UndercroftError('too-large', 'The sound is too large to be printed.');
  }
  const sound = openHit(db, renders, hit);
  const options = { fileName: `${hit.name} printed.wav`, path: '', takeAs: 'recording' as const, prepare: [] };
  const answer = await threads.imports.import(options, null, wavPieces(sound));
  if (answer.duplicate) return { ...answer, touched: [] };
  const [source] = select(db, 'recording', 'WHERE id = ?', hit.recordingId);
  const [made] = select(db, 'recording', 'WHERE id = ?', answer.recordingId);
  if (!source || !made) return { ...answer, touched: [] };
  const { rightsKind, rightsOwner, rightsText, tags, tempoBpm, place, madeOn } = source;
  const seconds = (hit.startFrame / sound.sampleRate).toFixed(3);
  const notes = `Printed from the hit ${hit.name} of ${source.title}, at ${seconds} s.`;
  const { touched } = commitEdit(db, {
    ...by,
    label: `printed ${hit.name}`,
    changes: [
      {
        op: 'update',
        doc: 'recording',
        id: answer.recordingId,
        rev: made.rev,
        set: { rightsKind, rightsOwner, rightsText, tags, tempoBpm, place, madeOn, notes },
      },
    ],
  });
  return { ...answer, touched };
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
