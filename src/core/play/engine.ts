import { velocityGain } from './gains';
import { type Samples, samplesOf, threadInterpolation } from './interpolation';
import { MAX_PADS } from './limits';
import { LAYER, layerAt, PAD, type PadSound, PROGRAM_FLOATS, writeProgram } from './program';
import { beginVoice, fade, glideTo, mixVoice, newVoice, rampTo, type Voice } from './voice';

/** Voices that fade out after being stolen, beyond the limit set for sounding ones. */
const SPARE_VOICES = 32;
const CHOKE_SECONDS = 0.004;
const RELEASE_SECONDS = 0.06;
const QUEUE = 1024;
/** Floats of a waiting event. */
const EVENT = 5;

const STRIKE = 1;
const RELEASE = 2;
const STOP_ALL = 3;

/** The mixer's channels. */
export const BUSES = 1;
/** Frames that the buses are mixed at a time. */
const BLOCK = 128;

interface Bus {
  readonly left: Float32Array;
  readonly right: Float32Array;
}

/**
 * The voice engine: strikes, releases and chokes pads and mixes their voices. The same code runs in the audio thread
 * and offline. Its output does not depend on the block length, and it allocates nothing while playing. Changes of a pad
 * apply to its sounding voices, as long as they play the same sound.
 */
export class VoiceEngine {
  private readonly voices: Voice[];
  /** The program of each pad, one after another; see `program.ts`. */
  private readonly programs = new Float64Array(MAX_PADS * PROGRAM_FLOATS);
  private readonly buses: readonly Bus[] = Array.from({ length: BUSES }, () => ({
    left: new Float32Array(BLOCK),
    right: new Float32Array(BLOCK),
  }));
  private readonly reader = threadInterpolation();
  private readonly memory: Samples;
  private readonly chokeFrames: number;
  private readonly releaseFrames: number;
  // Queued events in order of frame: kind, pad, velocity, and the range of frames to play.
  private readonly queueFrame = new Float64Array(QUEUE);
  private readonly queueData = new Float64Array(QUEUE * EVENT);
  private queued = 0;
  private clock = 0;
  private births = 0;
  /** Number of strikes played so far. */
  struck = 0;

  constructor(
    readonly sampleRate: number,
    memory: Float32Array,
    readonly voiceLimit = 64,
  ) {
    this.memory = samplesOf(memory);
    this.chokeFrames = Math.max(1, Math.round(CHOKE_SECONDS * sampleRate));
    this.releaseFrames = Math.max(1, Math.round(RELEASE_SECONDS * sampleRate));
    this.voices = Array.from({ length: voiceLimit + SPARE_VOICES }, newVoice);
  }

  /** The engine's clock: frames rendered so far. */
  get frame(): number {
    return this.clock;
  }

  /** Sounding voices, including those fading out. */
  get activeVoices(): number {
    let count = 0;
    for (const voice of this.voices) if (voice.active) count++;
    return count;
  }

  setPad(pad: number, sound: PadSound): void {
    writeProgram(sound, this.programs, pad * PROGRAM_FLOATS);
    this.follow(pad);
  }

  /** Loads a pad's program from float `at` of `from`. */
  loadProgram(pad: number, from: Float64Array, at: number): void {
    const { programs } = this;
    const to = pad * PROGRAM_FLOATS;
    for (let i = 0; i < PROGRAM_FLOATS; i++) programs[to + i] = from[at + i] as number;
    this.follow(pad);
  }

  /**
   * Strikes a pad at an engine frame (now, when that has passed). Velocity 1..127. With `from` and `to` only those
   * frames of its layers' sounds are played.
   */
  strike(pad: number, velocity: number, frame = this.clock, from = -1, to = -1): void {
    this.enqueue(frame, STRIKE, pad, velocity, from, to);
  }

  /** Releases a pad: held voices fade out, one-shots continue. */
  release(pad: number, frame = this.clock): void {
    this.enqueue(frame, RELEASE, pad, 0);
  }

  /** Fades out every voice of a pad, or of all pads for -1, whatever its mode, and cancels later strikes of it. */
  stop(pad = -1, frame = this.clock): void {
    let kept = 0;
    for (let i = 0; i < this.queued; i++) {
      const mine = pad < 0 || this.queueData[i * EVENT + 1] === pad;
      if (mine && (this.queueFrame[i] as number) >= frame) continue;
      this.queueFrame[kept] = this.queueFrame[i] as number;
      this.queueData.copyWithin(kept * EVENT, i * EVENT, (i + 1) * EVENT);
      kept++;
    }
    this.queued = kept;
    this.enqueue(frame, STOP_ALL, pad, 0);
  }

  /** Renders the next `frames` frames into `left` and `right` from index `at`, overwriting what was there. */
  process(left: Float32Array, right: Float32Array, frames: number, at = 0): void {
    let done = 0;
    while (done < frames) {
      while (this.queued > 0 && (this.queueFrame[0] as number) <= this.clock) this.runFirst();
      const next = this.queued > 0 ? Math.ceil((this.queueFrame[0] as number) - this.clock) : frames;
      const count = Math.min(frames - done, next);
      this.mix(left, right, at + done, count);
      done += count;
      this.clock += count;
    }
  }

  private enqueue(frame: number, kind: number, pad: number, velocity: number, from = -1, to = -1): void {
    if (this.queued >= QUEUE || pad >= MAX_PADS) return;
    let i = this.queued;
    for (; i > 0 && (this.queueFrame[i - 1] as number) > frame; i--) {
      this.queueFrame[i] = this.queueFrame[i - 1] as number;
      this.queueData.copyWithin(i * EVENT, (i - 1) * EVENT, i * EVENT);
    }
    this.queueFrame[i] = frame;
    const at = i * EVENT;
    this.queueData[at] = kind;
    this.queueData[at + 1] = pad;
    this.queueData[at + 2] = velocity;
    this.queueData[at + 3] = from;
    this.queueData[at + 4] = to;
    this.queued++;
  }

  private runFirst(): void {
    const kind = this.queueData[0] as number;
    const pad = this.queueData[1] as number;
    const velocity = this.queueData[2] as number;
    const from = this.queueData[3] as number;
    const to = this.queueData[4] as number;
    this.queued--;
    this.queueFrame.copyWithin(0, 1, this.queued + 1);
    this.queueData.copyWithin(0, EVENT, (this.queued + 1) * EVENT);
    if (kind === STRIKE) this.startPad(pad, velocity, from, to);
    else {
      for (const voice of this.voices) {
        if (!voice.active || (pad >= 0 && voice.pad !== pad)) continue;
        if (kind === STOP_ALL) fade(voice, this.chokeFrames);
        else if (voice.held) fade(voice, this.releaseFrames);
      }
    }
  }

  private startPad(pad: number, velocity: number, from: number, to: number): void {
    const { programs } = this;
    const program = pad * PROGRAM_FLOATS;
    const group = programs[program + PAD.chokeGroup] as number;
    if (group > 0) {
      for (const voice of this.voices) if (voice.active && voice.group === group) fade(voice, this.chokeFrames);
    }
    this.struck++;
    const struck = velocityGain(velocity);
    const layers = programs[program + PAD.layerCount] as number;
    for (let l = 0; l < layers; l++) {
      const at = program + layerAt(l);
      if (velocity < (programs[at + LAYER.lowVelocity] as number)) continue;
      if (velocity > (programs[at + LAYER.highVelocity] as number)) continue;
      const voice = this.freeVoice();
      const ratio = programs[at + LAYER.ratio] as number;
      const start = programs[at + LAYER.start] as number;
      voice.pad = pad;
      voice.layer = l;
      voice.struck = struck;
      voice.group = group;
      voice.held = programs[program + PAD.held] === 1;
      voice.bus = programs[program + PAD.bus] as number;
      voice.born = this.births++;
      beginVoice(
        voice,
        programs[at + LAYER.left] as number,
        programs[at + LAYER.right] as number,
        from >= 0 ? from : start,
        to >= 0 ? to : (programs[at + LAYER.end] as number),
        ratio,
        programs[program + PAD.fadeOutFrames] as number,
        this.reader.bankFor(ratio),
      );
      const gain = (programs[at + LAYER.gain] as number) * struck;
      voice.gainLeft = gain * (programs[at + LAYER.panLeft] as number) * (programs[program + PAD.gainLeft] as number);
      voice.gainRight =
        gain * (programs[at + LAYER.panRight] as number) * (programs[program + PAD.gainRight] as number);
      voice.delay = programs[at + LAYER.delay] as number;
    }
  }

  /** Applies a pad's program to its sounding voices, where they play the same sound. */
  private follow(pad: number): void {
    const { programs } = this;
    const program = pad * PROGRAM_FLOATS;
    const layers = programs[program + PAD.layerCount] as number;
    for (const v of this.voices) {
      if (!v.active || v.pad !== pad || v.layer >= layers) continue;
      const at = program + layerAt(v.layer);
      if (programs[at + LAYER.left] !== v.left || programs[at + LAYER.right] !== v.right) continue;
      const gain = (programs[at + LAYER.gain] as number) * v.struck;
      rampTo(
        v,
        gain * (programs[at + LAYER.panLeft] as number) * (programs[program + PAD.gainLeft] as number),
        gain * (programs[at + LAYER.panRight] as number) * (programs[program + PAD.gainRight] as number),
      );
      glideTo(v, programs[at + LAYER.ratio] as number);
      v.held = programs[program + PAD.held] === 1;
      v.group = programs[program + PAD.chokeGroup] as number;
      v.fadeOutFrames = programs[program + PAD.fadeOutFrames] as number;
      v.fadeOut = v.fadeOutFrames * v.ratio;
    }
  }

  /** A free voice; beyond the limit the oldest one not already fading is faded out first. */
  private freeVoice(): Voice {
    let sounding = 0;
    let oldest: Voice | null = null;
    let free: Voice | null = null;
    let leaving: Voice | null = null;
    for (const voice of this.voices) {
      if (!voice.active) free ??= voice;
      else if (voice.fadeLeft < 0) {
        sounding++;
        if (!oldest || voice.born < oldest.born) oldest = voice;
      } else if (!leaving || voice.fadeLeft < leaving.fadeLeft) leaving = voice;
    }
    if (sounding >= this.voiceLimit && oldest) fade(oldest, this.chokeFrames);
    return free ?? leaving ?? (oldest as Voice);
  }

  private mix(left: Float32Array, right: Float32Array, at: number, count: number): void {
    for (let done = 0; done < count; done += BLOCK) {
      const some = Math.min(BLOCK, count - done);
      for (const bus of this.buses) {
        bus.left.fill(0, 0, some);
        bus.right.fill(0, 0, some);
      }
      for (const voice of this.voices) {
        if (!voice.active) continue;
        const bus = this.buses[voice.bus] as Bus;
        mixVoice(voice, this.memory, this.reader, bus.left, bus.right, 0, some);
      }
      this.sum(left, right, at + done, some);
    }
  }

  private sum(left: Float32Array, right: Float32Array, at: number, count: number): void {
    left.fill(0, at, at + count);
    right.fill(0, at, at + count);
    for (const bus of this.buses) {
      for (let i = 0; i < count; i++) {
        left[at + i] = (left[at + i] as number) + (bus.left[i] as number);
        right[at + i] = (right[at + i] as number) + (bus.right[i] as number);
      }
    }
  }
}
