import { measured } from '../loudness/measured';
import { type Audio, byteLength, frameCount, peakOf } from '../signal/audio';
import { ByteCache } from '../signal/byte-cache';
import { amplified } from '../treatment/processor';
import { processorOf } from '../treatment/processors';
import { type Step, stepKey, valuesOf } from '../treatment/step';
import { audioKey, isPlain, levelOf, parted, type TreatedHit } from './key';
import type { Hit } from './model';

/**
 * A sound as it is played: audio, and a linear gain that the player applies. Levelling at the end of the steps goes into the
 * gain, so that it neither needs another copy of the audio nor rounds its samples once more.
 */
export interface Rendered {
  readonly audio: Audio;
  readonly gain: number;
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
  return { audio, gain: gainOf(hit, () => audio) };
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
    gain: gainOf(hit, whole),
    loudest,
    read: (from, to) => read(hit, startFrame + from, startFrame + to),
  };
}

/** A hit's sound of which the audio has been rendered, and is read as it is asked for. */
export function soundThrough(hit: TreatedHit, audio: Omit<HitSound, 'gain'>): HitSound {
  return { ...audio, gain: gainOf(hit, () => audio.read(0, audio.frames)) };
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
    const { shaping } = parted(hit);
    let audio = source;
    let key = audioKey({ ...hit, steps: [] });
    for (const step of shaping) {
      key += ` ${stepKey(step)}`;
      const known = this.kept.get(key);
      audio = known ?? applied(step, audio);
      if (!known) this.kept.set(key, audio);
    }
    return { audio, gain: gainOf(hit, () => audio) };
  }
}

/** Audio with a step done to it. */
export function applied(step: Step, audio: Audio): Audio {
  return processorOf(step.processor).process(audio, valuesOf(step), measured);
}

/** The gain that a hit's audio is played with. */
function gainOf(hit: TreatedHit, audio: () => Audio): number {
  return levelOf(parted(hit).levelling, (gainBefore) => measured(amplified(audio(), gainBefore)));
}
