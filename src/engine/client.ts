import type { PadSound } from '../core/play/sound';
import { Kind, PROCESSOR, RECORD_FLOATS, RING_RECORDS, type Shared, State } from './protocol';
import { RingWriter } from './ring';

/** Sample memory in floats: 96 MB, three minutes of stereo at 44.1 kHz. What is idle leaves when it is needed. */
export const MEMORY_FLOATS = 24 * 1024 * 1024;

/**
 * The page's handle on the audio thread. Striking writes one record to shared memory, in the same task, with no await on
 * the way. Before the thread has started records wait in the ring.
 */
export class EngineClient {
  readonly shared: Shared;
  private readonly ring: RingWriter;
  private readonly state: Float64Array;
  private sent = 0;

  private constructor(
    readonly context: AudioContext,
    private readonly node: AudioWorkletNode,
    shared: Shared,
  ) {
    this.shared = shared;
    this.ring = new RingWriter(shared.ring, shared.cursor);
    this.state = new Float64Array(shared.state);
  }

  /** Loads the worklet; the context stays suspended until `resume` is called in answer to a gesture. */
  static async open(): Promise<EngineClient> {
    if (!globalThis.crossOriginIsolated) {
      throw new Error(
        'The page is not isolated, so the browser withholds shared memory. Open it at the address that was printed at the start.',
      );
    }
    const context = new AudioContext({ latencyHint: 'interactive' });
    await context.audioWorklet.addModule('/engine/worklet.js');
    const shared: Shared = {
      memory: new SharedArrayBuffer(MEMORY_FLOATS * 4),
      ring: new SharedArrayBuffer(RING_RECORDS * RECORD_FLOATS * 8),
      cursor: new SharedArrayBuffer(8),
      state: new SharedArrayBuffer(State.length * 8),
    };
    const node = new AudioWorkletNode(context, PROCESSOR, {
      numberOfInputs: 0,
      outputChannelCount: [2],
      processorOptions: shared,
    });
    node.connect(context.destination);
    return new EngineClient(context, node, shared);
  }

  get sampleRate(): number {
    return this.context.sampleRate;
  }

  /** The audio thread's frame, a block or two behind what is being rendered. */
  get frame(): number {
    return this.state[State.frame] as number;
  }

  /** The most voices that sounded at once since this was last asked: a short hat is counted between two looks. */
  takeMostVoices(): number {
    const most = this.state[State.mostVoices] as number;
    this.state[State.mostVoices] = 0;
    return most;
  }

  /** The highest sample of the output since this was last asked, linear: over 1 it is over full scale. */
  takeHighest(): number {
    const highest = this.state[State.highest] as number;
    this.state[State.highest] = 0;
    return highest;
  }

  /** Decaying peak of the output, linear. */
  get peak(): number {
    return this.state[State.peak] as number;
  }

  /** Strikes that were sent and that the audio thread has taken. */
  get strikes(): { sent: number; received: number } {
    return { sent: this.sent, received: this.state[State.received] as number };
  }

  /** Seconds from a frame's rendering to its being heard, as far as the browser knows. */
  get latency(): number {
    return (this.context.baseLatency || 0) + (this.context.outputLatency || 0);
  }

  resume(): void {
    if (this.context.state === 'suspended') void this.context.resume();
  }

  setPad(pad: number, sound: PadSound): void {
    this.ring.write(
      Kind.beginPad,
      pad,
      sound.gainLeft,
      sound.gainRight,
      sound.held ? 1 : 0,
      sound.chokeGroup,
      sound.fadeOutFrames,
    );
    for (const l of sound.layers) {
      this.ring.write(Kind.addLayer, pad, l.left, l.right, l.start, l.end, l.ratio, l.gain, l.delay);
    }
  }

  strike(pad: number, velocity: number, frame = -1): void {
    this.resume();
    this.sent++;
    this.ring.write(Kind.strike, pad, velocity, frame);
  }

  release(pad: number): void {
    this.ring.write(Kind.release, pad, -1);
  }

  stop(pad = -1): void {
    this.ring.write(Kind.stop, pad, -1);
  }

  close(): void {
    this.node.disconnect();
    void this.context.close();
  }
}
