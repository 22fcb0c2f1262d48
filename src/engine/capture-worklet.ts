import { QUANTUM, type SharedSound, SoundRing } from '../core/capture/sound-ring';
import { CAPTURE, FEED } from './capture-names';

declare const currentFrame: number;
declare class AudioWorkletProcessor {
  constructor(options?: unknown);
  readonly port: MessagePort;
}
declare function registerProcessor(name: string, processor: unknown): void;

/** Carries what comes in to a worker, every frame of it: what the ring had no room for, or was never rendered, is a gap. */
class CaptureProcessor extends AudioWorkletProcessor {
  private readonly ring: SoundRing;
  private next = -1;
  /** Blocks that were lost and are still to be written as silence. */
  private lost = 0;
  private isOpen = true;

  constructor(options: { processorOptions: SharedSound }) {
    super();
    this.ring = new SoundRing(options.processorOptions);
    this.port.onmessage = () => {
      this.isOpen = false;
    };
  }

  process(inputs: Float32Array[][]): boolean {
    const { ring } = this;
    const [input] = inputs;
    if (this.next >= 0) this.lost += (currentFrame - this.next) / QUANTUM;
    this.next = currentFrame + QUANTUM;
    if (ring.isFull) this.lost++;
    else {
      if (this.lost > 0) this.fillGap();
      if (ring.isFull) this.lost++;
      else ring.write(input?.[0], input?.[1]);
    }
    return this.isOpen;
  }

  private fillGap(): void {
    const { ring } = this;
    const blocks = Math.min(this.lost, ring.room);
    ring.noteGap(blocks);
    for (let n = 0; n < blocks; n++) ring.write(undefined, undefined);
    this.lost -= blocks;
  }
}

/** Plays what a worker makes; silence where that comes late. */
class FeedProcessor extends AudioWorkletProcessor {
  private readonly ring: SoundRing;
  private isOpen = true;

  constructor(options: { processorOptions: SharedSound }) {
    super();
    this.ring = new SoundRing(options.processorOptions);
    this.port.onmessage = () => {
      this.isOpen = false;
    };
  }

  process(_inputs: unknown, outputs: Float32Array[][]): boolean {
    const [left, right] = outputs[0] as [Float32Array, Float32Array];
    if (this.ring.waiting > 0) this.ring.read(left, right, 0);
    return this.isOpen;
  }
}

registerProcessor(CAPTURE, CaptureProcessor);
registerProcessor(FEED, FeedProcessor);
