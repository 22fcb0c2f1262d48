import type { TreatedHit } from '../hit/key';
import { type HitSound, type ReadStretch, renderHit } from '../hit/render';
import type { StepSound } from '../live/figures';
import { layRoom } from '../live/lay-room';
import { VoiceEngine } from '../play/engine';
import { MODE_NAMES, type PadSound } from '../play/program';
import { roomResponse } from '../room/response';
import { frameCount, peakOf, toStereo } from '../signal/audio';
import { gainToPeak } from '../treatment/level';
import { type LiveStep, liveValues } from '../treatment/live';
import { type Busing, busSound, NO_BUSES, placedBuses, routeOf } from './buses';
import { type Laid, laidFloats, laidFrames, liveSteps } from './live-steps';
import type { Pad } from './model';
import { type LayerWithHit, type PlayedPad, type PooledSound, padSound } from './pad-sound';
import type { BusProgram, PadProgram, Programs } from './programs';
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

/** Copies sounds that are open into memory one after another; mono once, all others as left and right. */
export function poolSounds(hits: readonly TreatedHit[], open: (hit: TreatedHit) => HitSound): SampleMemory {
  const unique = [...new Map(hits.map((hit) => [hit.id, hit])).values()];
  const opened = unique.map((hit) => ({ hit, sound: open(hit) }));
  const memory = new Float32Array(
    opened.reduce((sum, { sound }) => sum + sound.frames * (sound.channelCount === 1 ? 1 : 2), 0),
  );
  const sounds = new Map<string, PooledSound>();
  let left = 0;
  for (const { hit, sound } of opened) {
    const { frames, sampleRate, gain } = sound;
    const sides = toStereo(sound.read(0, frames));
    const right = sound.channelCount === 1 ? left : left + frames;
    memory.set(sides[0], left);
    if (right !== left) memory.set(sides[1], right);
    sounds.set(hit.id, { left, right, start: 0, end: frames, sampleRate, gain });
    left = right + frames;
  }
  return { memory, soundOf: (hit) => sounds.get(hit.id) ?? null };
}

/** Pads and buses of a kit as the engine plays them. */
export interface PlayedSounds {
  readonly memory: Float32Array;
  /** One of each pad, in their order. */
  readonly sounds: readonly PadSound[];
  /** What the engine does on each bus. */
  readonly buses: readonly { readonly place: number; readonly steps: readonly StepSound[] }[];
  readonly programs: Programs;
}

/**
 * The programs of pads and buses at a rate, and the memory that they play from: that of their hits, and of their rooms and
 * echoes. Pads that are played by themselves, without the buses, go straight out.
 */
export function playedSounds(
  pads: readonly PlayedPad[],
  pool: SampleMemory,
  sampleRate: number,
  tempoBpm: number,
  { buses, busSteps }: Busing = NO_BUSES,
): PlayedSounds {
  const laid = new Map<string, Laid & { readonly step: LiveStep }>();
  let floats = pool.memory.length;
  for (const step of [...pads.flatMap(({ steps }) => steps), ...busSteps]) {
    const frames = laidFrames(step, sampleRate, tempoBpm);
    if (frames === 0) continue;
    laid.set(step.id, { at: floats, frames, step });
    floats += laidFloats(step, frames);
  }
  const memory = laid.size === 0 ? pool.memory : new Float32Array(floats);
  if (memory !== pool.memory) memory.set(pool.memory);
  for (const { step, at } of laid.values())
    if (step.processor === 'room')
      layRoom(roomResponse(liveValues(step as LiveStep & { readonly processor: 'room' }), sampleRate), memory, at);
  const laidOf = ({ id }: { readonly id: string }) => laid.get(id) ?? null;
  const ofPads = new Map(
    pads.map(({ pad, layers }): [number, PadProgram] => {
      const first = layers[0] && pool.soundOf(layers[0].hit);
      const gain = normaliseGain(pad, layers, pool, first?.sampleRate ?? sampleRate);
      const route = routeOf(pad, buses);
      const program: PadProgram = (own, steps) =>
        padSound(own, layers, sampleRate, pool.soundOf, gain, tempoBpm, liveSteps(steps, sampleRate, laidOf), route);
      return [pad.position, program];
    }),
  );
  const ofBus: BusProgram = (bus, steps) => busSound(bus, steps, sampleRate, laidOf);
  const sounds = pads.map(({ pad, steps }) => (ofPads.get(pad.position) as PadProgram)(pad, steps));
  const placed = placedBuses(buses).map(({ bus, place }) => ({ place, steps: ofBus(bus, busSteps) as StepSound[] }));
  return {
    ...{ memory, sounds, buses: placed },
    programs: { pad: (position) => ofPads.get(position) ?? null, bus: () => ofBus },
  };
}

/** Longest stroke that is rendered, in seconds: a loop would go on for ever. */
const LONGEST_STROKE_S = 120;

/**
 * One stroke of a pad with all that shapes it, until it has died away; what is held or looped is let go when it has been
 * through its sound once.
 */
export function wholeStroke(
  sound: PadSound,
  memory: Float32Array,
  sampleRate: number,
  velocity: number,
): [Float32Array, Float32Array] {
  const engine = new VoiceEngine(sampleRate, memory);
  engine.setPad(0, { ...sound, chokeGroup: 0 });
  engine.strike(0, velocity, 0);
  engine.release(0, padFrames(sound));
  // A loop that goes on until the next stroke ends with one that sounds nothing.
  if (MODE_NAMES[sound.mode] === 'switched') engine.strike(0, velocity, padFrames(sound));
  const blocks: [Float32Array, Float32Array][] = [];
  const most = LONGEST_STROKE_S * sampleRate;
  for (let at = 0; at < most && (at === 0 || engine.sounds); at += BLOCK) {
    const block: [Float32Array, Float32Array] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
    engine.process(block[0], block[1], BLOCK);
    blocks.push(block);
  }
  const sides = [0, 1].map((side) => {
    const whole = new Float32Array(blocks.length * BLOCK);
    for (const [i, block] of blocks.entries()) whole.set(block[side as 0 | 1], i * BLOCK);
    return whole;
  }) as [Float32Array, Float32Array];
  let end = sides[0].length;
  while (end > 1 && sides[0][end - 1] === 0 && sides[1][end - 1] === 0) end--;
  return [sides[0].slice(0, end), sides[1].slice(0, end)];
}

const BLOCK = 4096;

/** Frames at the engine's rate until every layer of a pad has ended; of a loop by its slices until it would repeat. */
export function padFrames(sound: PadSound): number {
  if (sound.bySlices) return Math.ceil(sound.loopFrames);
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
