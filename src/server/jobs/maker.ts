import type { Change } from '@/contract/edits';
import type { PrepareRequest } from '@/contract/hits';
import { UndercroftError } from '@/core/errors';
import type { Bundled } from '../exporting/bundled';
import { rebuilt } from './carried';
import type { FromWorker } from './protocol';
import { Thread } from './thread';

/** The thread sends a heartbeat after every block of sound. */
const SILENCE_MS = 60_000;

/** A zip that is being made. Its length is known before the first byte. */
export interface MadeBundle {
  readonly name: string;
  readonly isPrivate: boolean;
  readonly bytes: number;
  readonly stream: ReadableStream<Uint8Array>;
}

interface Making {
  readonly hear: (message: Extract<FromWorker, { key: number }>) => void;
  readonly fail: (error: Error) => void;
}

/**
 * Runs work that would block requests for seconds - exports and preparing many hits - in one thread, a step of each in turn. A zip is
 * produced only as fast as it is read.
 */
export class Maker {
  private readonly thread: Thread;
  private readonly open = new Map<number, Making>();
  private nextKey = 1;

  constructor(workspace: string, file: string) {
    this.thread = new Thread(
      'make',
      workspace,
      file,
      (message) => {
        if ('key' in message) this.open.get(message.key)?.hear(message);
      },
      () => {
        const broken = new UndercroftError(
          'interrupted',
          'The work was broken off by a fault of the server; try again.',
        );
        for (const { fail } of [...this.open.values()]) fail(broken);
        this.open.clear();
      },
    );
  }

  /** A kit or hits as a zip; cancelling the stream stops the work. Rejects before the first byte where it may not be passed on. */
  bundle(of: Bundled): Promise<MadeBundle> {
    const key = this.nextKey++;
    return new Promise((resolve, reject) => {
      let controller: ReadableStreamDefaultController<Uint8Array> | undefined;
      let pulled: () => void = () => {};
      const fail = (error: Error) => {
        this.open.delete(key);
        reject(error);
        controller?.error(error);
        pulled();
      };
      const stream = new ReadableStream<Uint8Array>(
        {
          start: (given) => {
            controller = given;
          },
          pull: () => {
            this.thread.say({ type: 'bundle-more', key });
            return new Promise<void>((done) => {
              pulled = done;
            });
          },
          cancel: () => this.cancel(key),
        },
        { highWaterMark: 0 },
      );
      this.open.set(key, {
        fail,
        hear: (message) => {
          if (message.type === 'bundle-begun') {
            const { name, isPrivate, bytes } = message;
            resolve({ name, isPrivate, bytes, stream });
          } else if (message.type === 'make-failed') fail(rebuilt(message.error));
          else if (message.type === 'bundle-piece') {
            if (message.bytes.length > 0) controller?.enqueue(message.bytes);
            else if (!message.last) {
              // A step without output, such as searching a pad's peak: ask for the next piece.
              this.thread.say({ type: 'bundle-more', key });
              return;
            }
            if (message.last) {
              this.open.delete(key);
              controller?.close();
            }
            pulled();
          }
        },
      });
      this.thread.say({ type: 'bundle', key, of });
    });
  }

  /** Computes the changes of preparing hits. Calls `progress` with 0..1. */
  prepare(request: PrepareRequest, progress: (share: number) => void, signal: AbortSignal): Promise<Change[]> {
    const key = this.nextKey++;
    return new Promise((resolve, reject) => {
      const fail = (error: Error) => {
        this.open.delete(key);
        reject(error);
      };
      this.open.set(key, {
        fail,
        hear: (message) => {
          if (message.type === 'preparing') progress(message.share);
          else if (message.type === 'make-failed') fail(rebuilt(message.error));
          else if (message.type === 'prepared') {
            this.open.delete(key);
            resolve(message.changes);
          }
        },
      });
      const cancel = () => {
        this.cancel(key);
        fail(new UndercroftError('cancelled', 'It was cancelled; nothing was changed.'));
      };
      if (signal.aborted) {
        cancel();
        return;
      }
      signal.addEventListener('abort', cancel, { once: true });
      this.thread.say({ type: 'prepare', key, request });
    });
  }

  watch(): void {
    this.thread.look();
    if (this.thread.silentMs > SILENCE_MS) void this.thread.end();
  }

  stop(): Promise<void> {
    return this.thread.end();
  }

  private cancel(key: number): void {
    if (this.open.delete(key)) this.thread.say({ type: 'make-cancel', key });
  }
}
