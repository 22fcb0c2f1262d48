import { threadKernel } from '../kernel/kernel';
import { type Audio, frameCount } from '../signal/audio';
import { kaiser } from '../signal/window';

/**
 * Resampling by any ratio, also one that changes, with a windowed sinc (J. O. Smith, "Digital audio resampling home page",
 * CCRMA; J. F. Kaiser & R. W. Schafer, "On the use of the I0-sinh window", IEEE Trans. ASSP 28, 1980). With 64 zero
 * crossings to a side and a stop band of 125 dB the transition takes 0.064 of the sample rate (Kaiser's formula); it ends
 * at half the lower of the two rates, so that nothing folds, and at 48 kHz all up to 20.9 kHz passes.
 */
const CROSSINGS = 64;
const STOP_DB = 125;
const BETA = 0.1102 * (STOP_DB - 8.7);
/** The middle of the transition, as a share of half the sample rate. */
const CUTOFF = 1 - (STOP_DB - 7.95) / (14.36 * 2 * CROSSINGS);
/** Table steps between crossings; reading between them in a line errs by less than -150 dB (pi^2 / 24 / steps^2). */
const STEPS = 4096;

let table: Float64Array | null = null;

/** One side of the windowed sinc, `STEPS` values between crossings. */
function prototype(): Float64Array {
  if (table) return table;
  const made = new Float64Array(CROSSINGS * STEPS + 2);
  for (let i = 0; i < made.length; i++) {
    const u = i / STEPS;
    const x = Math.PI * CUTOFF * u;
    made[i] = (x === 0 ? CUTOFF : Math.sin(x) / (Math.PI * u)) * kaiser(u / CROSSINGS, BETA);
  }
  table = made;
  return made;
}

/** Source frames an output frame that pitches by some semitones, at each output frame. */
export type RatioAt = (frame: number) => number;

/**
 * Positions in the source, in frames, of output frames: 0 for the first, each further on by the ratio there, up to `frames`
 * source frames.
 */
export function positionsOf(ratioAt: RatioAt, frames: number): { positions: Float64Array; ratios: Float64Array } {
  const positions: number[] = [];
  const ratios: number[] = [];
  for (let at = 0, n = 0; at < frames; n++) {
    const ratio = ratioAt(n);
    positions.push(at);
    ratios.push(ratio);
    at += ratio;
  }
  return { positions: Float64Array.from(positions), ratios: Float64Array.from(ratios) };
}

/** Audio read at positions in frames; where the ratio is over 1 the cutoff falls by it. Frames outside count as silence. */
export function readAt(audio: Audio, positions: Float64Array, ratios: Float64Array): Audio {
  const h = prototype();
  const frames = frameCount(audio);
  const out = audio.channels.map(() => new Float32Array(positions.length));
  const widest = ratios.reduce((most, ratio) => Math.max(most, ratio), 1);
  const weights = new Float64Array(Math.ceil(2 * CROSSINGS * widest) + 4);
  for (let n = 0; n < positions.length; n++) {
    const at = positions[n] as number;
    const narrow = Math.min(1, 1 / (ratios[n] as number));
    const reach = CROSSINGS / narrow;
    const first = Math.max(0, Math.ceil(at - reach));
    const last = Math.min(frames - 1, Math.floor(at + reach));
    for (let i = first; i <= last; i++) {
      const u = Math.abs(i - at) * narrow * STEPS;
      const step = Math.floor(u);
      const a = h[step] as number;
      weights[i - first] = narrow * (a + (u - step) * ((h[step + 1] as number) - a));
    }
    for (let c = 0; c < out.length; c++) {
      const channel = audio.channels[c] as Float32Array;
      let sum = 0;
      for (let i = first; i <= last; i++) sum += (channel[i] as number) * (weights[i - first] as number);
      (out[c] as Float32Array)[n] = sum;
    }
  }
  return { sampleRate: audio.sampleRate, channels: out };
}

/** Positions between two frames that weights are stored for; reading between them in a line errs by less than -125 dB. */
const PHASES = 1024;

/** Audio sped up by a ratio: pitch rises by it, and the length falls by it. Exactly 1 gives the audio itself. */
export function resampled(audio: Audio, ratio: number): Audio {
  if (ratio === 1 || frameCount(audio) === 0) return audio;
  const length = Math.ceil(frameCount(audio) / ratio);
  const { taps, rows } = bankOf(ratio);
  const kernel = threadKernel();
  const channels: Float32Array[] = [];
  for (let c = 0; c < audio.channels.length; c += 2) {
    const pair = audio.channels.slice(c, c + 2);
    const read = kernel.within(() => {
      // Silence around them, so that no step has to ask where it is.
      const places = pair.map((channel) => {
        const padded = new Float32Array(channel.length + 2 * taps);
        padded.set(channel, taps);
        return kernel.lay(padded);
      });
      const [left, right] = [places[0] as number, places[1] ?? (places[0] as number)];
      const at = kernel.lay(rows);
      const out = kernel.run.reserve(8 * (length + 4));
      for (let n = 0; n < length; n += CHUNK)
        kernel.run.readBetween(
          left,
          right,
          -taps,
          n * ratio,
          ratio,
          0,
          Math.min(CHUNK, length - n),
          at,
          taps,
          PHASES,
          out + 8 * n,
        );
      return kernel.floats(out, 2 * length).slice();
    });
    for (let side = 0; side < pair.length; side++)
      channels.push(Float32Array.from({ length }, (_, n) => read[2 * n + side] as number));
  }
  return { sampleRate: audio.sampleRate, channels };
}

/** Frames after which a position is worked out anew, so that no rounding gathers. */
const CHUNK = 4096;

interface Bank {
  readonly taps: number;
  /** `PHASES + 1` rows of `taps` weights: tap k of row r weighs frame k - taps / 2 + 1 at r / `PHASES` past frame 0. */
  readonly rows: Float32Array;
}

let lastBank: { readonly ratio: number; readonly bank: Bank } | null = null;

/** The weights for a ratio; the last ones are kept, since channels and hits are often tuned alike. */
function bankOf(ratio: number): Bank {
  if (lastBank?.ratio === ratio) return lastBank.bank;
  const h = prototype();
  const narrow = Math.min(1, 1 / ratio);
  const taps = 4 * Math.ceil(CROSSINGS / narrow / 2);
  const rows = new Float32Array((PHASES + 1) * taps);
  for (let r = 0; r <= PHASES; r++)
    for (let k = 0; k < taps; k++) {
      const u = Math.abs(k - taps / 2 + 1 - r / PHASES) * narrow * STEPS;
      const step = Math.floor(u);
      const a = h[step] ?? 0;
      rows[r * taps + k] = narrow * (a + (u - step) * ((h[step + 1] ?? 0) - a));
    }
  const bank = { taps, rows };
  lastBank = { ratio, bank };
  return bank;
}

/** Audio at another sample rate, sounding the same. */
export function atRate(audio: Audio, sampleRate: number): Audio {
  return { sampleRate, channels: resampled(audio, audio.sampleRate / sampleRate).channels };
}
