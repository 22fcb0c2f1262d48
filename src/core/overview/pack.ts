import type { Candidate } from '../onset/detect';
import { type Overview, overviewOf, STEP_SECONDS, STRETCHES, type Stretch } from './overview';

/** Bytes a step: kind, level (0 is -100 dBFS, 250 is 0), and the number of clicks in it. */
const BYTES = 3;
const PART_SECONDS = 30;
/** Margin of a part, so that seams have no effect. A whole number of steps. */
const AROUND_SECONDS = 2;

/**
 * The packed overview of a recording of any length, in bounded memory, part by part. `readMono` gives the frames
 * [start, end); `candidates` are all marks of the recording, in order.
 */
export function overviewLong(
  readMono: (start: number, end: number) => Float32Array,
  totalFrames: number,
  sampleRate: number,
  candidates: readonly Candidate[],
  peak: number,
  progress: (share: number) => void = () => {},
): Uint8Array<ArrayBuffer> {
  const steps = Math.ceil(totalFrames / sampleRate / STEP_SECONDS);
  const out = new Uint8Array(steps * BYTES);
  const total = totalFrames / sampleRate;
  for (let start = 0; start < total; start += PART_SECONDS) {
    const end = Math.min(total, start + PART_SECONDS);
    const from = Math.max(0, start - AROUND_SECONDS);
    const first = Math.round(from * sampleRate);
    const last = Math.min(totalFrames, Math.round((end + AROUND_SECONDS) * sampleRate));
    const inside = candidates.filter((c) => c.frame >= first && c.frame < last);
    const marks = inside.map((c) => ({ ...c, frame: c.frame - first }));
    const part = overviewOf(readMono(first, last), sampleRate, marks, peak);
    const skip = Math.round((start - from) / STEP_SECONDS);
    const count = Math.ceil((end - start) / STEP_SECONDS - 1e-9);
    const into = Math.round(start / STEP_SECONDS);
    writeSteps(out, into, part, skip, Math.min(count, steps - into), sampleRate);
    progress(end / total);
  }
  return out;
}

function writeSteps(
  out: Uint8Array,
  into: number,
  part: Overview,
  skip: number,
  count: number,
  sampleRate: number,
): void {
  for (let s = 0; s < count; s++) {
    const at = (into + s) * BYTES;
    out[at] = STRETCHES.indexOf(part.kind[skip + s] ?? 'quiet');
    out[at + 1] = Math.max(0, Math.min(250, Math.round(((part.levelDb[skip + s] ?? -100) + 100) * 2.5)));
  }
  for (const click of part.clicks) {
    const s = Math.floor(click / sampleRate / STEP_SECONDS) - skip;
    if (s < 0 || s >= count) continue;
    const at = (into + s) * BYTES + 2;
    out[at] = Math.min(255, (out[at] as number) + 1);
  }
}

/** One step of a packed overview. */
export interface OverviewStep {
  readonly kind: Stretch;
  readonly levelDb: number;
  readonly clicks: number;
}

export function overviewStep(packed: Uint8Array, step: number): OverviewStep {
  const at = step * BYTES;
  return {
    kind: STRETCHES[packed[at] as number] ?? 'quiet',
    levelDb: (packed[at + 1] as number) / 2.5 - 100,
    clicks: packed[at + 2] as number,
  };
}

export function overviewSteps(packed: Uint8Array): number {
  return Math.floor(packed.length / BYTES);
}

/** A stretch of one kind, in seconds. */
export interface Span {
  readonly kind: Stretch;
  readonly start: number;
  readonly end: number;
}

/** A shorter bare stretch is a gap between notes, not a place to cut from. */
const LEAST_BARE_S = 0.9;

/** Consecutive steps of one kind as spans, in order; bare spans too short for use are merged with the one before. */
export function spansOf(packed: Uint8Array): Span[] {
  const spans: Span[] = [];
  for (let s = 0; s < overviewSteps(packed); s++) {
    const { kind } = overviewStep(packed, s);
    spans.push({ kind, start: s * STEP_SECONDS, end: (s + 1) * STEP_SECONDS });
  }
  const runs = joined(spans);
  const short = (s: Span) => s.kind === 'bare' && s.end - s.start < LEAST_BARE_S && runs.length > 1;
  return joined(
    runs.map((span, i) => (short(span) ? { ...span, kind: (runs[i - 1] ?? runs[i + 1] ?? span).kind } : span)),
  );
}

/** Merges adjacent spans of one kind. */
function joined(spans: readonly Span[]): Span[] {
  const out: Span[] = [];
  for (const span of spans) {
    const last = out.at(-1);
    if (last && last.kind === span.kind) out[out.length - 1] = { ...last, end: span.end };
    else out.push(span);
  }
  return out;
}
