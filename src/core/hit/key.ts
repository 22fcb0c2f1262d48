import type { Measured } from '../treatment/processor';
import { processorOf } from '../treatment/processors';
import { type Step, stepKey, valuesOf } from '../treatment/step';
import type { Hit } from './model';

/** A hit with its steps, in order. */
export interface TreatedHit extends Hit {
  /** The steps of its recording; absent where there are none. */
  readonly inherited?: readonly Step[];
  readonly steps: readonly Step[];
}

/** All that is done to a hit: what it inherits, then its own steps. */
export function wholeChain({ inherits, inherited = [], steps }: TreatedHit): readonly Step[] {
  return inherits && inherited.length > 0 ? [...inherited, ...steps] : steps;
}

/** Source of a hit's sound before its steps. */
export interface Source {
  readonly kind: 'stretch';
  readonly recordingId: string;
  readonly startFrame: number;
  readonly endFrame: number;
}

export function sourceOf({ recordingId, startFrame, endFrame }: Hit): Source {
  return { kind: 'stretch', recordingId, startFrame, endFrame };
}

/** The recordings a hit is made of, each once: they decide its rights, its lineage, and what may be removed. */
export function recordingsOf(hit: Pick<Hit, 'recordingId'>): readonly string[] {
  return [hit.recordingId];
}

/** The active steps that change the audio, and the ones after them that only change the level. */
export function parted(hit: TreatedHit): {
  readonly shaping: readonly Step[];
  readonly levelling: readonly Step[];
} {
  const active = wholeChain(hit).filter((step) => step.active);
  const last = active.findLastIndex((step) => !processorOf(step.processor).gain);
  return { shaping: active.slice(0, last + 1), levelling: active.slice(last + 1) };
}

/** Whether a hit's audio equals the stretch of its recording, apart from a gain. */
export function isPlain(hit: TreatedHit): boolean {
  return parted(hit).shaping.length === 0;
}

const NOTHING_MEASURED: Measured = { peak: 1, truePeak: 1, momentaryLufs: 0, rms: 1, noiseDbfs: 0 };

/** The gain of a plain hit, where it is known without measuring the audio; null otherwise. */
export function plainGain(hit: TreatedHit): number | null {
  if (!isPlain(hit)) return null;
  let isMeasured = false;
  const gain = levelOf(parted(hit).levelling, () => {
    isMeasured = true;
    return NOTHING_MEASURED;
  });
  return isMeasured ? null : gain;
}

/** Key of a hit's audio, whatever its gain: renders are stored under it. */
export function audioKey(hit: TreatedHit): string {
  return [sourceKey(hit), ...parted(hit).shaping.map(stepKey)].join(' ');
}

/** Key of a hit's source: its audio before any step. */
export function sourceKey(hit: Hit): string {
  const { recordingId, startFrame, endFrame } = sourceOf(hit);
  return [recordingId, startFrame, endFrame].join(' ');
}

/** Key of a hit's sound, gain included. */
export function contentKey(hit: TreatedHit): string {
  return [audioKey(hit), ...parted(hit).levelling.map(stepKey)].join(' ');
}

/**
 * The product of the gains of levelling steps. `measured` gives peak and loudness of the audio with the gain of the
 * steps so far.
 */
export function levelOf(steps: readonly Step[], measured: (gainBefore: number) => Measured): number {
  let gain = 1;
  for (const step of steps) {
    const before = gain;
    gain *= processorOf(step.processor).gain?.(() => measured(before), valuesOf(step)) ?? 1;
  }
  return gain;
}
