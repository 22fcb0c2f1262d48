import { Fft, type HalfSpectrum } from '../kernel/fft';
import { type Audio, frameCount } from '../signal/audio';
import { hann } from '../signal/window';

const SIZE = 2048;
const HOP = SIZE / 4;
/** The copied beginning gives way to the stretched rest over this time, in ms. */
const CROSSFADE_MS = 4;

/**
 * Stretches what comes after `from` frames by a factor, pitch kept; what comes before is copied. A phase vocoder with
 * identity phase locking: the phase of each spectral peak goes on at the frequency it has, and the bins around a peak keep
 * their phases against it (J. Laroche, M. Dolson, "Improved phase vocoder time-scale modification of audio", IEEE Trans.
 * SAP 7, 1999). Phases begin as they are at `from`, so that copy and stretched rest meet as one wave. Channels keep their
 * phases against one another, as peaks are those of their sum. The result has `from + (frames - from) * factor` frames.
 */
export function stretched(audio: Audio, from: number, factor: number): Audio {
  const frames = frameCount(audio);
  const start = Math.max(0, Math.min(frames, Math.round(from)));
  const total = start + Math.round((frames - start) * factor);
  if (factor === 1 || total === start) return { ...audio, channels: audio.channels.map((c) => c.slice(0, total)) };
  const fade = Math.min(start, Math.round((CROSSFADE_MS / 1000) * audio.sampleRate));
  const rise = (i: number) =>
    i < start - fade ? 0 : i >= start ? 1 : 0.5 - 0.5 * Math.cos((Math.PI * (i - start + fade)) / fade);
  const rest = audio.channels.map((channel) => channel.map((x, i) => x * rise(i)));
  const spread = vocode(rest, start, factor, total);
  const channels = audio.channels.map((channel, c) => {
    const out = spread[c] as Float32Array;
    for (let i = 0; i < start; i++) {
      const share = rise(i);
      out[i] = share === 0 ? (channel[i] as number) : (channel[i] as number) * (1 - share) + (out[i] as number);
    }
    return out;
  });
  return { ...audio, channels };
}

function vocode(channels: readonly Float32Array[], start: number, factor: number, total: number): Float32Array[] {
  const fft = new Fft(SIZE);
  const window = Float32Array.from(hann(SIZE));
  const out = channels.map(() => new Float32Array(total));
  const weight = new Float32Array(total);
  const steps = Math.ceil((total - start) / HOP) + SIZE / HOP;
  const before = Math.ceil(Math.min(start, SIZE / 2) / HOP);
  /** The sum of channels as it was put out last. */
  let put: HalfSpectrum | null = null;
  // Frames around `start` come as they are: the time before it is not stretched.
  for (let k = -before; k < steps; k++) {
    const outAt = start + k * HOP - SIZE / 2;
    const inAt = Math.round(start + (k < 0 ? k * HOP : (k * HOP) / factor)) - SIZE / 2;
    const spectra = channels.map((channel) => frameAt(fft, window, channel, inAt));
    if (k > 0 && put) {
      const earlier = together(channels.map((channel) => frameAt(fft, window, channel, inAt - HOP)));
      const turns = turnsOf(magnitudes(together(spectra)), put, earlier);
      for (const spectrum of spectra) turn(spectrum, turns);
    }
    put = together(spectra);
    for (const [c, spectrum] of spectra.entries())
      add(out[c] as Float32Array, fft.inverse(spectrum.re, spectrum.im), window, outAt);
    for (let i = Math.max(0, -outAt); i < SIZE && outAt + i < total; i++)
      weight[outAt + i] = (weight[outAt + i] as number) + (window[i] as number) ** 2;
  }
  for (const channel of out)
    for (let i = 0; i < total; i++) channel[i] = (channel[i] as number) / Math.max(1e-3, weight[i] as number);
  return out;
}

function frameAt(fft: Fft, window: Float32Array, channel: Float32Array, at: number): HalfSpectrum {
  const frame = new Float32Array(SIZE);
  const last = Math.min(SIZE, channel.length - at);
  for (let i = Math.max(0, -at); i < last; i++) frame[i] = (channel[at + i] as number) * (window[i] as number);
  return fft.forward(frame);
}

function together(spectra: readonly HalfSpectrum[]): HalfSpectrum {
  const [first] = spectra as [HalfSpectrum];
  if (spectra.length === 1) return first;
  return {
    re: first.re.map((_, b) => spectra.reduce((sum, s) => sum + (s.re[b] as number), 0)),
    im: first.im.map((_, b) => spectra.reduce((sum, s) => sum + (s.im[b] as number), 0)),
  };
}

function magnitudes({ re, im }: HalfSpectrum): Float32Array {
  return re.map((x, b) => x * x + (im[b] as number) ** 2);
}

/**
 * For each bin by what complex number of amount 1 it is turned. A peak goes on from the phase that was last put out there,
 * by the phase it has gone through in one hop of the source, since `earlier` is the frame one hop before; the bins around
 * it turn along.
 */
function turnsOf(levels: Float32Array, put: HalfSpectrum, earlier: HalfSpectrum): HalfSpectrum {
  const bins = levels.length;
  const [re, im] = [new Float32Array(bins).fill(1), new Float32Array(bins)];
  let from = 0;
  for (let peak = nextPeak(levels, 0); peak >= 0; ) {
    const next = nextPeak(levels, peak + 1);
    let to = bins;
    if (next >= 0) {
      to = peak + 1;
      for (let b = peak + 1; b < next; b++) if ((levels[b] as number) < (levels[to] as number)) to = b;
    }
    const [a, b] = [put.re[peak] as number, put.im[peak] as number];
    const [c, d] = [earlier.re[peak] as number, earlier.im[peak] as number];
    const [x, y] = [a * c + b * d, b * c - a * d];
    const amount = Math.hypot(x, y);
    if (amount > 1e-20) {
      re.fill(x / amount, from, to);
      im.fill(y / amount, from, to);
    }
    from = to;
    peak = next;
  }
  return { re, im };
}

/** A bin is a peak that is higher than two to either side. */
function nextPeak(levels: Float32Array, from: number): number {
  for (let b = Math.max(2, from); b < levels.length - 2; b++) {
    const level = levels[b] as number;
    if (
      level > (levels[b - 1] as number) &&
      level > (levels[b - 2] as number) &&
      level >= (levels[b + 1] as number) &&
      level >= (levels[b + 2] as number)
    )
      return b;
  }
  return -1;
}

function turn({ re, im }: HalfSpectrum, turns: HalfSpectrum): void {
  for (let b = 0; b < re.length; b++) {
    const [c, s] = [turns.re[b] as number, turns.im[b] as number];
    const [x, y] = [re[b] as number, im[b] as number];
    re[b] = x * c - y * s;
    im[b] = x * s + y * c;
  }
}

function add(out: Float32Array, frame: Float32Array, window: Float32Array, at: number): void {
  for (let i = Math.max(0, -at); i < SIZE && at + i < out.length; i++)
    out[at + i] = (out[at + i] as number) + (frame[i] as number) * (window[i] as number);
}
