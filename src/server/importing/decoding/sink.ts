import type { StoredKind } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { encodeFrames, type PcmFormat, requirePlausible } from '@/core/format/pcm';
import type { Said } from '@/core/format/said';

/** Takes the sound out of a file as it is decoded. */
export interface PcmSink {
  /** Called once, before any sound. */
  begin(format: PcmFormat): void;
  /** Interleaved samples in the format's encoding; whole frames or not. They are there only until this returns. */
  take(bytes: Uint8Array): void;
}

/** What a decoder found out besides the sound. */
export interface Decoded {
  readonly kind: StoredKind;
  readonly warnings: readonly string[];
  /** Frames taken off the ends because the file tells the encoder's delay; null where it does not tell, or has none. */
  readonly delay: Said['delay'];
}

/** Frames that could not be decoded, said once. */
export function damagedFrames(count: number): string[] {
  return count === 0
    ? []
    : [`${count} ${count === 1 ? 'place' : 'places'} in the file could not be decoded; there is a gap or noise there.`];
}

/**
 * Hands decoded floats on to a sink, interleaved. A file that changes its rate or its channels on the way is read as far
 * as it is one.
 */
export class FloatFrames {
  frames = 0;
  changed = false;
  private format: PcmFormat | null = null;

  constructor(private readonly sink: PcmSink) {}

  push(channels: readonly Float32Array[], sampleRate: number): void {
    if (this.changed || channels.length === 0 || (channels[0] as Float32Array).length === 0) return;
    if (!this.format) {
      requirePlausible(sampleRate, channels.length);
      this.format = { encoding: 'f32', sampleRate, channelCount: channels.length, validBits: 32 };
      this.sink.begin(this.format);
    }
    if (channels.length !== this.format.channelCount || sampleRate !== this.format.sampleRate) {
      this.changed = true;
      return;
    }
    this.frames += (channels[0] as Float32Array).length;
    this.sink.take(encodeFrames('f32', channels));
  }

  get seconds(): number {
    return this.format ? this.frames / this.format.sampleRate : 0;
  }

  warnings(): string[] {
    if (!this.changed || !this.format) return [];
    const at = this.seconds.toFixed(1);
    return [`The sound changes its rate or channels at ${at} s; what comes after was left out.`];
  }
}

/** Said where a decoder gave up in the middle: what came before is kept. */
export function brokenOff(seconds: number): string {
  return `The file is damaged and could not be decoded beyond about ${seconds.toFixed(1)} s. What comes before was kept.`;
}

/** Whether an error is a decoder's over the file, and not one of our own words or of the disk or the store. */
export function isDecoderFault(error: unknown): boolean {
  return !(error instanceof UndercroftError) && typeof (error as { code?: unknown }).code !== 'string';
}

/** A decoder that a damaged file has upset may not even end in order; its memory goes with it all the same. */
export function freed(decoder: { free(): void }): void {
  try {
    decoder.free();
  } catch {
    // See above.
  }
}

/** Some decoders write every damaged frame to the console; they are counted and said to the person instead. */
export async function quietly<T>(work: () => T | Promise<T>): Promise<T> {
  const { error, warn } = console;
  console.error = () => {};
  console.warn = () => {};
  try {
    return await work();
  } finally {
    console.error = error;
    console.warn = warn;
  }
}
