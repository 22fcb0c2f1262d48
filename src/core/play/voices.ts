import { fade, releaseVoice, Voice } from './voice';

/** Voices that fade out after being stolen, beyond the limit set for sounding ones. */
const SPARE_VOICES = 32;

/** The voices of an engine. Allocates nothing while they play. */
export class Voices {
  readonly all: readonly Voice[];

  constructor(
    private readonly limit: number,
    private readonly stopFrames: number,
  ) {
    this.all = Array.from({ length: limit + SPARE_VOICES }, () => new Voice());
  }

  /** Sounding voices, including those fading out. */
  get active(): number {
    let count = 0;
    for (const voice of this.all) if (voice.active) count++;
    return count;
  }

  /** Counts the sounding strokes of a voice's pad from its own stroke on: 1 for the latest. */
  later(voice: Voice): number {
    let strokes = 1;
    let last = voice.stroke;
    // Layers of a stroke lie beside one another: each stroke is counted once, by its lowest number still to come.
    for (;;) {
      let next = Number.POSITIVE_INFINITY;
      for (const v of this.all)
        if (v.active && v.pad === voice.pad && v.fadeLeft < 0 && v.stroke > last && v.stroke < next) next = v.stroke;
      if (next === Number.POSITIVE_INFINITY) return strokes;
      strokes++;
      last = next;
    }
  }

  /** Fades out what sounds of a stroke of a pad. */
  fadeStroke(pad: number, stroke: number, frames: number): void {
    for (const voice of this.all)
      if (voice.active && voice.pad === pad && voice.stroke === stroke && voice.fadeLeft < 0) fade(voice, frames);
  }

  /** Lets a pad's voices go that nothing has let go yet; whether there were any. */
  release(pad: number): boolean {
    let any = false;
    for (const voice of this.all) {
      if (!voice.active || voice.pad !== pad || voice.releasedAt >= 0 || voice.fadeLeft >= 0) continue;
      releaseVoice(voice);
      any = true;
    }
    return any;
  }

  /** A free voice; beyond the limit the oldest one not already fading is faded out first. */
  free(): Voice {
    let sounding = 0;
    let oldest: Voice | null = null;
    let free: Voice | null = null;
    let leaving: Voice | null = null;
    for (const voice of this.all) {
      if (!voice.active) free ??= voice;
      else if (voice.fadeLeft < 0) {
        sounding++;
        if (!oldest || voice.stroke < oldest.stroke) oldest = voice;
      } else if (!leaving || voice.fadeLeft < leaving.fadeLeft) leaving = voice;
    }
    if (sounding >= this.limit && oldest) fade(oldest, this.stopFrames);
    return free ?? leaving ?? (oldest as Voice);
  }
}
