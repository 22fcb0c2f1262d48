import { Fft } from '../kernel/fft';
import { toDb } from '../signal/units';
import { hann } from '../signal/window';
import type { MeterReading } from './meter';

/** What is wrong with an input. */
export type InputFault =
  | { readonly kind: 'nothing' }
  | { readonly kind: 'low'; readonly peakDb: number }
  | { readonly kind: 'clips'; readonly samples: number }
  | { readonly kind: 'feedback'; readonly hz: number };

/** An input that gives zeros alone for this long is muted or switched off. */
const NOTHING_S = 2;
/** Strokes whose loudest stays under this need more level: 16 bits of it would be fewer than 11. */
const LOW_DB = -32;
/** So many strokes are needed before their level is judged. */
const LEAST_STROKES = 3;
const FFT_SIZE = 4096;
/** A tone that feeds back is nearly all of the power, in a few bins, and loud; and it does not die away. */
const TONE_SHARE = 0.8;
const TONE_BINS = 3;
const TONE_DB = -40;
const TONE_S = 1.2;
const TONE_FALL_DB = 1.5;

/** Watches an input for what a person should mend before going on. */
export class InputWatch {
  private readonly frame = new Float32Array(FFT_SIZE);
  private readonly fft = new Fft(FFT_SIZE);
  private readonly window = hann(FFT_SIZE);
  private filled = 0;
  private zeros = 0;
  private strokes = 0;
  private loudest = 0;
  /** The steady tone that is heard: its bin, for how many frames, and its level at last. */
  private tone = { bin: 0, frames: 0, db: 0 };

  constructor(private readonly sampleRate: number) {}

  /** Takes in one channel. */
  add(samples: Float32Array): void {
    for (const x of samples) {
      this.zeros = x === 0 ? this.zeros + 1 : 0;
      this.frame[this.filled++] = x;
      if (this.filled === FFT_SIZE) this.look();
    }
  }

  /** Notes a stroke by its loudest sample. */
  struck(peak: number): void {
    this.strokes++;
    this.loudest = Math.max(this.loudest, peak);
  }

  /** Begins anew with the strokes, as for another take. */
  reset(): void {
    this.strokes = 0;
    this.loudest = 0;
  }

  /** What is wrong by now, the most pressing first. */
  faults({ clipped }: Pick<MeterReading, 'clipped'>): InputFault[] {
    const { tone, sampleRate } = this;
    const found: InputFault[] = [];
    if (tone.frames >= TONE_S * sampleRate) found.push({ kind: 'feedback', hz: (tone.bin * sampleRate) / FFT_SIZE });
    if (clipped > 0) found.push({ kind: 'clips', samples: clipped });
    if (this.zeros >= NOTHING_S * sampleRate) found.push({ kind: 'nothing' });
    const peakDb = toDb(this.loudest);
    if (this.strokes >= LEAST_STROKES && peakDb < LOW_DB) found.push({ kind: 'low', peakDb });
    return found;
  }

  private look(): void {
    this.filled = 0;
    const { re, im } = this.fft.forward(this.frame.map((x, i) => x * (this.window[i] as number)));
    const power = re.map((x, b) => x * x + (im[b] as number) ** 2);
    let bin = 1;
    let all = 0;
    for (let b = 1; b < power.length; b++) {
      all += power[b] as number;
      if ((power[b] as number) > (power[bin] as number)) bin = b;
    }
    const own = power.subarray(Math.max(1, bin - TONE_BINS), bin + TONE_BINS + 1).reduce((sum, p) => sum + p, 0);
    // Power of a Hann window's frame: three eighths of the squares, in half of the spectrum.
    const db = 10 * Math.log10((2 * all) / (0.375 * FFT_SIZE * FFT_SIZE) + 1e-20);
    const goesOn =
      Math.abs(bin - this.tone.bin) <= 1 && db > this.tone.db - TONE_FALL_DB && own > TONE_SHARE * all && db > TONE_DB;
    this.tone = { bin, db, frames: goesOn ? this.tone.frames + FFT_SIZE : 0 };
  }
}
