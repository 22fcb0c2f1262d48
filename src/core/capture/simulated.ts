import { type Audio, frameCount } from '../signal/audio';
import { seededRandom } from '../signal/random';
import { fromDb } from '../signal/units';

/** The room of the simulated microphone, RMS in dBFS. */
const ROOM_DB = -66;
/** The player moves: the level goes from one to another of these within so many seconds. */
const SWING_DB = 6;
const SWING_S = 2.5;
/** Once in so many seconds something comes much too loud, for so long. */
const CLIP_EVERY_S = 14;
const CLIP_DB = 14;
const CLIP_S = 0.4;

/**
 * A take as it would come from a microphone on a desk: over room noise, its level swings, and now and then something clips.
 * Played again and again; the same seed gives the same sound however it is read.
 */
export class SimulatedInput {
  private readonly random: () => number;
  private readonly noise: () => number;
  private frame = 0;
  private from = 1;
  private to = 1;
  private clipAt: number;

  constructor(
    private readonly audio: Audio,
    seed: number,
  ) {
    this.random = seededRandom(seed);
    this.noise = seededRandom(seed + 1);
    this.clipAt = this.nextClip(0);
  }

  /** The next frames of one channel. */
  read(count: number): Float32Array {
    const out = new Float32Array(count);
    const { sampleRate, channels } = this.audio;
    const frames = frameCount(this.audio);
    const swing = Math.round(SWING_S * sampleRate);
    // Uniform noise has a third of its highest square.
    const room = fromDb(ROOM_DB) * Math.sqrt(3);
    for (let i = 0; i < count; i++, this.frame++) {
      if (this.frame % swing === 0) {
        this.from = this.to;
        this.to = fromDb(-SWING_DB * this.random());
      }
      const way = (this.frame % swing) / swing;
      let gain = this.from + (this.to - this.from) * way;
      if (this.frame >= this.clipAt) {
        gain *= fromDb(CLIP_DB);
        if (this.frame >= this.clipAt + CLIP_S * sampleRate) this.clipAt = this.nextClip(this.frame);
      }
      let x = 0;
      for (const channel of channels) x += channel[this.frame % frames] as number;
      const y = (gain * x) / channels.length + room * (2 * this.noise() - 1);
      out[i] = Math.max(-1, Math.min(1, y));
    }
    return out;
  }

  private nextClip(after: number): number {
    return after + Math.round((0.5 + this.random()) * CLIP_EVERY_S * this.audio.sampleRate);
  }
}
