import type { BeginTake, EndTake, TakeSource } from '@/contract/takes';
import type { ImportAnswer } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { bytesPerFrame, type PcmFormat } from '@/core/format/pcm';
import { emptySaid } from '@/core/format/said';
import { combinedRights, type RightsOf } from '@/core/rights/rights';
import { STRUCK_RIGHTS } from '@/core/rights/struck';
import type { Db } from '../db/open';
import { isDiskFull, requireRoomToGoOn, storageFull, withRoom } from '../db/reserve';
import { letEditsPass } from '../db/turns';
import { prepared, select } from '../history/tables';
import { type ImportOptions, plainImport } from './options';
import { BLOCK_FRAMES, RecordingWriter } from './recording-writer';

/** The title and number of a take; where another tab has recorded one of that title, the next number that is free. */
function freeTitle(db: Db, { title, number }: BeginTake): Pick<BeginTake, 'title' | 'number'> {
  const taken = prepared(db, 'SELECT 1 FROM take JOIN recording r ON r.id = recording_id WHERE r.title = ?').pluck();
  const suffix = String(number);
  if (!title.endsWith(suffix)) return { title, number };
  const named = (n: number) => `${title.slice(0, -suffix.length)}${n}`;
  let free = number;
  while (taken.get(named(free))) free++;
  return { title: named(free), number: free };
}

/** Nothing is known of the end of a take that was cut off. */
const UNENDED: Omit<EndTake, 'frames'> = { room: null, gaps: [], heard: [], tempoBpm: null };

/**
 * A take while it is recorded: every piece is on the disk when it is acknowledged. Whole blocks are stored as those of any
 * recording, what came after them as it came; a crash therefore loses nothing that was acknowledged. After an error it must
 * be opened anew.
 */
export class TakeWriter {
  private readonly writer: RecordingWriter;
  private readonly format: PcmFormat;
  private pieces = 0;
  private ended: EndTake | null = null;
  /** What it knows is no longer what is stored. */
  isBroken = false;

  private constructor(
    private readonly db: Db,
    readonly id: string,
    private readonly options: ImportOptions,
    { sampleRate, channelCount }: Pick<PcmFormat, 'sampleRate' | 'channelCount'>,
    private readonly source: TakeSource,
    discard: (recordingId: string) => void,
  ) {
    this.format = { encoding: 'f32', sampleRate, channelCount, validBits: 32 };
    this.writer = new RecordingWriter(db, id, options, discard, {
      isStoredByCaller: true,
      alsoSettle: () => this.settle(),
    });
  }

  /** Begins a take. */
  static begin(db: Db, take: BeginTake, discard: (recordingId: string) => void): TakeWriter {
    const { id, sessionId, source } = take;
    requireRoomToGoOn(db, 0);
    const { title, number } = freeTitle(db, take);
    const made = new TakeWriter(db, id, plainImport(title), take, source, discard);
    letEditsPass();
    db.pragma('synchronous = FULL');
    db.transaction(() => {
      made.writer.begin(made.format);
      prepared(db, "UPDATE recording SET title = ?, what = 'take' WHERE id = ?").run(title, id);
      prepared(
        db,
        "INSERT INTO take (recording_id, session_id, number, state, source) VALUES (?, ?, ?, 'running', ?)",
      ).run(id, sessionId, number, JSON.stringify(source));
    }).immediate();
    return made;
  }

  /** Opens a running take from what is stored of it; null where there is none. */
  static resume(db: Db, id: string, discard: (recordingId: string) => void): TakeWriter | null {
    const row = prepared(
      db,
      `SELECT r.title, r.sample_rate AS sampleRate, r.channel_count AS channelCount, t.source
       FROM take t JOIN recording r ON r.id = t.recording_id WHERE t.recording_id = ? AND t.state = 'running'`,
    ).get(id) as { title: string; sampleRate: number; channelCount: number; source: string } | undefined;
    if (!row) return null;
    const source = JSON.parse(row.source) as TakeSource;
    const made = new TakeWriter(db, id, plainImport(row.title), row, source, discard);
    made.readStored();
    return made;
  }

  /** Frames that are stored. */
  get frames(): number {
    return this.writer.taken;
  }

  /**
   * Stores frames from `from` on, those already there left out. Returns how many frames are stored, on the disk. Throws
   * `stale` where frames are missing before them, `storage-full` where the disk is.
   */
  push(from: number, bytes: Uint8Array): number {
    const { db, writer, frames } = this;
    const frameBytes = bytesPerFrame(this.format);
    if (bytes.length % frameBytes !== 0)
      throw new UndercroftError(
        'out-of-range',
        `A piece holds whole frames of ${frameBytes} bytes; this one has ${bytes.length} bytes.`,
      );
    if (from > frames)
      throw new UndercroftError('stale', `The take has ${frames} frames; a piece from frame ${from} on leaves a gap.`);
    const fresh = bytes.subarray((frames - from) * frameBytes);
    if (fresh.length === 0) return frames;
    requireRoomToGoOn(db, 2 * fresh.length);
    letEditsPass();
    db.pragma('synchronous = FULL');
    const { blocks } = writer;
    try {
      db.transaction(() => {
        writer.take(fresh);
        this.keepPiece(writer.blocks > blocks ? null : fresh);
      }).immediate();
    } catch (error) {
      this.isBroken = true;
      throw isDiskFull(error) ? storageFull() : error;
    }
    return writer.taken;
  }

  /** Marks the take ready; `end` is null for one that was cut off. Where the same audio is there, answers with that recording. */
  finish(end: EndTake | null): ImportAnswer {
    this.ended = end;
    const { sampleRate } = this.format;
    const seconds = (frames: number) => `${(frames / sampleRate).toFixed(3)} s`;
    const warnings =
      end === null
        ? [`The recording was cut off after ${seconds(this.frames)}, without being stopped; up to there it is whole.`]
        : end.gaps.map(
            ({ frame, frames }) =>
              `${frames} frames are missing at ${seconds(frame)}: the machine was too busy to record.`,
          );
    const said = { ...emptySaid(), tempoBpm: end?.tempoBpm ?? null };
    this.isBroken = true;
    const answer = withRoom(this.db, () => this.writer.finish({ kind: 'wav', warnings, said }));
    return answer.duplicate ? answer : { ...answer, title: this.options.fileName };
  }

  /** After a block, what came behind it is the only piece. */
  private keepPiece(fresh: Uint8Array | null): void {
    const { db, id, writer } = this;
    let piece = fresh;
    if (!piece) {
      writer.store();
      prepared(db, 'DELETE FROM take_piece WHERE recording_id = ?').run(id);
      this.pieces = 0;
      piece = writer.unfinished;
    }
    if (piece.length === 0) return;
    prepared(db, 'INSERT INTO take_piece (recording_id, ordinal, data) VALUES (?, ?, ?)').run(id, this.pieces++, piece);
  }

  private readStored(): void {
    const { db, id, writer } = this;
    writer.resume(this.format);
    // The last block of a take that was being finished is a short one, with the pieces in it.
    if (writer.taken % BLOCK_FRAMES !== 0) return;
    const rows = prepared(db, 'SELECT data FROM take_piece WHERE recording_id = ? ORDER BY ordinal').all(id);
    for (const { data } of rows as { data: Buffer }[]) writer.take(data);
    this.pieces = rows.length;
  }

  /** What is known of the take's sound and end, in the transaction that marks it ready. */
  private settle(): void {
    const { db, id, source, ended } = this;
    const { room, heard } = ended ?? UNENDED;
    prepared(db, 'DELETE FROM take_piece WHERE recording_id = ?').run(id);
    prepared(db, "UPDATE take SET state = 'done', cut_off = ?, room = ? WHERE recording_id = ?").run(
      ended === null ? 1 : 0,
      room && JSON.stringify(room),
      id,
    );
    const sources = select(db, 'recording', 'WHERE id IN (SELECT value FROM json_each(?))', JSON.stringify(heard));
    const rights = source.input === 'drummer' ? STRUCK_RIGHTS : rightsOf(sources);
    const notes = sources.length > 0 ? `Heard in it: ${sources.map(({ title }) => title).join(', ')}.` : '';
    if (rights)
      prepared(
        db,
        'UPDATE recording SET rights_kind = ?, rights_owner = ?, rights_text = ?, notes = ? WHERE id = ?',
      ).run(rights.rightsKind, rights.rightsOwner, rights.rightsText, notes.slice(0, 10_000), id);
  }
}

function rightsOf(sources: readonly RightsOf[]): Omit<RightsOf, 'title'> | null {
  return sources.length > 0 ? combinedRights(sources) : null;
}

/** Ids of takes that were running when their writer went away. */
export function runningTakes(db: Db): string[] {
  return prepared(db, "SELECT recording_id FROM take WHERE state = 'running'").pluck().all() as string[];
}
