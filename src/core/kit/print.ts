import type { TreatedHit } from '../hit/key';
import type { HitSound } from '../hit/render';
import { CHUNK, samplesOf, threadInterpolation } from '../play/interpolation';
import type { LayerSound, PadSound } from '../play/program';
import { beginVoice, mixVoice, newVoice, type Voice } from '../play/voice';
import { type Audio, peakOf, toStereo } from '../signal/audio';
import { gainToPeak } from '../treatment/level';
import type { Pad } from './model';
import { type LayerWithHit, padSound, soundingLayers } from './pad-sound';
import { padFrames } from './render';

/** Opens the sound of a hit for reading. */
export type OpenHit = (hit: TreatedHit) => HitSound;

/** A pad being printed to audio, on demand. */
export interface Printing {
  readonly sampleRate: number;
  readonly channelCount: 1 | 2;
  readonly frames: number;
  /** The peak of the print; yields while it is searched, unless it is certainly within full scale. */
  peak(): Generator<void, number>;
  /**
   * The sound with a gain, some seconds at a time; the caller may keep each block. Blocks are empty while a peak is
   * searched.
   */
  blocks(gain?: number): Generator<readonly Float32Array[]>;
}

/** Frames printed at a time. */
const BLOCK = 65536;

/**
 * Prints a pad as a stroke of a velocity sounds, at full level: layers summed, tuned and normalised, trimmed, its fade
 * applied; level and pan are left to the player. At its first layer's own rate; mono when every layer is mono and none is
 * panned. The frames equal the engine's; memory stays within a few blocks for any length.
 */
export function printing(pad: Pad, layers: readonly LayerWithHit[], open: OpenHit, velocity = 127): Printing {
  const sounding = soundingLayers(layers);
  const sounds = sounding.map(({ hit }) => open(hit));
  const sampleRate = sounds[0]?.sampleRate ?? 44100;
  const isMono =
    sounds.every(({ channelCount }) => channelCount === 1) && sounding.every(({ layer }) => layer.pan === 0);
  const sound = padSound(
    { ...pad, levelDb: 0, pan: 0 },
    sounding,
    sampleRate,
    (hit) => {
      const of = sounds[sounding.findIndex((l) => l.hit === hit)] as HitSound;
      const right = of.channelCount === 1 ? 0 : 1;
      return { left: 0, right, start: 0, end: of.frames, sampleRate: of.sampleRate, gain: of.gain };
    },
    1,
  );
  const struck = struckBy(sound, sounds, velocity);
  const normalised = peakOnce(struckBy(sound, sounds, 127));
  const own = velocity === 127 ? normalised : peakOnce(struck);
  const normalisedGain = (peak: number) => (pad.normaliseDbfs === null ? 1 : gainToPeak(peak, pad.normaliseDbfs));
  return {
    sampleRate,
    channelCount: isMono ? 1 : 2,
    frames: padFrames(struck.sound),
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
      const { gainLeft, gainRight } = sound;
      const printed = { ...struck.sound, gainLeft: gainLeft * by, gainRight: gainRight * by };
      for (const block of strike({ ...struck, sound: printed })) yield isMono ? [block[0]] : block;
    },
  };
}

/** What of a pad a stroke plays. */
interface Struck {
  readonly sound: PadSound;
  /** The sounds of its layers. */
  readonly sounds: readonly HitSound[];
}

function struckBy(sound: PadSound, sounds: readonly HitSound[], velocity: number): Struck {
  const isStruck = ({ lowVelocity, highVelocity }: LayerSound) => velocity >= lowVelocity && velocity <= highVelocity;
  return {
    sound: { ...sound, layers: sound.layers.filter(isStruck) },
    sounds: sounds.filter((_, i) => isStruck(sound.layers[i] as LayerSound)),
  };
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
export function velocityZones(layers: readonly LayerWithHit[]): { readonly low: number; readonly high: number }[] {
  const sounding = soundingLayers(layers).map(({ layer }) => layer);
  const starts = new Set([1, ...sounding.flatMap((l) => [l.lowVelocity, l.highVelocity + 1])]);
  const lows = [...starts].filter((velocity) => velocity <= 127).sort((a, b) => a - b);
  return lows.flatMap((low, i) => {
    const isHeard = sounding.some(({ lowVelocity, highVelocity }) => low >= lowVelocity && low <= highVelocity);
    return isHeard ? [{ low, high: (lows[i + 1] ?? 128) - 1 }] : [];
  });
}

/** Whether layers that are copied sample by sample stay within a level even if all their peaks coincide. */
function cannotPass(level: number, { sound: { layers }, sounds }: Struck): boolean {
  if (layers.some(({ ratio }) => ratio !== 1)) return false;
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
function* strike({ sound, sounds }: Struck): Generator<[Float32Array, Float32Array]> {
  const reader = threadInterpolation();
  const voices = sound.layers.map((layer): Voice => {
    const voice = newVoice();
    const { start, end, ratio, gain, panLeft, panRight, delay } = layer;
    beginVoice(voice, 0, 0, start, end, ratio, sound.fadeOutFrames, reader.bankFor(ratio));
    voice.gainLeft = gain * panLeft * sound.gainLeft;
    voice.gainRight = gain * panRight * sound.gainRight;
    voice.delay = delay;
    return voice;
  });
  const total = padFrames(sound);
  for (let at = 0; at < total; at += BLOCK) {
    const count = Math.min(BLOCK, total - at);
    const left = new Float32Array(count);
    const right = new Float32Array(count);
    for (const [i, voice] of voices.entries()) {
      if (!voice.active) continue;
      const memory = windowOf(voice, sound.layers[i] as LayerSound, sounds[i] as HitSound, count);
      mixVoice(voice, samplesOf(memory), reader, left, right, 0, count);
    }
    yield [left, right];
  }
}

/** Copies what a voice reads in its next `count` frames into its window. */
function windowOf(voice: Voice, layer: LayerSound, of: HitSound, count: number): Float32Array {
  const reader = threadInterpolation();
  const around = reader.reach(voice.bank, voice.ratio);
  const from = Math.max(layer.start, Math.floor(voice.position) - around);
  const to = Math.min(layer.end, Math.ceil(voice.position + (count + CHUNK) * voice.ratio) + around);
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
