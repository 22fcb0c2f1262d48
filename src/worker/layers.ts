import type { TreatedHit } from '@/core/hit/key';
import type { LayerValues } from '@/core/kit/parameters';
import { Addition, type Mend, mendsOf } from '@/core/layering/addition';
import type { LayerSound } from '@/core/layering/layers';
import { linedUp, turned } from '@/core/layering/taken';
import { resampled } from '@/core/resampling/sinc';
import { msToFrames, pitchRatio, toDb } from '@/core/signal/units';
import { type RecordingFormat, soundOf } from './sounds';

/** A layer of a pad as it goes into the sum of its layers. */
export interface LayerToSum {
  readonly hit: TreatedHit;
  readonly recording: RecordingFormat;
  readonly layer: LayerValues;
}

/** How layers lie once they are lined up. */
export interface LinedUp {
  readonly layers: readonly {
    readonly offsetMs: number;
    readonly inverted: boolean;
    /** Frames of the first layer's rate. */
    readonly movedFrames: number;
  }[];
  readonly lostDb: number;
  readonly stillLostDb: number;
}

/** What a sum of layers has over their own powers. */
export interface Added {
  /** By third octave (`THIRD_OCTAVES_HZ`), in dB; null where nothing is heard. */
  readonly bands: readonly (number | null)[];
  /** What is lost under 200 Hz, in dB. */
  readonly lostDb: number;
  readonly mends: readonly (Mend & { readonly ms: number })[];
}

/** Layers of a pad as they sound, at the first one's rate, each tuned. */
async function layerSounds(layers: readonly LayerToSum[]): Promise<LayerSound[]> {
  const sounds: LayerSound[] = [];
  for (const { hit, recording, layer } of layers) {
    const { audio, gain } = await soundOf(hit, recording);
    const rate = sounds[0]?.audio.sampleRate ?? audio.sampleRate;
    const ratio = (audio.sampleRate / rate) * pitchRatio(layer.semitones, layer.cents);
    sounds.push({
      audio: { sampleRate: rate, channels: resampled(audio, ratio).channels },
      offsetFrames: Math.round(msToFrames(layer.offsetMs, rate)),
      levelDb: layer.levelDb + toDb(gain),
      pan: 0,
      inverted: layer.inverted,
    });
  }
  return sounds;
}

/**
 * Layers brought together by their attacks, and polarities turned that cancel: the new offsets and polarities in order, and
 * what the sum loses under 200 Hz before and after, in dB.
 */
export async function lineUp(layers: readonly LayerToSum[]): Promise<LinedUp> {
  const sounds = await layerSounds(layers);
  const lined = turned(linedUp(sounds));
  const room = Math.max(...[...sounds, ...lined].map((l) => Math.abs(l.offsetFrames)));
  const sum = new Addition(sounds, room);
  return {
    layers: lined.map(({ audio, offsetFrames, inverted }, i) => ({
      offsetMs: (1000 * offsetFrames) / audio.sampleRate,
      inverted,
      movedFrames: offsetFrames - (sounds[i] as LayerSound).offsetFrames,
    })),
    lostDb: sum.lostUnder200HzDb(),
    stillLostDb: sum.lostUnder200HzDb(lined),
  };
}

/** What the sum of layers has over their own powers, and what would mend it. */
export async function addition(layers: readonly LayerToSum[]): Promise<Added> {
  const sounds = await layerSounds(layers);
  const [first] = sounds;
  if (!first) return { bands: [], lostDb: 0, mends: [] };
  const { sampleRate } = first.audio;
  const sum = new Addition(sounds, Math.max(...sounds.map((l) => Math.abs(l.offsetFrames))));
  return {
    bands: sum.bands(),
    lostDb: sum.lostUnder200HzDb(),
    mends: mendsOf(sounds).map((mend) => ({ ...mend, ms: (1000 * mend.frames) / sampleRate })),
  };
}
