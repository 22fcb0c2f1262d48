import type { TreatedHit } from '../hit/key';
import type { HitSound } from '../hit/render';
import { CHUNK, samplesOf, threadInterpolation } from '../play/interpolation';
import { mixVoice } from '../play/mixing';
import { newHands } from '../play/movement';
import { OFFSET_NAMES } from '../play/moves';
import { type LayerSound, type PadSound, PROGRAM_FLOATS, writeProgram } from '../play/program';
import { beginVoice, type Desk, Voice } from '../play/voice';
import { type Audio, peakOf, toStereo } from '../signal/audio';
import { gainToPeak } from '../treatment/level';
import type { Pad } from './model';
import { type LayerWithHit, padSound, soundingLayers, soundingUnder, takesOf } from './pad-sound';
import { padFrames } from './render';
import { printedPad } from './told-in-sfz';

/** Opens the sound of a hit for reading. */
export type OpenHit = (hit: TreatedHit) => HitSound;

/** A pad being printed to audio, on demand. */
export interface Printing {
  readonly sampleRate: number;
  readonly channelCount: 1 | 2;
  readonly frames: number;
  /** The frames that repeat while it loops, both ends of it; null where it does not, or its layers differ in theirs. */
  readonly loop: { readonly start: number; readonly end: number } | null;
  /** The peak of the print; yields while it is searched, unless it is certainly within full scale. */
  peak(): Generator<void, number>;
  /**
   * The sound with a gain, some seconds at a time; the caller may keep each block. Blocks are empty while a peak is
   * searched.
   */
  blocks(gain?: number): Generator<readonly Float32Array[]>;
}

/** Which of a pad's strokes is printed. */
export interface PrintedStroke {
  readonly velocity: number;
  readonly take: LayerWithHit | undefined;
}

/** Frames printed at a time. */
const BLOCK = 65536;

/**
 * Prints a pad as a stroke of a velocity sounds with one of its takes, at full level: layers summed, tuned and normalised,
 * trimmed, its fades applied; what is left to the player is not in it (`LEFT_TO_PLAYER`). At its first layer's own rate;
 * mono when every layer is mono and none is panned. The frames equal the engine's; memory stays within a few blocks for any
 * length, unless it loops or plays backwards. A loop ends the print, its seam faded.
 */
export function printing(
  pad: Pad,
  layers: readonly LayerWithHit[],
  open: OpenHit,
  { velocity, take }: PrintedStroke = { velocity: 127, take: takesOf(layers)[0] },
): Printing {
  const sounding = take ? soundingUnder(layers, take) : [];
  const sounds = sounding.map(({ hit }) => open(hit));
  const sampleRate = sounds[0]?.sampleRate ?? 44100;
  const isMono =
    sounds.every(({ channelCount }) => channelCount === 1) && sounding.every(({ layer }) => layer.pan === 0);
  const printed = printedPad(pad);
  const sound = padSound(
    printed,
    sounding.map(({ layer, hit }) => ({ layer: { ...layer, isTake: false }, hit })),
    sampleRate,
    (hit) => {
      const of = sounds[sounding.findIndex((l) => l.hit === hit)] as HitSound;
      const right = of.channelCount === 1 ? 0 : 1;
      return { left: 0, right, start: 0, end: of.frames, sampleRate: of.sampleRate, gain: of.gain };
    },
    1,
  );
  const loops = (pad.mode === 'looped' || pad.mode === 'switched') && sounding.length === 1;
  const struck = struckBy(sound, sounds, velocity, loops);
  const normalised = peakOnce(struckBy(sound, sounds, 127, loops));
  const own = velocity === 127 ? normalised : peakOnce(struck);
  const normalisedGain = (peak: number) => (pad.normaliseDbfs === null ? 1 : gainToPeak(peak, pad.normaliseDbfs));
  return {
    sampleRate,
    channelCount: isMono ? 1 : 2,
    frames: printFrames(struck),
    loop: loopOf(struck),
    *peak() {
      if (pad.normaliseDbfs === null && cannotPass(1, struck)) return 1;
      const full = pad.normaliseDbfs === null ? 1 : yield* normalised();
      return (yield* own()) * normalisedGain(full);
    },
    *blocks(gain = 1) {
      let by = gain;
      if (pad.normaliseDbfs !== null) {
        const looking = normalised();
        let step = looking.next();
        for (; !step.done; step = looking.next())
          yield Array.from({ length: isMono ? 1 : 2 }, () => new Float32Array(0));
        by *= normalisedGain(step.value);
      }
      for (const block of strike({ ...struck, sound: { ...struck.sound, gain: sound.gain * by } }))
        yield isMono ? [block[0]] : block;
    },
  };
}

/** What of a pad a stroke plays. */
interface Struck {
  readonly sound: PadSound;
  /** The sounds of its layers. */
  readonly sounds: readonly HitSound[];
  /** It ends with its loop. */
  readonly loops: boolean;
}

function struckBy(sound: PadSound, sounds: readonly HitSound[], velocity: number, loops: boolean): Struck {
  const isStruck = ({ lowVelocity, highVelocity }: LayerSound) => velocity >= lowVelocity && velocity <= highVelocity;
  return {
    sound: { ...sound, mode: loops ? 2 : 0, layers: sound.layers.filter(isStruck) },
    sounds: sounds.filter((_, i) => isStruck(sound.layers[i] as LayerSound)),
    loops,
  };
}

function printFrames({ sound, loops }: Struck): number {
  const [layer] = sound.layers;
  if (!loops || !layer) return padFrames(sound);
  return layer.delay + Math.floor((layer.loopEnd - layer.start) / layer.ratio);
}

/** Where the loop of a print lies, in its frames. */
function loopOf(struck: Struck): Printing['loop'] {
  const [layer] = struck.sound.layers;
  if (!struck.loops || !layer) return null;
  const end = printFrames(struck) - 1;
  const start = Math.round(end + 1 - (layer.loopEnd - layer.loopStart) / layer.ratio);
  return end > start ? { start, end } : null;
}

/** The peak of the summed layers, before any levelling; searched once. */
function peakOnce(struck: Struck): () => Generator<void, number> {
  let summed: number | null = null;
  return function* () {
    if (summed !== null) return summed;
    let peak = 0;
    for (const block of strike(struck)) {
      peak = Math.max(peak, peakOf(block));
      yield;
    }
    summed = peak;
    return peak;
  };
}

/** Ranges of velocity in which a pad's layers differ, lowest first; those in which none sounds are left out. */
export function velocityZones(layers: readonly LayerWithHit[]): {
  readonly low: number;
  readonly high: number;
  /** The takes of which a stroke plays one; none where only other layers sound. */
  readonly takes: readonly LayerWithHit[];
}[] {
  const isIn =
    (velocity: number) =>
    ({ layer: { lowVelocity, highVelocity } }: LayerWithHit) =>
      velocity >= lowVelocity && velocity <= highVelocity;
  const sounding = soundingLayers(layers);
  const takes = takesOf(layers);
  const starts = new Set([1, ...sounding.flatMap(({ layer: l }) => [l.lowVelocity, l.highVelocity + 1])]);
  const lows = [...starts].filter((velocity) => velocity <= 127).sort((a, b) => a - b);
  return lows.flatMap((low, i) => {
    const own = takes.filter(isIn(low));
    const others = sounding.filter(isIn(low));
    if (others.length === 0) return [];
    return [{ low, high: (lows[i + 1] ?? 128) - 1, takes: own }];
  });
}

/** Whether layers that are copied sample by sample stay within a level even if all their peaks coincide. */
function cannotPass(level: number, { sound: { layers, width }, sounds }: Struck): boolean {
  if (width !== 1 || layers.some(({ ratio }) => ratio !== 1)) return false;
  const most = layers.map(({ gain, panLeft, panRight }) => Math.abs(gain) * Math.max(panLeft, panRight));
  return most.reduce((sum, gain, i) => sum + gain * (sounds[i] as HitSound).loudest, 0) <= level;
}

/** A whole print in memory. */
export function printPad(pad: Pad, layers: readonly LayerWithHit[], open: OpenHit): Audio {
  const print = printing(pad, layers, open);
  const channels = Array.from({ length: print.channelCount }, () => new Float32Array(print.frames));
  let at = 0;
  for (const block of print.blocks()) {
    for (const [c, channel] of block.entries()) channels[c]?.set(channel, at);
    at += block[0]?.length ?? 0;
  }
  return { sampleRate: print.sampleRate, channels };
}

/** One full strike of a pad, block by block: each layer's voice reads from a moving window of its source. */
function* strike(struck: Struck): Generator<[Float32Array, Float32Array]> {
  const { sound, sounds } = struck;
  const programs = new Float64Array(PROGRAM_FLOATS);
  writeProgram(sound, programs);
  const desk = { rate: 44100, programs, reader: threadInterpolation(), hands: newHands(1) };
  const stroke = {
    ...{ pad: 0, velocity: 127, stroke: 0, seed: 0, clock: 0, from: -1, to: -1 },
    offsets: new Float64Array(OFFSET_NAMES.length),
  };
  const voices = sound.layers.map((_, l) => {
    const voice = new Voice();
    beginVoice(voice, { ...desk, memory: NOTHING }, stroke, l, 0);
    return voice;
  });
  const total = printFrames(struck);
  for (let at = 0; at < total; at += BLOCK) {
    const count = Math.min(BLOCK, total - at);
    const left = new Float32Array(count);
    const right = new Float32Array(count);
    for (const [i, voice] of voices.entries()) {
      if (!voice.active) continue;
      const memory = samplesOf(windowOf(voice, sound.layers[i] as LayerSound, sounds[i] as HitSound, count));
      mixInto(voice, { ...desk, memory }, left, right);
    }
    yield [left, right];
  }
}

/** Adds a voice's next frames to whole channels, a chunk at a time. */
function mixInto(voice: Voice, desk: Desk, left: Float32Array, right: Float32Array): void {
  const { buses } = desk.reader;
  for (let at = 0; at < left.length && voice.active; at += CHUNK) {
    const count = Math.min(CHUNK, left.length - at);
    for (let i = 0; i < count; i++) {
      buses[2 * i] = left[at + i] as number;
      buses[2 * i + 1] = right[at + i] as number;
    }
    mixVoice(voice, desk, 0, count);
    for (let i = 0; i < count; i++) {
      left[at + i] = buses[2 * i] as number;
      right[at + i] = buses[2 * i + 1] as number;
    }
  }
}

const NOTHING = samplesOf(new Float32Array(0));

/** Copies what a voice reads in its next `count` frames into its window. */
function windowOf(voice: Voice, layer: LayerSound, of: HitSound, count: number): Float32Array {
  const reader = threadInterpolation();
  const around = reader.reach(voice.bank, voice.ratio);
  const isWhole = voice.reversed || voice.loopEnd > voice.loopStart;
  const from = isWhole ? layer.start : Math.max(layer.start, Math.floor(voice.position) - around);
  const until = Math.ceil(voice.position + (count + CHUNK) * voice.ratio) + around;
  const to = isWhole ? layer.end : Math.min(layer.end, until);
  const isMono = layer.left === layer.right;
  const [left, right] = toStereo(of.read(from, to));
  const memory = new Float32Array(left.length * (isMono ? 1 : 2));
  memory.set(left);
  if (!isMono) memory.set(right, left.length);
  // Frame `from` comes first.
  voice.left = -from;
  voice.right = isMono ? -from : left.length - from;
  return memory;
}
