import { rmSync } from 'node:fs';
import type { ImportAnswer } from '@/contract/views';
import type { Db } from '../db/open';
import { decodeFile } from './decoding/decode-file';
import { RecordingWriter } from './recording-writer';
import { removeArriving } from './removal';
import { type SpooledFile, spoolPath } from './spool';

/**
 * Decodes a spooled file into a recording, and deletes the file. `progress` is called with 0..1 and may throw to stop.
 * Data of a failed file is passed to `discard`.
 */
export async function decodeSpooled(
  db: Db,
  { recordingId, options }: SpooledFile,
  progress: (share: number) => void = () => {},
  discard: (recordingId: string) => void = (id) => removeArriving(db, id),
): Promise<ImportAnswer> {
  const path = spoolPath(db, recordingId);
  try {
    const writer = new RecordingWriter(db, recordingId, options, discard);
    return writer.finish(await decodeFile(path, writer, progress));
  } catch (error) {
    discard(recordingId);
    throw error;
  } finally {
    rmSync(path, { force: true });
  }
}
