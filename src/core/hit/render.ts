import { measured } from '../loudness/measured';
import { type Audio, byteLength, frameCount, peakOf } from '../signal/audio';
import { ByteCache } from '../signal/byte-cache';
import { processOf } from '../treatment/process/processes';
import { amplified } from '../treatment/processor';
import { type Step, stepKey, valuesOf } from '../treatment/step';
import { isPlain, levelOf, parted, sourceKey, type TreatedHit } from './key';
import type { Hit } from './model';

/**
 * A sound as it is played: audio, and a linear gain for the player to apply. Levelling at the end of the steps becomes
 * part of the gain, which avoids a copy of the audio and another rounding.
 */
export interface Rendered {
  readonly audio: Audio;
  readonly gain: number;
}

/** Gives frames [start, end) of a hit's recording, all channels, at the recording's rate. */
export type ReadStretch = (hit: Hit, start: number, end: number) => Audio;

/** A hit's sound for reading in stretches. */
export interface HitSound {
  readonly sampleRate: number;
  readonly channelCount: number;
  readonly frames: number;
  /** Linear; not applied to what is read. */
  readonly gain: number;
  /** Largest absolute sample of what is read. */
  readonly loudest: number;
  /** Frames [from, to) of the sound. */
  read(from: number, to: number): Audio;
}

/**
 * Renders a hit. `source` is the audio of its source, all channels, at the recording's rate, and is not changed. Page,
 * server, waves, kits and exports all use this.
 */
export function renderHit(hit: TreatedHit, source: Audio): Rendered {
  return new Renderer(0).render(hit, source);
}

/** A hit as it is played, from its rendered audio. */
export function levelled(hit: TreatedHit, audio: Audio): Rendered {
  return { audio, gain: gainOf(hit, () => audio) };
}

/**
 * A hit's sound for reading; a plain hit is read from its recording on demand, never held whole. `loudest` is the peak
 * of its recording, where known.
 */
export function soundOf(hit: TreatedHit, read: ReadStretch, loudest = Number.POSITIVE_INFINITY): HitSound {
  const { startFrame, endFrame } = hit;
  const whole = () => read(hit, startFrame, endFrame);
  if (!isPlain(hit)) {
    const { audio, gain } = renderHit(hit, whole());
    return heldSound(audio, gain);
  }
  // An empty stretch has the rate and the channels.
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

/** A hit's sound from its stored render, read on demand. */
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

/** Renders hits and caches the result of each step, so that a changed step is the first one rendered again. */
export class Renderer {
  private readonly kept: ByteCache<Audio>;

  /** Caches at most so many bytes. */
  constructor(mostBytes: number) {
    this.kept = new ByteCache(mostBytes, byteLength);
  }

  /**
   * As `renderHit`; the source must not be changed afterwards, because results may share it. `onStep` is called after each
   * step that was computed.
   */
  render(hit: TreatedHit, source: Audio, onStep?: () => void): Rendered {
    const { shaping } = parted(hit);
    let audio = source;
    let key = sourceKey(hit);
    for (const step of shaping) {
      key += ` ${stepKey(step)}`;
      const known = this.kept.get(key);
      audio = known ?? applied(step, audio);
      if (known) continue;
      this.kept.set(key, audio);
      onStep?.();
    }
    return { audio, gain: gainOf(hit, () => audio) };
  }
}

/** Applies a step to audio. */
export function applied(step: Step, audio: Audio): Audio {
  return processOf(step.processor)(audio, valuesOf(step), measured);
}

/** The gain a hit's audio is played with. */
function gainOf(hit: TreatedHit, audio: () => Audio): number {
  return levelOf(parted(hit).levelling, (gainBefore) => measured(amplified(audio(), gainBefore)));
}
