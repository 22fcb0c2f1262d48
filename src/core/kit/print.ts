import type { Hit } from '../hit/model';
import { withoutDc } from '../hit/prepare';
import { CHUNK, samplesOf, threadInterpolation } from '../play/interpolation';
import { type LayerSound, type PadSound, panGains } from '../play/sound';
import { beginVoice, mixVoice, newVoice, type Voice } from '../play/voice';
import { type Audio, peakOf, toStereo } from '../signal/audio';
import { fromDb } from '../signal/units';
import type { Pad } from './model';
import { padFrames } from './render';
import { type LayerWithHit, padSound } from './sound';

/** Gives frames [start, end) of a hit's recording, all channels, at the recording's rate. */
export type ReadHit = (hit: Hit, start: number, end: number) => Audio;

/** A pad as it is printed to audio, made as it is asked for. */
export interface Printing {
  readonly sampleRate: number;
  readonly channelCount: 1 | 2;
  readonly frames: number;
  /** The sound, some seconds at a time; each block is the caller's. Blocks are empty while the pad's peak is looked for. */
  blocks(): Generator<readonly Float32Array[]>;
}

/** Frames that are printed at a time. */
const BLOCK = 65536;

/**
 * A pad printed to audio: layers summed, tuned and normalised, trimmed, its fade applied; level and pan left for the
 * player unless `withMix`. Rendered at its first layer's own rate; mono when every layer is mono and no pan is printed. The frames are
 * those that the engine plays; memory stays within a few blocks for any length. Where the pad is normalised, its peak is looked for by
 * printing it once before.
 */
export function printing(pad: Pad, layers: readonly LayerWithHit[], read: ReadHit, withMix = false): Printing {
  const sources = layers.map(({ hit }) => sourceOf(hit, read));
  const sampleRate = sources[0]?.sampleRate ?? 44100;
  const soundOf = (level: Pad, gain: number) =>
    padSound(
      level,
      layers,
      sampleRate,
      (hit) => {
        const source = sources[layers.findIndex((l) => l.hit === hit)] as Source;
        return { left: 0, right: source.isMono ? 0 : 1, firstFrame: hit.startFrame, sampleRate: source.sampleRate };
      },
      gain,
    );
  const printed = withMix ? pad : { ...pad, levelDb: 0, pan: 0 };
  const { left, right } = panGains(printed.pan);
  const isMono = left === right && sources.every((source) => source.isMono);
  return {
    sampleRate,
    channelCount: isMono ? 1 : 2,
    frames: padFrames(soundOf(printed, 1)),
    *blocks() {
      let gain = 1;
      if (pad.normaliseDbfs !== null) {
        let peak = 0;
        for (const block of strike(soundOf({ ...pad, levelDb: 0, pan: 0 }, 1), sources)) {
          peak = Math.max(peak, peakOf(block));
          yield Array.from({ length: isMono ? 1 : 2 }, () => new Float32Array(0));
        }
        if (peak > 0) gain = fromDb(pad.normaliseDbfs) / peak;
      }
      for (const block of strike(soundOf(printed, gain), sources)) yield isMono ? [block[0]] : block;
    },
  };
}

/** The whole of a printing, in memory. */
export function printPad(pad: Pad, layers: readonly LayerWithHit[], read: ReadHit, withMix = false): Audio {
  const print = printing(pad, layers, read, withMix);
  const channels = Array.from({ length: print.channelCount }, () => new Float32Array(print.frames));
  let at = 0;
  for (const block of print.blocks()) {
    for (const [c, channel] of block.entries()) channels[c]?.set(channel, at);
    at += block[0]?.length ?? 0;
  }
  return { sampleRate: print.sampleRate, channels };
}

interface Source {
  readonly sampleRate: number;
  readonly isMono: boolean;
  /** Left and right of the hit's own frames [from, to), its constant offset taken off. */
  read(from: number, to: number): readonly [Float32Array, Float32Array];
}

function sourceOf(hit: Hit, read: ReadHit): Source {
  // An empty stretch tells rate and channels.
  const { sampleRate, channels } = read(hit, hit.startFrame, hit.startFrame);
  return {
    sampleRate,
    isMono: channels.length === 1,
    read: (from, to) => toStereo(withoutDc(read(hit, hit.startFrame + from, hit.startFrame + to), hit.dc)),
  };
}

/** One full strike of a pad, block by block: each layer's voice reads from a window of its source that moves along. */
function* strike(sound: PadSound, sources: readonly Source[]): Generator<[Float32Array, Float32Array]> {
  const reader = threadInterpolation();
  const voices = sound.layers.map((layer): Voice => {
    const voice = newVoice();
    const { start, end, ratio, gain, delay } = layer;
    beginVoice(voice, 0, 0, start, end, ratio, reader.bankFor(ratio));
    voice.gainLeft = gain * sound.gainLeft;
    voice.gainRight = gain * sound.gainRight;
    voice.fadeOut = sound.fadeOutFrames * ratio;
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
      const memory = windowOf(voice, sound.layers[i] as LayerSound, sources[i] as Source, count);
      mixVoice(voice, samplesOf(memory), reader, left, right, 0, count);
    }
    yield [left, right];
  }
}

/** Lays what a voice reads in its next `count` frames into memory of its own, and has the voice read from there. */
function windowOf(voice: Voice, layer: LayerSound, source: Source, count: number): Float32Array {
  const { reach } = threadInterpolation();
  const around = reach(voice.bank);
  const from = Math.max(layer.start, Math.floor(voice.position) - around);
  const to = Math.min(layer.end, Math.ceil(voice.position + (count + CHUNK) * voice.ratio) + around);
  const isMono = layer.left === layer.right;
  const [left, right] = source.read(from, to);
  const memory = new Float32Array(left.length * (isMono ? 1 : 2));
  memory.set(left);
  if (!isMono) memory.set(right, left.length);
  // Frame `from` lies first.
  voice.left = -from;
  voice.right = isMono ? -from : left.length - from;
  return memory;
}
