/**
 * Audio in memory: one Float32Array a channel, all of one length, full scale at +-1.
 * A position is a frame: one sample instant across all channels.
 */
export interface Audio {
  readonly sampleRate: number;
  readonly channels: readonly Float32Array[];
}

export function frameCount(audio: Audio): number {
  return audio.channels[0]?.length ?? 0;
}

/** Bytes that audio takes in memory. */
export function byteLength(audio: Audio): number {
  return audio.channels.reduce((sum, channel) => sum + channel.byteLength, 0);
}

export function silence(frames: number, channelCount: number, sampleRate: number): Audio {
  return { sampleRate, channels: Array.from({ length: channelCount }, () => new Float32Array(frames)) };
}

/** Copies the half-open stretch [start, end), clipped to what exists. */
export function cut(audio: Audio, start: number, end: number): Audio {
  return { sampleRate: audio.sampleRate, channels: audio.channels.map((c) => c.slice(Math.max(0, start), end)) };
}

/** Largest absolute sample over all channels; 0 for nothing. */
export function peakOf(channels: readonly Float32Array[], start = 0, end = Number.POSITIVE_INFINITY): number {
  let peak = 0;
  for (const channel of channels) {
    const stop = Math.min(channel.length, end);
    for (let i = start; i < stop; i++) {
      const level = Math.abs(channel[i] as number);
      if (level > peak) peak = level;
    }
  }
  return peak;
}

/** Root mean square over all channels of [start, end). */
export function rmsOf(channels: readonly Float32Array[], start = 0, end = Number.POSITIVE_INFINITY): number {
  let sum = 0;
  let count = 0;
  for (const channel of channels) {
    const stop = Math.min(channel.length, end);
    for (let i = start; i < stop; i++) sum += (channel[i] as number) ** 2;
    count += Math.max(0, stop - start);
  }
  return count === 0 ? 0 : Math.sqrt(sum / count);
}

/**
 * Gains that fold `channelCount` channels into left and right for listening. One and two channels pass unchanged.
 * Orders are those of WAVE_FORMAT_EXTENSIBLE's default masks (front left, front right, centre, low frequency, ...);
 * centre and surrounds at -3 dB as in ITU-R BS.775-3 annex 4, low frequency left out. Where several channels add into
 * one side, the sum is scaled so that it cannot exceed full scale.
 */
export function stereoFold(channelCount: number): { left: Float64Array; right: Float64Array } {
  const h = Math.SQRT1_2;
  const table: Record<number, [number[], number[]]> = {
    1: [[1], [1]],
    2: [
      [1, 0],
      [0, 1],
    ],
    3: [
      [1, 0, h],
      [0, 1, h],
    ],
    4: [
      [1, 0, h, 0],
      [0, 1, 0, h],
    ],
    5: [
      [1, 0, h, h, 0],
      [0, 1, h, 0, h],
    ],
    6: [
      [1, 0, h, 0, h, 0],
      [0, 1, h, 0, 0, h],
    ],
    7: [
      [1, 0, h, 0, h, h, 0],
      [0, 1, h, 0, h, 0, h],
    ],
    8: [
      [1, 0, h, 0, h, 0, h, 0],
      [0, 1, h, 0, 0, h, 0, h],
    ],
  };
  const entry = table[channelCount];
  if (!entry) throw new RangeError(`Between 1 and 8 channels can be folded to stereo; got ${channelCount}.`);
  const scaled = entry.map((gains) => {
    const sum = gains.reduce((a, b) => a + b, 0);
    return Float64Array.from(gains, (g) => (sum > 1 ? g / sum : g));
  });
  return { left: scaled[0] as Float64Array, right: scaled[1] as Float64Array };
}

/** Left and right for listening; mono and stereo are returned as they are (mono on both sides, one array). */
export function toStereo(audio: Audio): readonly [Float32Array, Float32Array] {
  const { channels } = audio;
  const first = channels[0] ?? new Float32Array(0);
  if (channels.length <= 1) return [first, first];
  if (channels.length === 2) return [first, channels[1] as Float32Array];
  const { left, right } = stereoFold(channels.length);
  return [mix(channels, left), mix(channels, right)];
}

/** One channel for analysis: the mean of the listening pair. Mono is returned as it is, not copied. */
export function toMono(audio: Audio): Float32Array {
  if (audio.channels.length === 1) return audio.channels[0] as Float32Array;
  const [left, right] = toStereo(audio);
  return mix([left, right], Float64Array.of(0.5, 0.5));
}

function mix(channels: readonly Float32Array[], gains: Float64Array): Float32Array {
  const frames = channels[0]?.length ?? 0;
  const out = new Float32Array(frames);
  if (channels.length === 2) {
    // By far the most common case, and several times as fast when written out.
    const [a, b] = channels as [Float32Array, Float32Array];
    const [p, q] = gains as unknown as [number, number];
    for (let i = 0; i < frames; i++) out[i] = p * (a[i] as number) + q * (b[i] as number);
    return out;
  }
  for (let i = 0; i < frames; i++) {
    let sum = 0;
    for (let c = 0; c < channels.length; c++)
      sum += (gains[c] as number) * ((channels[c] as Float32Array)[i] as number);
    out[i] = sum;
  }
  return out;
}
