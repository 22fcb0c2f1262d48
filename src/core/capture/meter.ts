import { LoudnessMeter } from '../loudness/meter';

/** A sample from here on cannot be told from one that the converter cut off: the highest value of 16 bits. */
export const CLIP_LEVEL = 32767 / 32768;
/** The shown peak falls by 20 dB in 1.7 s, as a peak programme meter's does (IEC 60268-10, type I). */
const FALL_DB_PER_S = 20 / 1.7;

export interface MeterReading {
  /** For each channel, linear: the decaying peak that is shown, and the highest peak since the last reset. */
  readonly peaks: readonly number[];
  readonly held: readonly number[];
  /** Momentary loudness in LUFS. */
  readonly lufs: number;
  /** Samples at full scale since the reset. */
  readonly clipped: number;
}

/** Level of an input while it runs: peak with hold, loudness, and what clipped. */
export class InputMeter {
  private readonly loudness: LoudnessMeter;
  private readonly peaks: Float64Array;
  private readonly held: Float64Array;
  private silent = new Float32Array(0);
  private clipped = 0;

  constructor(
    private readonly sampleRate: number,
    channelCount: number,
  ) {
    this.loudness = new LoudnessMeter(sampleRate);
    this.peaks = new Float64Array(channelCount);
    this.held = new Float64Array(channelCount);
  }

  add(channels: readonly Float32Array[]): void {
    const [left, right] = channels;
    if (!left) return;
    const fall = 10 ** ((-FALL_DB_PER_S * left.length) / this.sampleRate / 20);
    for (const [c, channel] of channels.entries()) {
      let highest = 0;
      for (let i = 0; i < channel.length; i++) {
        const level = Math.abs(channel[i] as number);
        if (level > highest) highest = level;
        if (level >= CLIP_LEVEL) this.clipped++;
      }
      this.peaks[c] = Math.max((this.peaks[c] as number) * fall, highest);
      this.held[c] = Math.max(this.held[c] as number, highest);
    }
    if (!right && this.silent.length < left.length) this.silent = new Float32Array(left.length);
    this.loudness.add(left, right ?? this.silent, left.length);
  }

  get reading(): MeterReading {
    const { lufs } = this.loudness;
    return { peaks: [...this.peaks], held: [...this.held], lufs, clipped: this.clipped };
  }

  /** Forgets what is held and what clipped. */
  reset(): void {
    this.held.set(this.peaks);
    this.clipped = 0;
  }
}
