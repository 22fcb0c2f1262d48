import type { BeginTake, EndTake } from '@/contract/takes';
import type { ImportAnswer } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import type { Db } from '../db/open';
import { isDiskFull, storageFull } from '../db/reserve';
import { prepared } from '../history/tables';
import { removeArriving } from './removal';
import { runningTakes, TakeWriter } from './take-writer';

/** A take without a piece for this long is ended: its page is gone. */
const ABANDONED_MS = 12_000;
/** So many answers are kept for takes whose end is asked for again. */
const MOST_ANSWERS = 100;

export interface TakesSay {
  readonly discard: (recordingId: string) => void;
  /** A take was ended that nobody went on with. */
  readonly recovered: (recordingId: string) => void;
}

interface Running {
  /** Null after a fault: it is opened anew. */
  readonly writer: TakeWriter | null;
  readonly timer: NodeJS.Timeout;
}

/** The takes that are being recorded. After a fault a take is opened anew from what is stored of it. */
export class RunningTakes {
  private readonly running = new Map<string, Running>();
  /** Answers of takes that ended last: of one with the audio of another recording nothing is left to answer from. */
  private readonly answers = new Map<string, ImportAnswer>();

  constructor(
    private readonly db: Db,
    private readonly says: TakesSay,
  ) {}

  get isBusy(): boolean {
    return this.running.size > 0;
  }

  /** Begins a take; one that runs already goes on. Returns the frames that are stored. */
  begin(take: BeginTake): number {
    return this.step(take.id, () => {
      const writer = this.find(take.id) ?? TakeWriter.begin(this.db, take, this.says.discard);
      this.keep(take.id, writer);
      return writer.frames;
    });
  }

  /** Stores frames; see `TakeWriter.push`. Throws `not-found` where the take has ended. */
  push(id: string, from: number, bytes: Uint8Array): number {
    return this.step(id, () => {
      const writer = this.find(id);
      if (!writer)
        throw new UndercroftError('not-found', 'The take has ended; what comes after it belongs to another one.');
      this.keep(id, writer);
      return writer.push(from, bytes);
    });
  }

  /** Ends a take; one that has ended is answered again. */
  end(id: string, end: EndTake): ImportAnswer {
    const writer = this.step(id, () => this.find(id));
    if (!writer) return this.ended(id);
    if (writer.frames < end.frames)
      throw new UndercroftError(
        'stale',
        `The take has ${writer.frames} of ${end.frames} frames: the rest is to be sent first.`,
      );
    return this.finish(writer, end);
  }

  /** Ends the takes that a crash cut off, with all that is stored of them. */
  recover(): void {
    for (const id of runningTakes(this.db)) if (!this.running.has(id)) this.cutOff(id);
  }

  private cutOff(id: string): void {
    try {
      const writer = this.find(id);
      if (!writer) return;
      if (writer.frames > 0) this.finish(writer, null);
      else this.drop(id);
      this.says.recovered(id);
    } catch (error) {
      // It is tried again at the next start.
      this.forget(id);
      console.error(`The take ${id} could not be ended:`, error);
    }
  }

  /** Removes a take of which nothing came. */
  private drop(id: string): void {
    this.forget(id);
    removeArriving(this.db, id);
  }

  private finish(writer: TakeWriter, end: EndTake | null): ImportAnswer {
    return this.step(writer.id, () => {
      if (writer.frames === 0) {
        this.drop(writer.id);
        throw new UndercroftError('refused', 'Nothing was recorded, so there is nothing to keep.');
      }
      const answer = writer.finish(end);
      this.forget(writer.id);
      this.answers.set(writer.id, answer);
      for (const oldest of this.answers.keys()) if (this.answers.size > MOST_ANSWERS) this.answers.delete(oldest);
      return answer;
    });
  }

  private ended(id: string): ImportAnswer {
    const known = this.answers.get(id);
    if (known) return known;
    const row = prepared(this.db, "SELECT title, warnings FROM recording WHERE id = ? AND state = 'ready'").get(id) as
      | { title: string; warnings: string }
      | undefined;
    if (!row) throw new UndercroftError('not-found', 'There is no such take.');
    return { recordingId: id, title: row.title, duplicate: false, warnings: JSON.parse(row.warnings) as string[] };
  }

  private find(id: string): TakeWriter | null {
    return this.running.get(id)?.writer ?? TakeWriter.resume(this.db, id, this.says.discard);
  }

  /** Notes that a take goes on, for some time. */
  private keep(id: string, writer: TakeWriter | null): void {
    this.forget(id);
    const timer = setTimeout(() => this.cutOff(id), ABANDONED_MS);
    this.running.set(id, { writer, timer });
  }

  private forget(id: string): void {
    clearTimeout(this.running.get(id)?.timer);
    this.running.delete(id);
  }

  /** Runs a step of a take; a writer that failed to store something is not used again. */
  private step<T>(id: string, work: () => T): T {
    try {
      return work();
    } catch (error) {
      if (this.running.get(id)?.writer?.isBroken) this.keep(id, null);
      throw isDiskFull(error) ? storageFull() : error;
    }
  }
}
