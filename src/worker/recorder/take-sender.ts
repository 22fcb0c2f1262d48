import type { BeginTake, EndTake, TakeSource } from '@/contract/takes';
import type { ErrorAnswer, ImportAnswer } from '@/contract/views';
import { joinBytes, toBase64 } from '@/core/bytes';
import type { TakeSink } from '@/core/capture/capture';
import type { HeardRoom } from '@/core/capture/room';
import { encodeFrames } from '@/core/format/pcm';

/** What a take is called and where it comes from. */
export interface TakePlan {
  readonly sessionId: string;
  readonly number: number;
  readonly title: string;
  readonly source: TakeSource;
  readonly tempoBpm: number | null;
  /** The recordings that are heard in it from the first. */
  readonly heard: readonly string[];
}

/** A take that has ended, and what it became. */
export interface StoredTake {
  readonly number: number;
  readonly input: TakeSource['input'];
  readonly frames: number;
  readonly answer: ImportAnswer;
}

export interface Sending {
  /** Frames that wait in the page. */
  readonly held: number;
  /** Why they wait, where something is wrong. */
  readonly trouble: string | null;
}

export interface SenderTells {
  readonly stored: (take: StoredTake) => void;
  /** The server refuses a take, and sending it again would not help; `runs` where it is still being recorded. */
  readonly failed: (message: string, runs: boolean) => void;
}

/** At most so much of a take is sent at once. */
const MOST_BYTES = 1024 * 1024;
const AGAIN_MS = 1000;
/** The server may stand still: after this long a request is given up and sent again. */
const GIVEN_UP_MS = 20_000;

interface OpenTake {
  id: string;
  plan: TakePlan;
  readonly sampleRate: number;
  readonly channelCount: number;
  readonly queue: Uint8Array[];
  queuedBytes: number;
  /** Frames of the take that this id has not: those of an earlier part, which the server ended. */
  base: number;
  /** Frames sent and acknowledged, those of an earlier part included. */
  stored: number;
  frames: number;
  gaps: { readonly frame: number; readonly frames: number }[];
  readonly heard: Set<string>;
  end: { readonly room: HeardRoom | null } | null;
}

/**
 * Sends takes to the server while they are recorded, one after another. What the server has not acknowledged is kept and sent
 * again until it is; a take that the server ended meanwhile is gone on with as another one.
 */
export class TakeSender implements TakeSink {
  private readonly takes: OpenTake[] = [];
  private isRunning = false;
  private trouble: string | null = null;
  private wake = () => {};

  constructor(
    private readonly planOf: () => TakePlan,
    private readonly tells: SenderTells,
  ) {}

  get sending(): Sending {
    const held = this.takes.reduce((sum, take) => sum + take.frames - take.stored, 0);
    return { held, trouble: this.trouble };
  }

  begin(sampleRate: number, channelCount: number): void {
    const [plan, id] = [this.planOf(), crypto.randomUUID()];
    const nothing = { base: 0, stored: 0, frames: 0, queuedBytes: 0 };
    this.takes.push({
      id,
      plan,
      sampleRate,
      channelCount,
      queue: [],
      ...nothing,
      gaps: [],
      heard: new Set(plan.heard),
      end: null,
    });
    void this.run();
  }

  take(channels: readonly Float32Array[]): void {
    const take = this.takes.at(-1);
    if (!take) return;
    const bytes = encodeFrames('f32', channels);
    take.queue.push(bytes);
    take.queuedBytes += bytes.length;
    take.frames += channels[0]?.length ?? 0;
    this.wake();
  }

  /** Notes a gap, by its frame in the running take. */
  gap(frame: number, frames: number): void {
    this.takes.at(-1)?.gaps.push({ frame, frames });
  }

  /** Notes recordings that are heard in the running take. */
  hears(recordingIds: readonly string[]): void {
    for (const id of recordingIds) this.takes.at(-1)?.heard.add(id);
  }

  /** The recordings that are heard in the take that was begun last. */
  get heard(): readonly string[] {
    return [...(this.takes.at(-1)?.heard ?? [])];
  }

  end(room: HeardRoom | null): void {
    const take = this.takes.at(-1);
    if (take) take.end = { room };
    this.wake();
  }

  private async run(): Promise<void> {
    if (this.isRunning) return;
    this.isRunning = true;
    for (let take = this.takes[0]; take; take = this.takes[0]) {
      try {
        await this.send(take);
      } catch (error) {
        this.tells.failed((error as Error).message, take.end === null);
      }
      this.takes.splice(this.takes.indexOf(take), 1);
    }
    this.isRunning = false;
  }

  /** Sends a take as it comes, until it is stored. */
  private async send(take: OpenTake): Promise<void> {
    await this.beginAt(take);
    for (;;) {
      if (take.queuedBytes > 0) await this.sendPiece(take);
      else if (take.end) break;
      else
        await new Promise<void>((resolve) => {
          this.wake = resolve;
        });
    }
    const { plan, id, base, frames, end } = take;
    const room = end?.room ?? null;
    const gaps = take.gaps.filter(({ frame }) => frame >= base).map((gap) => ({ ...gap, frame: gap.frame - base }));
    const { tempoBpm } = plan;
    const body: EndTake = {
      ...{ frames: frames - base, gaps: gaps.slice(0, 1000), heard: [...take.heard], tempoBpm },
      room: room && {
        ...{ levelDb: room.levelDb, humHz: room.humHz },
        ...{ room: toBase64(room.spectrum), rest: room.rest ? toBase64(room.rest) : '' },
      },
    };
    const answer = (await this.asked(`/api/takes/${id}/end`, JSON.stringify(body))) as ImportAnswer;
    this.tells.stored({ number: plan.number, input: plan.source.input, frames: frames - base, answer });
  }

  private async beginAt({ id, plan, sampleRate, channelCount }: OpenTake): Promise<void> {
    const { sessionId, number, title, source } = plan;
    const body: BeginTake = { id, sessionId, number, title, source, sampleRate, channelCount };
    await this.asked('/api/takes', JSON.stringify(body));
  }

  private async sendPiece(take: OpenTake): Promise<void> {
    const pieces: Uint8Array[] = [];
    let bytes = 0;
    for (const piece of take.queue) {
      if (bytes > 0 && bytes + piece.length > MOST_BYTES) break;
      pieces.push(piece);
      bytes += piece.length;
    }
    const from = take.stored - take.base;
    try {
      await this.asked(`/api/takes/${take.id}/pieces?from=${from}`, joinBytes(pieces));
    } catch (error) {
      if (!(error instanceof Refused) || error.code !== 'not-found') throw error;
      await this.goOn(take);
      return;
    }
    take.queue.splice(0, pieces.length);
    take.queuedBytes -= bytes;
    take.stored += bytes / (4 * take.channelCount);
  }

  /** The server ended the take, as after a restart: what is not stored begins another one. */
  private async goOn(take: OpenTake): Promise<void> {
    take.id = crypto.randomUUID();
    take.base = take.stored;
    take.plan = { ...take.plan, title: `${take.plan.title}, gone on` };
    await this.beginAt(take);
  }

  /** Asks until there is an answer; throws `Refused` where asking again would not help. */
  private async asked(address: string, body: string | Uint8Array<ArrayBuffer>): Promise<unknown> {
    for (;;) {
      try {
        const answer = await post(address, body);
        this.trouble = null;
        return answer;
      } catch (error) {
        if (error instanceof Refused && !error.isPassing) throw error;
        this.trouble =
          error instanceof Refused ? error.message : 'The server is away: what is recorded is kept in this page.';
      }
      await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
    }
  }
}

/** A request that the server refused. */
class Refused extends Error {
  constructor(
    readonly code: string,
    message: string,
    /** Whether the same request may succeed later. */
    readonly isPassing: boolean,
  ) {
    super(message);
  }
}

async function post(address: string, body: string | Uint8Array<ArrayBuffer>): Promise<unknown> {
  const type = typeof body === 'string' ? 'application/json' : 'application/octet-stream';
  const response = await fetch(address, {
    method: 'POST',
    headers: { 'Content-Type': type },
    body,
    signal: AbortSignal.timeout(GIVEN_UP_MS),
  });
  if (response.ok) return response.json();
  const { error } = (await response.json().catch(() => ({ error: null }))) as { error: ErrorAnswer['error'] | null };
  throw new Refused(
    error?.code ?? '',
    error?.message ?? `The server answered with ${response.status}.`,
    response.status >= 500,
  );
}
