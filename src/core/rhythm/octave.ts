import { TOLD_FAMILIES, type ToldFamily } from '../describe/family';
import type { TempoShare } from '../onset/tempo';
import type { Stroke } from './stroke';

/** Phase coherence on the quarters of a beat from which strokes are in time, and under which they are not at all. */
const IN_TIME = 0.75;
const OUT_OF_TIME = 0.5;
const WINDOW_S = 10;

/**
 * 0..1: whether strokes are played in a tempo: their phase coherence on a quarter of its beat, ten seconds at a time.
 */
export function regularity(strokes: readonly Stroke[], bpm: number, sampleRate: number): number {
  const radians = (2 * Math.PI * 4 * bpm) / 60 / sampleRate;
  const windows = new Map<number, { re: number; im: number }>();
  for (const { frame } of strokes) {
    const at = Math.floor(frame / (WINDOW_S * sampleRate));
    const { re, im } = windows.get(at) ?? { re: 0, im: 0 };
    windows.set(at, { re: re + Math.cos(radians * frame), im: im + Math.sin(radians * frame) });
  }
  const shared =
    [...windows.values()].reduce((sum, { re, im }) => sum + Math.hypot(re, im), 0) / Math.max(1, strokes.length);
  return Math.max(0, Math.min(1, (shared - OUT_OF_TIME) / (IN_TIME - OUT_OF_TIME)));
}

/** Log likelihood ratio of a tempo in which low drums and snares alternate against one in which they coincide. */
const TURNS = 4;

/**
 * A tempo, its half and its double, weighted by whether low drums and snares alternate from beat to beat: over two
 * beats of the right tempo they have opposite phases (common practice: the backbeat).
 */
export function octavesHeard(
  octaves: readonly TempoShare[],
  strokes: readonly Stroke[],
  sampleRate: number,
): TempoShare[] {
  const weighed = octaves.map(({ bpm, share }) => {
    const [low, answer] = [LOW, ANSWER].map((families) =>
      phasor(strokes, families, (bpm / 120 / sampleRate) * 2 * Math.PI),
    );
    if (!low || !answer) return { bpm, share };
    const together = low.re * answer.re + low.im * answer.im;
    return { bpm, share: share * Math.exp(-TURNS * together) };
  });
  const all = weighed.reduce((sum, { share }) => sum + share, 0) || 1;
  return weighed.map(({ bpm, share }) => ({ bpm, share: share / all })).sort((a, b) => b.share - a.share);
}

/** Log weight, and tolerance, of the one of a tempo, its half and its double that is written with the recording. */
const WRITTEN = 10;
const AS_WRITTEN = 0.03;

/** A written tempo counts where it agrees with one of the octaves, and not otherwise. */
export function asWritten(octaves: readonly TempoShare[], writtenBpm: number | null): readonly TempoShare[] {
  const agrees = ({ bpm }: TempoShare) => writtenBpm !== null && Math.abs(bpm / writtenBpm - 1) <= AS_WRITTEN;
  if (!octaves.some(agrees)) return octaves;
  const weighed = octaves.map((o) => ({ ...o, share: o.share * (agrees(o) ? WRITTEN : 1) }));
  const all = weighed.reduce((sum, { share }) => sum + share, 0) || 1;
  return weighed.map(({ bpm, share }) => ({ bpm, share: share / all })).sort((a, b) => b.share - a.share);
}

const LOW: readonly ToldFamily[] = ['kick'];
const ANSWER: readonly ToldFamily[] = ['snare', 'clap'];

/**
 * Mean phase vector of strokes of some families, turning by `radians` a frame, length 0..1; null where there are none.
 */
function phasor(
  strokes: readonly Stroke[],
  families: readonly ToldFamily[],
  radians: number,
): { re: number; im: number } | null {
  let [re, im, all] = [0, 0, 0];
  for (const { frame, peakDb, families: chances } of strokes) {
    const chance = families.reduce((sum, family) => sum + (chances[TOLD_FAMILIES.indexOf(family)] as number), 0);
    const weight = chance * 10 ** (peakDb / 20);
    re += weight * Math.cos(radians * frame);
    im += weight * Math.sin(radians * frame);
    all += weight;
  }
  return all > 1e-6 ? { re: re / all, im: im / all } : null;
}
