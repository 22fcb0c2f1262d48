import type { Measured } from '../treatment/processor';
import { processorOf } from '../treatment/processors';
import { type Step, stepKey, valuesOf } from '../treatment/step';
import type { Hit } from './model';

/** A hit with what is done to it, in order. */
export interface TreatedHit extends Hit {
  readonly steps: readonly Step[];
}

/** Where a sound comes from before anything is done to it. */
export interface Source {
  readonly kind: 'stretch';
  readonly recordingId: string;
  readonly startFrame: number;
  readonly endFrame: number;
}

export function sourceOf({ recordingId, startFrame, endFrame }: Hit): Source {
  return { kind: 'stretch', recordingId, startFrame, endFrame };
}

/** The recordings that a hit is made of, each once: what its rights, its lineage and its removal hang on. */
export function recordingsOf(hit: Pick<Hit, 'recordingId'>): readonly string[] {
  return [hit.recordingId];
}

/** The steps that change the audio, and those behind them that only level it. Steps that are switched off are in neither. */
export function parted({ steps }: Pick<TreatedHit, 'steps'>): {
  readonly shaping: readonly Step[];
  readonly levelling: readonly Step[];
} {
  const active = steps.filter((step) => step.active);
  const last = active.findLastIndex((step) => !processorOf(step.processor).gain);
  return { shaping: active.slice(0, last + 1), levelling: active.slice(last + 1) };
}

/** Whether a hit's audio is the stretch of its recording, sample by sample; its gain may be any. */
export function isPlain(hit: TreatedHit): boolean {
  return parted(hit).shaping.length === 0;
}

/** The gain of a hit whose audio is its recording's and whose gain is known without measuring it; null for all others. */
export function plainGain(hit: TreatedHit): number | null {
  if (!isPlain(hit)) return null;
  let isMeasured = false;
  const gain = levelOf(parted(hit).levelling, () => {
    isMeasured = true;
    return { peak: 1, momentaryLufs: 0 };
  });
  return isMeasured ? null : gain;
}

/** Tells two hits apart whose audio differs, whatever their gain: what a render of the audio is kept under. */
export function audioKey(hit: TreatedHit): string {
  const { recordingId, startFrame, endFrame } = sourceOf(hit);
  return [recordingId, startFrame, endFrame, ...parted(hit).shaping.map(stepKey)].join(' ');
}

/** Tells two hits apart that sound different. */
export function contentKey(hit: TreatedHit): string {
  return [audioKey(hit), ...parted(hit).levelling.map(stepKey)].join(' ');
}

/** The gain of levelling steps one after another; each that measures is told what is there with the gain of those before it. */
export function levelOf(steps: readonly Step[], measured: (gainBefore: number) => Measured): number {
  let gain = 1;
  for (const step of steps) {
    const before = gain;
    gain *= processorOf(step.processor).gain?.(() => measured(before), valuesOf(step)) ?? 1;
  }
  return gain;
}
