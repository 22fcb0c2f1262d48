import { availableParallelism } from 'node:os';
import { Imports } from './imports';
import { Maker } from './maker';
import type { FromWorker, Told } from './protocol';
import { Renders } from './renders';
import { LOOK_MS, Thread } from './thread';

/** Analysis sends a heartbeat after every stretch. A thread without one for this long is terminated; the attempt counts. */
const LISTENING_SILENCE_MS = 180_000;
/** Delay before a failed job is claimed again: its cause may be temporary. */
const AGAIN_MS = 2000;

/** All worker threads of the server. */
export class Threads {
  readonly imports: Imports;
  readonly maker: Maker;
  readonly renders: Renders;
  private readonly analyse: Thread;
  private readonly help: Thread;
  private readonly watching: NodeJS.Timeout;

  constructor(
    workspace: string,
    file: string,
    private readonly told: (message: Told) => void,
    /** Called when the analysing thread has crashed, to expire its leases. */
    listeningDied: () => void,
  ) {
    this.imports = new Imports(workspace, file, told);
    this.maker = new Maker(workspace, file);
    this.renders = new Renders(workspace, file);
    const hear = (message: FromWorker) => this.hear(message);
    this.analyse = new Thread('analyse', workspace, file, hear, () => {
      listeningDied();
      setTimeout(() => this.wake(), AGAIN_MS).unref();
    });
    this.help = new Thread('help', workspace, file, hear, () => {});
    this.watching = setInterval(() => this.watch(), LOOK_MS).unref();
  }

  /** Wakes the analysing thread to claim jobs. */
  wake(): void {
    this.analyse.say({ type: 'work' });
  }

  async stop(): Promise<void> {
    clearInterval(this.watching);
    await Promise.all([
      this.analyse.end(),
      this.help.end(),
      this.imports.stop(),
      this.maker.stop(),
      this.renders.stop(),
    ]);
  }

  private watch(): void {
    this.imports.watch();
    this.maker.watch();
    this.renders.watch();
    for (const thread of [this.analyse, this.help]) {
      thread.look();
      if (thread.silentMs > LISTENING_SILENCE_MS) void thread.end();
    }
  }

  private hear(message: FromWorker): void {
    switch (message.type) {
      case 'much-to-hear':
        if (availableParallelism() >= 2) this.help.say({ type: 'help', recordingId: message.recordingId });
        break;
      case 'progress':
      case 'described':
      case 'settled':
        this.told(message);
        break;
      default:
        break;
    }
  }
}
