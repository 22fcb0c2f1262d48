import { type LayerSound, sumOf } from '../layering/layers';
import { measured } from '../loudness/measured';
import { type Audio, byteLength, frameCount, peakOf } from '../signal/audio';
import { ByteCache } from '../signal/byte-cache';
import { processOf } from '../treatment/process/processes';
import { amplified } from '../treatment/processor';
import { type Step, stepKey, valuesOf } from '../treatment/step';
import type { VoiceSource } from '../voice/key';
import { struckAudio } from '../voice/source';
import { heardMembers, isLayered, isPlain, levelOf, parted, sourceKey, type TreatedHit } from './key';
import { MemberSounds } from './members';
import type { Hit } from './model';
import { type Rendered, readOnce, type SourceOf } from './source';

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

/** Renders a hit. Page, server, waves, kits and exports all use this. */
export function renderHit(hit: TreatedHit, source: SourceOf): Rendered {
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
  const whole: SourceOf = (stretch) => read(stretch, stretch.startFrame, stretch.endFrame);
  if (!isPlain(hit)) {
    const { audio, gain } = renderHit(hit, whole);
    return heldSound(audio, gain);
  }
  const { startFrame, endFrame } = hit;
  // An empty stretch has the rate and the channels.
  const { sampleRate, channels } = read(hit, startFrame, startFrame);
  return {
    sampleRate,
    channelCount: channels.length,
    frames: endFrame - startFrame,
    gain: gainOf(hit, () => whole(hit)),
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
  private readonly members: MemberSounds;

  /** Caches at most so many bytes. */
  constructor(mostBytes: number) {
    this.kept = new ByteCache(mostBytes, byteLength);
    this.members = new MemberSounds(mostBytes, (hit, source, onStep) => this.render(hit, source, onStep));
  }

  /**
   * As `renderHit`; results may share the sources. `onStep` is called after each step that was computed, those of layers
   * included.
   */
  render(hit: TreatedHit, source: SourceOf, onStep?: () => void): Rendered {
    const { shaping } = parted(hit);
    let key = sourceKey(hit);
    let audio = isLayered(hit)
      ? this.summed(hit, key, readOnce(source), onStep)
      : hit.voice
        ? this.struck(hit.voice, key)
        : source(hit);
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

  /** The layers of a layered hit, heard or not, as they go into its sum. */
  layersOf(hit: TreatedHit, source: SourceOf): LayerSound[] {
    return this.members.of(hit, hit.members ?? [], readOnce(source));
  }

  private struck(voice: VoiceSource, key: string): Audio {
    const known = this.kept.get(key) ?? struckAudio(voice);
    this.kept.set(key, known);
    return known;
  }

  private summed(hit: TreatedHit, key: string, source: SourceOf, onStep?: () => void): Audio {
    const known = this.kept.get(key);
    if (known) return known;
    const { audio } = sumOf(this.members.of(hit, heardMembers(hit.members ?? []), source, onStep));
    this.kept.set(key, audio);
    return audio;
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
