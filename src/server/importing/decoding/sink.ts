import type { StoredKind } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { encodeFrames, type PcmFormat, requirePlausible } from '@/core/format/pcm';
import type { Said } from '@/core/format/said';

/** Receives the sound of a file as it is decoded. */
export interface PcmSink {
  /** Called once, before any sound. */
  begin(format: PcmFormat): void;
  /** Interleaved samples in the format's encoding; not necessarily whole frames. Valid only until this returns. */
  take(bytes: Uint8Array): void;
}

/** Facts that a decoder found besides the sound. */
export interface Decoded {
  readonly kind: StoredKind;
  readonly warnings: readonly string[];
  /** Frames removed at the ends as encoder delay; null where the file does not tell, or has none. */
  readonly delay: Said['delay'];
}

/** Number of frames that could not be decoded, reported once. */
export function damagedFrames(count: number): string[] {
  return count === 0
    ? []
    : [`${count} ${count === 1 ? 'place' : 'places'} in the file could not be decoded; there is a gap or noise there.`];
}

/** Writes decoded floats to a sink, interleaved. A file that changes its rate or channels is read up to that point. */
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

/** Reported where a decoder gave up: the sound before is kept. */
export function brokenOff(seconds: number): string {
  return `The file is damaged and could not be decoded beyond about ${seconds.toFixed(1)} s. What comes before was kept.`;
}

/** Whether an error is a decoder's, and not one of our own or of the disk or the store. */
export function isDecoderFault(error: unknown): boolean {
  return !(error instanceof UndercroftError) && typeof (error as { code?: unknown }).code !== 'string';
}

/** A decoder confused by a damaged file may fail to close; its memory is freed anyway. */
export function freed(decoder: { free(): void }): void {
  try {
    decoder.free();
  } catch {
    // See above.
  }
}

/** Some decoders log every damaged frame to the console; they are counted and reported once instead. */
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
