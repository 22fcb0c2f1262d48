/**
 * How a sound begins, as a wave: by it two strokes of one sample are known from two of like drums. Its first difference, mostly, so that
 * what is high is not lost under what is low; loudest sample 1, or silence.
 */
export interface Head {
  readonly sampleRate: number;
  readonly samples: Float32Array;
}

const BEFORE_S = 0.002;
/** No shorter than this: of a closed hat there is hardly more, and bins of a spectrum of it are 22 Hz wide. */
const HEAD_S = 0.0464;
/** How much of each sample is taken off the next (common practice in the coding of speech). */
const EMPHASIS = 0.95;

/** Frames before a sound's start and after it that its head reaches. */
export function headReach(sampleRate: number): { readonly before: number; readonly after: number } {
  const before = Math.round(BEFORE_S * sampleRate);
  return { before, after: Math.round(HEAD_S * sampleRate) - before };
}

/** The head of one channel's [start, end); what lies past the end or before the recording is nought. */
export function headOf(recording: Float32Array, start: number, end: number, sampleRate: number): Head {
  const { before, after } = headReach(sampleRate);
  const samples = new Float32Array(before + after);
  const last = Math.min(end, recording.length, start + after);
  let loudest = 0;
  for (let i = Math.max(1, start - before); i < last; i++) {
    const x = (recording[i] as number) - EMPHASIS * (recording[i - 1] as number);
    samples[i - start + before] = x;
    loudest = Math.max(loudest, Math.abs(x));
  }
  if (loudest > 0) for (let i = 0; i < samples.length; i++) samples[i] = (samples[i] as number) / loudest;
  return { sampleRate, samples };
}

/** The law of ITU-T G.711 for 8 bits a sample, as a continuous curve. */
const MU = 255;
const LEVELS = 127 / Math.log1p(MU);

/** Samples as bytes, what is soft as exactly as what is loud. */
export function packHead({ samples }: Head): Int8Array {
  const out = new Int8Array(samples.length);
  for (let i = 0; i < out.length; i++) {
    const x = samples[i] as number;
    const byte = Math.round(LEVELS * Math.log1p(MU * Math.abs(x)));
    out[i] = x < 0 ? -byte : byte;
  }
  return out;
}

const EXPANDED = Float32Array.from({ length: 255 }, (_, i) => {
  const value = (i - 127) / 127;
  return (Math.sign(value) * Math.expm1(Math.abs(value) * Math.log1p(MU))) / MU;
});

export function unpackHead(bytes: Int8Array, sampleRate: number): Head {
  const samples = new Float32Array(bytes.length);
  for (let i = 0; i < samples.length; i++) samples[i] = EXPANDED[Math.max(0, (bytes[i] as number) + 127)] as number;
  return { sampleRate, samples };
}
