import { type Audio, byteLength, frameCount, peakOf } from '../signal/audio';
import { ByteCache } from '../signal/byte-cache';
import { amplified } from '../treatment/processor';
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

/**
 * A sound as it is played: audio, and a linear gain that the player applies. Levelling at the end of the steps goes into the
 * gain, so that it neither needs another copy of the audio nor rounds its samples once more.
 */
export interface Rendered {
  readonly audio: Audio;
  readonly gain: number;
}

export function sourceOf({ recordingId, startFrame, endFrame }: Hit): Source {
  return { kind: 'stretch', recordingId, startFrame, endFrame };
}

/** The recordings that a hit is made of, each once: what its rights, its lineage and its removal hang on. */
export function recordingsOf(hit: Pick<Hit, 'recordingId'>): readonly string[] {
  return [hit.recordingId];
}

/** The steps that change the audio, and those behind them that only level it. Steps that are switched off are in neither. */
function parted({ steps }: Pick<TreatedHit, 'steps'>): {
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

/** The gain of a hit whose audio is its recording's and whose gain is known without it; null for all others. */
export function plainGain(hit: TreatedHit): number | null {
  if (!isPlain(hit)) return null;
  let measured = false;
  const gain = levelOf(parted(hit).levelling, () => {
    measured = true;
    return { sampleRate: 44100, channels: [] };
  });
  return measured ? null : gain;
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

/** Gives frames [start, end) of a hit's recording, all channels, at the recording's rate. */
export type ReadStretch = (hit: Hit, start: number, end: number) => Audio;

/** A hit's sound, read a stretch at a time. */
export interface HitSound {
  readonly sampleRate: number;
  readonly channelCount: number;
  readonly frames: number;
  /** Linear; not yet in what is read. */
  readonly gain: number;
  /** No sample of what is read is further from zero. */
  readonly loudest: number;
  /** Frames [from, to) of the sound. */
  read(from: number, to: number): Audio;
}

/**
 * What a hit sounds like: `source` is the audio of its source, all channels, at the recording's rate, and is not changed.
 * Page, server, waves, kits and exports all ask here.
 */
export function renderHit(hit: TreatedHit, source: Audio): Rendered {
  return new Renderer(0).render(hit, source);
}

/** A hit of which the audio has been rendered, as it is played. */
export function levelled(hit: TreatedHit, audio: Audio): Rendered {
  return { audio, gain: levelOf(parted(hit).levelling, () => audio) };
}

/**
 * A hit's sound; one that is plain is read from its recording as it is asked for, and never held whole. `loudest` is the peak of
 * its recording, where that is known.
 */
export function soundOf(hit: TreatedHit, read: ReadStretch, loudest = Number.POSITIVE_INFINITY): HitSound {
  const { startFrame, endFrame } = hit;
  const whole = () => read(hit, startFrame, endFrame);
  if (!isPlain(hit)) {
    const { audio, gain } = renderHit(hit, whole());
    return heldSound(audio, gain);
  }
  // An empty stretch tells rate and channels.
  const { sampleRate, channels } = read(hit, startFrame, startFrame);
  return {
    sampleRate,
    channelCount: channels.length,
    frames: endFrame - startFrame,
    gain: levelOf(parted(hit).levelling, whole),
    loudest,
    read: (from, to) => read(hit, startFrame + from, startFrame + to),
  };
}

/** A hit's sound of which the audio has been rendered, and is read as it is asked for. */
export function soundThrough(hit: TreatedHit, audio: Omit<HitSound, 'gain'>): HitSound {
  return { ...audio, gain: levelOf(parted(hit).levelling, () => audio.read(0, audio.frames)) };
}

function heldSound(audio: Audio, gain: number): HitSound {
  return {
    sampleRate: audio.sampleRate,
    channelCount: audio.channels.length,
    frames: frameCount(audio),
    gain,
    loudest: peakOf(audio.channels),
    read: (from, to) => ({ ...audio, channels: audio.channels.map((channel) => channel.subarray(from, to)) }),
  };
}

/** Renders hits and keeps what each step gave, so that a change of one step begins at that step. */
export class Renderer {
  private readonly kept: ByteCache<Audio>;

  /** Keeps at most so many bytes. */
  constructor(mostBytes: number) {
    this.kept = new ByteCache(mostBytes, byteLength);
  }

  /** As `renderHit`; what is given must not be changed. */
  render(hit: TreatedHit, source: Audio): Rendered {
    const { shaping, levelling } = parted(hit);
    let audio = source;
    let key = audioKey({ ...hit, steps: [] });
    for (const step of shaping) {
      key += ` ${stepKey(step)}`;
      const known = this.kept.get(key);
      audio = known ?? applied(step, audio);
      if (!known) this.kept.set(key, audio);
    }
    return { audio, gain: levelOf(levelling, () => audio) };
  }
}

/** Audio with a step done to it. */
export function applied(step: Step, audio: Audio): Audio {
  return processorOf(step.processor).process(audio, valuesOf(step));
}

/** The gain of levelling steps one after another, each measuring what those before it gave. */
function levelOf(steps: readonly Step[], audio: () => Audio): number {
  let gain = 1;
  for (const step of steps) {
    const before = gain;
    gain *= processorOf(step.processor).gain?.(() => amplified(audio(), before), valuesOf(step)) ?? 1;
  }
  return gain;
}
