import { QUANTUM, type SharedSound, SoundRing } from '@/core/capture/sound-ring';

/** A stretch that was lost before it came here; there are zeros instead. In frames since the input was opened. */
export interface LostStretch {
  readonly frame: number;
  readonly frames: number;
}

/** What comes in, however it does. */
export interface Arrivals {
  readonly sampleRate: number;
  readonly channelCount: 1 | 2;
  /** Frames taken so far. */
  readonly frames: number;
  /** What has come since the last call, channel by channel; null where nothing has. */
  take(): Float32Array[] | null;
  /** What was lost since the last call. */
  takeLost(): readonly LostStretch[];
  close(): void;
}

/** From the audio thread, through shared memory. */
export class RingArrivals implements Arrivals {
  private readonly ring: SoundRing;

  constructor(
    sound: SharedSound,
    readonly sampleRate: number,
    readonly channelCount: 1 | 2,
  ) {
    this.ring = new SoundRing(sound);
  }

  get frames(): number {
    return this.ring.framesRead;
  }

  take(): Float32Array[] | null {
    const { ring, channelCount } = this;
    const blocks = ring.waiting;
    if (blocks === 0) return null;
    const left = new Float32Array(blocks * QUANTUM);
    const right = new Float32Array(blocks * QUANTUM);
    for (let n = 0; n < blocks; n++) ring.read(left, right, n * QUANTUM);
    return channelCount === 1 ? [left] : [left, right];
  }

  takeLost(): readonly LostStretch[] {
    return this.ring.takeGaps();
  }

  close(): void {}
}

/** An input that is open gives data within this time, silence included. */
const LONGEST_SILENCE_MS = 5000;
const SILENT_TOO_LONG =
  'The input is open, but nothing comes from it. Plug it in again or choose another one, and press Record.';

/**
 * Straight from the input's track (W3C MediaStreamTrack Insertable Media Processing), where the browser has that: it does not go
 * through the thread that renders sound, which drops input without a word when it is late.
 */
export class TrackArrivals implements Arrivals {
  frames = 0;
  private blocks: Float32Array[][] = [];

  private constructor(
    private readonly reader: ReadableStreamDefaultReader<AudioData>,
    readonly sampleRate: number,
    readonly channelCount: 1 | 2,
  ) {}

  /** Settles when the first frames have come: they tell rate and channels. */
  static async open(stream: ReadableStream<AudioData>): Promise<TrackArrivals> {
    const reader = stream.getReader();
    const nothing = new Promise<never>((_, reject) =>
      setTimeout(() => reject(new Error(SILENT_TOO_LONG)), LONGEST_SILENCE_MS),
    );
    const { value: first } = await Promise.race([reader.read(), nothing]);
    if (!first) throw new Error('The input ended before anything came from it.');
    const made = new TrackArrivals(reader, first.sampleRate, first.numberOfChannels === 1 ? 1 : 2);
    made.keep(first);
    void made.read();
    return made;
  }

  take(): Float32Array[] | null {
    const { blocks, channelCount } = this;
    if (blocks.length === 0) return null;
    this.blocks = [];
    const frames = blocks.reduce((sum, [left]) => sum + (left?.length ?? 0), 0);
    this.frames += frames;
    return Array.from({ length: channelCount }, (_, c) => {
      const channel = new Float32Array(frames);
      let at = 0;
      for (const block of blocks) {
        channel.set(block[c] as Float32Array, at);
        at += (block[c] as Float32Array).length;
      }
      return channel;
    });
  }

  takeLost(): readonly LostStretch[] {
    // Its queue outlasts a worker that stands still; what a driver loses is told to nobody: times of arrival are no measure.
    return [];
  }

  close(): void {
    void this.reader.cancel().catch(() => {});
  }

  private async read(): Promise<void> {
    for (;;) {
      const { value, done } = await this.reader.read().catch(() => ({ value: undefined, done: true }));
      if (done || !value) return;
      this.keep(value);
    }
  }

  private keep(data: AudioData): void {
    const { channelCount } = this;
    const { numberOfFrames } = data;
    this.blocks.push(
      Array.from({ length: channelCount }, (_, planeIndex) => {
        const channel = new Float32Array(numberOfFrames);
        data.copyTo(channel, { planeIndex: Math.min(planeIndex, data.numberOfChannels - 1), format: 'f32-planar' });
        return channel;
      }),
    );
    data.close();
  }
}
