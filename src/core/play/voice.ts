import { type Bank, CHUNK, type Interpolation, type Samples } from './interpolation';

/** A layer of a struck pad while it sounds. Places in memory count floats, positions frames of its source, all else frames of the engine. */
export interface Voice {
  active: boolean;
  pad: number;
  group: number;
  held: boolean;
  born: number;
  delay: number;
  left: number;
  right: number;
  start: number;
  end: number;
  position: number;
  ratio: number;
  bank: Bank;
  gainLeft: number;
  gainRight: number;
  fadeOut: number;
  /** Frames of a running fade-out that are left, or -1 when none runs. */
  fadeLeft: number;
  fadeLength: number;
}

const NO_BANK: Bank = { cutoff: 1, taps: 0, rows: 0 };

export function newVoice(): Voice {
  return {
    active: false,
    pad: 0,
    group: 0,
    held: false,
    born: 0,
    delay: 0,
    left: 0,
    right: 0,
    start: 0,
    end: 0,
    position: 0,
    ratio: 1,
    bank: NO_BANK,
    gainLeft: 0,
    gainRight: 0,
    fadeOut: 0,
    fadeLeft: -1,
    fadeLength: 1,
  };
}

/** Has a voice begin frames [start, end) of what lies at `left` and `right`; gains, fade and delay are set by the caller. */
export function beginVoice(
  voice: Voice,
  left: number,
  right: number,
  start: number,
  end: number,
  ratio: number,
  bank: Bank,
): void {
  voice.active = true;
  voice.left = left;
  voice.right = right;
  voice.start = start;
  voice.end = end;
  voice.position = start;
  voice.ratio = ratio;
  voice.bank = bank;
  voice.fadeLeft = -1;
}

/** Starts a fade-out, or shortens one that runs; the gain goes on from where it is, so nothing clicks. */
export function fade(voice: Voice, frames: number): void {
  if (voice.fadeLeft < 0) {
    voice.fadeLeft = frames;
    voice.fadeLength = frames;
  } else if (voice.fadeLeft > frames) {
    voice.fadeLength = (voice.fadeLength * frames) / voice.fadeLeft;
    voice.fadeLeft = frames;
  }
}

/**
 * Adds the next `count` frames of a voice to `left` and `right` from index `at` on, and marks it as no longer active where it ends. The
 * frames are the same however they are parted.
 */
export function mixVoice(
  v: Voice,
  memory: Samples,
  reader: Interpolation,
  left: Float32Array,
  right: Float32Array,
  at: number,
  count: number,
): void {
  const { frames } = reader;
  const wait = Math.min(v.delay, count);
  v.delay -= wait;
  const stop = at + count;
  for (let i = at + wait; i < stop && v.active; i += CHUNK) {
    const chunk = Math.min(CHUNK, stop - i);
    reader.read(memory, v.left, v.right, v.start, v.end, v.position, v.ratio, v.bank, chunk);
    const steady = Math.min(chunk, steadyFrames(v));
    const { gainLeft, gainRight, ratio } = v;
    let { position } = v;
    for (let n = 0; n < steady; n++) {
      left[i + n] = (left[i + n] as number) + (frames[2 * n] as number) * gainLeft;
      right[i + n] = (right[i + n] as number) + (frames[2 * n + 1] as number) * gainRight;
      position += ratio;
    }
    v.position = position;
    for (let n = steady; n < chunk && !isOver(v); n++) {
      const gain = fadedGain(v);
      left[i + n] = (left[i + n] as number) + (frames[2 * n] as number) * gainLeft * gain;
      right[i + n] = (right[i + n] as number) + (frames[2 * n + 1] as number) * gainRight * gain;
      v.position += ratio;
    }
    v.active = !isOver(v);
  }
}

/** Frames that a voice sounds at its full level at least, before a fade begins or it ends. */
function steadyFrames(v: Voice): number {
  if (v.fadeLeft >= 0) return 0;
  // One frame less, since positions are added up.
  return Math.max(0, Math.floor((v.end - v.fadeOut - v.position) / v.ratio) - 1);
}

function isOver(v: Voice): boolean {
  return v.position >= v.end || v.fadeLeft === 0;
}

/** The gain of fades at a voice's next frame, which counts as played. */
function fadedGain(v: Voice): number {
  const remaining = v.end - v.position;
  let gain = remaining < v.fadeOut ? remaining / v.fadeOut : 1;
  if (v.fadeLeft > 0) {
    gain *= v.fadeLeft / v.fadeLength;
    v.fadeLeft--;
  }
  return gain;
}
