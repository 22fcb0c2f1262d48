import { UndercroftError } from '@/core/errors';
import { audioKey, type TreatedHit } from '@/core/hit/key';
import { rebuilt } from './carried';
import { Thread } from './thread';

/** A single step on the longest hit takes some seconds. */
const SILENCE_MS = 60_000;

interface Waiting {
  readonly resolve: () => void;
  readonly reject: (error: Error) => void;
}

/** Renders hits in a thread of its own, so that neither requests nor imports wait for them. */
export class Renders {
  private readonly thread: Thread;
  private readonly open = new Map<number, Waiting>();
  /** Running renders by `audioKey`: a sound requested twice is rendered once. */
  private readonly underWay = new Map<string, Promise<void>>();
  private nextKey = 1;

  constructor(workspace: string, file: string) {
    this.thread = new Thread(
      'render',
      workspace,
      file,
      (message) => {
        if (message.type === 'rendered') this.take(message.key)?.resolve();
        else if (message.type === 'make-failed') this.take(message.key)?.reject(rebuilt(message.error));
      },
      () => {
        const broken = new UndercroftError('interrupted', 'The sound could not be rendered; try again.');
        for (const { reject } of this.open.values()) reject(broken);
        this.open.clear();
      },
    );
  }

  /** Settles when a hit's audio is in the render store. */
  ensure(hit: TreatedHit): Promise<void> {
    const sound = audioKey(hit);
    const known = this.underWay.get(sound);
    if (known) return known;
    const done = new Promise<void>((resolve, reject) => {
      const key = this.nextKey++;
      this.open.set(key, { resolve, reject });
      this.thread.say({ type: 'render', key, hit });
    }).finally(() => this.underWay.delete(sound));
    this.underWay.set(sound, done);
    return done;
  }

  watch(): void {
    this.thread.look();
    if (this.thread.silentMs > SILENCE_MS) void this.thread.end();
  }

  stop(): Promise<void> {
    return this.thread.end();
  }

  private take(key: number): Waiting | undefined {
    const waiting = this.open.get(key);
    this.open.delete(key);
    return waiting;
  }
}
