import { type Bank, CHUNK, type Interpolation, type Samples } from './interpolation';

/** A sounding layer of a struck pad. Offsets count floats, positions frames of its source, all else engine frames. */
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
  /** The layer of its pad it plays, and its velocity as a gain. */
  layer: number;
  struck: number;
  bus: number;
  gainLeft: number;
  gainRight: number;
  /** Remaining frames of a gain ramp, its increments, and its targets. */
  rampLeft: number;
  addLeft: number;
  addRight: number;
  toLeft: number;
  toRight: number;
  /** Remaining frames of a pitch glide, its factor a step, and its target. */
  glideLeft: number;
  glideBy: number;
  glideTo: number;
  /** Fade before the end, in engine frames, and in frames of the source. */
  fadeOutFrames: number;
  fadeOut: number;
  /** Remaining frames of a running fade-out, or -1 without one. */
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
    layer: 0,
    struck: 1,
    bus: 0,
    gainLeft: 0,
    gainRight: 0,
    rampLeft: 0,
    addLeft: 0,
    addRight: 0,
    toLeft: 0,
    toRight: 0,
    glideLeft: 0,
    glideBy: 1,
    glideTo: 1,
    fadeOutFrames: 0,
    fadeOut: 0,
    fadeLeft: -1,
    fadeLength: 1,
  };
}

/** Frames of a gain or pitch change of a sounding voice, and of its pitch steps: short, without zipper noise. */
const CHANGE_FRAMES = 480;
const GLIDE_STEP = 24;

/** Starts a voice on frames [start, end) at `left` and `right`; the caller sets gains and delay. */
export function beginVoice(
  voice: Voice,
  left: number,
  right: number,
  start: number,
  end: number,
  ratio: number,
  fadeOutFrames: number,
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
  voice.fadeOutFrames = fadeOutFrames;
  voice.fadeOut = fadeOutFrames * ratio;
  voice.fadeLeft = -1;
  voice.rampLeft = 0;
  voice.glideLeft = 0;
}

/** Ramps a sounding voice to other gains. */
export function rampTo(v: Voice, left: number, right: number): void {
  if (v.rampLeft > 0 ? v.toLeft === left && v.toRight === right : v.gainLeft === left && v.gainRight === right) return;
  v.rampLeft = CHANGE_FRAMES;
  v.addLeft = (left - v.gainLeft) / CHANGE_FRAMES;
  v.addRight = (right - v.gainRight) / CHANGE_FRAMES;
  v.toLeft = left;
  v.toRight = right;
}

/** Glides a sounding voice to another pitch, evenly in semitones. */
export function glideTo(v: Voice, ratio: number): void {
  if (v.glideLeft > 0 ? v.glideTo === ratio : v.ratio === ratio) return;
  v.glideLeft = CHANGE_FRAMES;
  v.glideBy = (ratio / v.ratio) ** (GLIDE_STEP / CHANGE_FRAMES);
  v.glideTo = ratio;
}

/** Starts a fade-out, or shortens a running one; the gain continues from where it is, so nothing clicks. */
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
 * Adds the next `count` frames of a voice to `left` and `right` from index `at` on, and deactivates it at its end.
 * Independent of how frames are divided into calls.
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
  let i = at + wait;
  while (i < stop && v.active) {
    const untilStep = v.glideLeft > 0 ? ((v.glideLeft - 1) % GLIDE_STEP) + 1 : CHUNK;
    const chunk = Math.min(CHUNK, stop - i, untilStep);
    reader.read(memory, v.left, v.right, v.start, v.end, v.position, v.ratio, v.bank, chunk);
    const steady = v.rampLeft > 0 ? 0 : Math.min(chunk, steadyFrames(v));
    const { gainLeft, gainRight, ratio } = v;
    let { position } = v;
    for (let n = 0; n < steady; n++) {
      left[i + n] = (left[i + n] as number) + (frames[2 * n] as number) * gainLeft;
      right[i + n] = (right[i + n] as number) + (frames[2 * n + 1] as number) * gainRight;
      position += ratio;
    }
    v.position = position;
    for (let n = steady; n < chunk && !isOver(v); n++) {
      if (v.rampLeft > 0) stepRamp(v);
      const gain = fadedGain(v);
      left[i + n] = (left[i + n] as number) + (frames[2 * n] as number) * v.gainLeft * gain;
      right[i + n] = (right[i + n] as number) + (frames[2 * n + 1] as number) * v.gainRight * gain;
      v.position += ratio;
    }
    if (v.glideLeft > 0) stepGlide(v, chunk, reader);
    i += chunk;
    v.active = !isOver(v);
  }
}

function stepRamp(v: Voice): void {
  v.rampLeft--;
  // The target is assigned at the end, so that the gain is exact again.
  v.gainLeft = v.rampLeft === 0 ? v.toLeft : v.gainLeft + v.addLeft;
  v.gainRight = v.rampLeft === 0 ? v.toRight : v.gainRight + v.addRight;
}

function stepGlide(v: Voice, frames: number, reader: Interpolation): void {
  v.glideLeft -= frames;
  if (v.glideLeft % GLIDE_STEP !== 0) return;
  v.ratio = v.glideLeft === 0 ? v.glideTo : v.ratio * v.glideBy;
  v.bank = reader.bankFor(v.ratio);
  v.fadeOut = v.fadeOutFrames * v.ratio;
}

/** Frames that a voice certainly sounds at full level, before a fade begins or it ends. */
function steadyFrames(v: Voice): number {
  if (v.fadeLeft >= 0) return 0;
  // One frame less, because positions accumulate rounding.
  return Math.max(0, Math.floor((v.end - v.fadeOut - v.position) / v.ratio) - 1);
}

function isOver(v: Voice): boolean {
  return v.position >= v.end || v.fadeLeft === 0;
}

/** The fade gain at a voice's next frame; advances the fades. */
function fadedGain(v: Voice): number {
  const remaining = v.end - v.position;
  let gain = remaining < v.fadeOut ? remaining / v.fadeOut : 1;
  if (v.fadeLeft > 0) {
    gain *= v.fadeLeft / v.fadeLength;
    v.fadeLeft--;
  }
  return gain;
}
