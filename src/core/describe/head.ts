/**
 * The beginning of a sound as a wave, which distinguishes two strokes of one sample from two of similar drums.
 * Pre-emphasised, so that low frequencies do not mask high ones; peak 1, or silence.
 */
export interface Head {
  readonly sampleRate: number;
  readonly samples: Float32Array;
}

const BEFORE_S = 0.002;
/** Shortest head in seconds: a closed hat is hardly longer, and spectrum bins are then 22 Hz wide. */
const HEAD_S = 0.0464;
/** Pre-emphasis coefficient (common practice in speech coding). */
const EMPHASIS = 0.95;

/** Frames before a sound's start and after it that its head covers. */
export function headReach(sampleRate: number): { readonly before: number; readonly after: number } {
  const before = Math.round(BEFORE_S * sampleRate);
  return { before, after: Math.round(HEAD_S * sampleRate) - before };
}

/** The head of [start, end) of one channel; frames outside the recording or past the end count as 0. */
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

/** Companded to bytes, so that quiet samples keep their relative precision. */
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
