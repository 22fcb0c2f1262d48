import type { TreatedHit } from '../hit/key';
import { type ReadStretch, renderHit } from '../hit/render';
import { VoiceEngine } from '../play/engine';
import type { PadSound } from '../play/program';
import { frameCount, peakOf, toStereo } from '../signal/audio';
import { gainToPeak } from '../treatment/level';
import type { Pad } from './model';
import { type LayerWithHit, type PooledSound, padSound } from './pad-sound';
import { printedPad } from './told-in-sfz';

/** Sample memory that holds the sounds of some hits, and the position of each. */
export interface SampleMemory {
  readonly memory: Float32Array;
  readonly soundOf: (hit: TreatedHit) => PooledSound | null;
}

/** Copies hits into memory one after another; mono once, all others as left and right. */
export function poolHits(hits: readonly TreatedHit[], read: ReadStretch): SampleMemory {
  const unique = [...new Map(hits.map((hit) => [hit.id, hit])).values()];
  const placed = unique.map((hit) => ({
    hit,
    ...renderHit(hit, (stretch) => read(stretch, stretch.startFrame, stretch.endFrame)),
  }));
  const sides = placed.map(({ audio }) => (audio.channels.length === 1 ? 1 : 2));
  const total = placed.reduce((sum, { audio }, i) => sum + frameCount(audio) * (sides[i] as number), 0);
  const memory = new Float32Array(total);
  const sounds = new Map<string, PooledSound>();
  let at = 0;
  for (const { hit, audio, gain } of placed) {
    const [left, right] = toStereo(audio);
    memory.set(left, at);
    const rightAt = right === left ? at : at + left.length;
    if (right !== left) memory.set(right, rightAt);
    sounds.set(hit.id, { left: at, right: rightAt, start: 0, end: left.length, sampleRate: audio.sampleRate, gain });
    at = rightAt + left.length;
  }
  return { memory, soundOf: (hit) => sounds.get(hit.id) ?? null };
}

/** Frames at the engine's rate until every layer of a pad has ended. */
export function padFrames(sound: PadSound): number {
  return Math.max(0, ...sound.layers.map((l) => l.delay + Math.ceil((l.end - l.start) / l.ratio)));
}

/** One full strike of a pad, from its first to its last frame, as left and right. */
export function strikeOnce(sound: PadSound, memory: Float32Array, sampleRate: number): [Float32Array, Float32Array] {
  const frames = padFrames(sound);
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  const engine = new VoiceEngine(sampleRate, memory);
  engine.setPad(0, { ...sound, mode: 0, chokeGroup: 0, voices: 0 });
  engine.strike(0, 127, 0);
  engine.process(left, right, frames);
  return [left, right];
}

/**
 * Linear gain that brings the peak of a pad's layers, summed and tuned at `sampleRate`, to its `normaliseDbfs`; 1 where
 * none is set or there is no sound. The pad's own level and pan come after it.
 */
export function normaliseGain(
  pad: Pad,
  layers: readonly LayerWithHit[],
  pool: SampleMemory,
  sampleRate: number,
): number {
  if (pad.normaliseDbfs === null) return 1;
  const sound = padSound(printedPad(pad), layers, sampleRate, pool.soundOf, 1);
  const peak = peakOf(strikeOnce(sound, pool.memory, sampleRate));
  return gainToPeak(peak, pad.normaliseDbfs);
}
