import type { BeginTake, EndTake } from '@/contract/takes';
import type { ImportAnswer } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { rebuilt } from './carried';
import type { FromWorker, ToWorker } from './protocol';

/** Pages go on with their takes within this time after a fault. */
const RECOVERED_AFTER_MS = 12_000;

interface Asked {
  readonly resolve: (answer: number | ImportAnswer) => void;
  readonly reject: (error: Error) => void;
}

/** Requests about takes that are recorded, sent to the importing thread. */
export class Takes {
  private readonly asked = new Map<number, Asked>();
  private nextKey = 1;

  constructor(private readonly say: (message: ToWorker, transfer?: ArrayBuffer[]) => void) {}

  /** Begins a take, or goes on with it; returns the frames that are stored. */
  begin(take: BeginTake): Promise<number> {
    return this.ask((key) => this.say({ type: 'take-begin', key, take })) as Promise<number>;
  }

  /** Stores frames of a take from `from` on; returns how many are stored. The bytes are transferred. */
  push(id: string, from: number, bytes: Uint8Array<ArrayBuffer>): Promise<number> {
    return this.ask((key) => this.say({ type: 'take-piece', key, id, from, bytes }, [bytes.buffer])) as Promise<number>;
  }

  end(id: string, end: EndTake): Promise<ImportAnswer> {
    return this.ask((key) => this.say({ type: 'take-end', key, id, end })) as Promise<ImportAnswer>;
  }

  /** Called when the thread has ended: what is stored of its takes is kept, and requests can be sent again. */
  broke(): void {
    const asked = [...this.asked.values()];
    this.asked.clear();
    for (const { reject } of asked)
      reject(
        new UndercroftError(
          'interrupted',
          'Recording was interrupted by a fault of the server; it can be gone on with.',
        ),
      );
    // Takes that no page goes on with are ended.
    setTimeout(() => this.say({ type: 'take-recover' }), RECOVERED_AFTER_MS).unref();
  }

  hear(message: FromWorker): void {
    if (message.type !== 'take-stored' && message.type !== 'take-ended' && message.type !== 'take-failed') return;
    const asked = this.asked.get(message.key);
    this.asked.delete(message.key);
    if (message.type === 'take-failed') asked?.reject(rebuilt(message.error));
    else asked?.resolve(message.type === 'take-stored' ? message.frames : message.answer);
  }

  private ask(send: (key: number) => void): Promise<number | ImportAnswer> {
    const key = this.nextKey++;
    return new Promise((resolve, reject) => {
      this.asked.set(key, { resolve, reject });
      send(key);
    });
  }
}
