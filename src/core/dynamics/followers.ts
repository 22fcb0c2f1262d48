import { type Audio, frameCount } from '../signal/audio';

/** How far a one-pole filter of a time constant in ms still is from its goal a frame later; 0 for no time at all. */
export function poleOf(ms: number, sampleRate: number): number {
  return ms <= 0 ? 0 : Math.exp(-1000 / (ms * sampleRate));
}

/** Largest absolute sample over all channels, a value a frame. */
export function rectified(audio: Audio): Float64Array {
  const out = new Float64Array(frameCount(audio));
  for (const channel of audio.channels)
    for (let i = 0; i < out.length; i++) out[i] = Math.max(out[i] as number, Math.abs(channel[i] as number));
  return out;
}

/** Mean square over all channels, smoothed by a one-pole filter of a time constant in ms, from silence. */
export function smoothedPower(audio: Audio, ms: number): Float64Array {
  const pole = poleOf(ms, audio.sampleRate);
  const out = new Float64Array(frameCount(audio));
  for (const channel of audio.channels)
    for (let i = 0; i < out.length; i++) {
      const x = channel[i] as number;
      out[i] = (out[i] as number) + x * x;
    }
  const share = (1 - pole) / Math.max(1, audio.channels.length);
  let power = 0;
  for (let i = 0; i < out.length; i++) {
    power = pole * power + share * (out[i] as number);
    out[i] = power;
  }
  return out;
}

/** The smallest value within `reach` frames to either side of each (D. Lemire, "Streaming maximum-minimum filter", 2006). */
export function slidingMinimum(values: Float64Array, before: number, after: number): Float64Array {
  const out = new Float64Array(values.length);
  const queue = new Int32Array(values.length);
  let [head, tail] = [0, 0];
  for (let i = 0; i < values.length + after; i++) {
    if (i < values.length) {
      while (tail > head && (values[queue[tail - 1] as number] as number) >= (values[i] as number)) tail--;
      queue[tail++] = i;
    }
    const at = i - after;
    if (at < 0) continue;
    while ((queue[head] as number) < at - before) head++;
    out[at] = values[queue[head] as number] as number;
  }
  return out;
}

/** The largest value from `before` frames before each to `after` frames after it. */
export function slidingMaximum(values: Float64Array, before: number, after: number): Float64Array {
  return slidingMinimum(
    values.map((x) => -x),
    before,
    after,
  ).map((x) => -x);
}

/** Audio with a linear gain for each frame, and, by `mix` (0..1), of the audio as it was. */
export function shaped(audio: Audio, gains: Float32Array | Float64Array, mix = 1): Audio {
  // One kind of array, so that the loop is compiled for it.
  const wide = gains instanceof Float64Array ? gains : new Float64Array(gains);
  const channels = audio.channels.map((channel) => {
    const out = new Float32Array(channel.length);
    addShaped(out, channel, wide, mix);
    return out;
  });
  return { ...audio, channels };
}

/** Adds a channel with a linear gain for each frame, and, by `mix`, as it was, to `out`. */
export function addShaped(out: Float32Array, channel: Float32Array, gains: Float64Array, mix: number): void {
  const dry = 1 - mix;
  for (let i = 0; i < out.length; i++)
    out[i] = (out[i] as number) + (channel[i] as number) * (dry + mix * (gains[i] as number));
}

const DB = Math.LN10 / 20;

/** Gains in dB, with more decibels added to each, as linear ones. */
export function linear(gainsDb: Float32Array, moreDb = 0): Float64Array {
  const out = new Float64Array(gainsDb.length);
  let [lastDb, last] = [0, 1];
  for (let i = 0; i < out.length; i++) {
    const db = (gainsDb[i] as number) + moreDb;
    // Gains often stand still: the power is taken when they move.
    if (db !== lastDb) {
      lastDb = db;
      last = Math.exp(DB * db);
    }
    out[i] = last;
  }
  return out;
}
