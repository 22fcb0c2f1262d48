import { type Samples, samplesOf, threadInterpolation } from './interpolation';
import { MAX_LAYERS, MAX_PADS, type PadSound, velocityGain } from './sound';
import { beginVoice, fade, mixVoice, newVoice, type Voice } from './voice';

/** Voices that fade out after being stolen, beyond the limit that a person hears. */
const SPARE_VOICES = 32;
const CHOKE_SECONDS = 0.004;
const RELEASE_SECONDS = 0.06;
const QUEUE = 1024;

const STRIKE = 1;
const RELEASE = 2;
const STOP_ALL = 3;

/** The layers of a pad as flat arrays, so that changing a pad allocates nothing. */
class PadTable {
  readonly layers = new Uint8Array(MAX_PADS);
  readonly gainLeft = new Float64Array(MAX_PADS);
  readonly gainRight = new Float64Array(MAX_PADS);
  readonly held = new Uint8Array(MAX_PADS);
  readonly group = new Uint8Array(MAX_PADS);
  readonly fadeOut = new Float64Array(MAX_PADS);
  /** Seven numbers a layer: left, right, start, end, ratio, gain, delay. */
  readonly layer = new Float64Array(MAX_PADS * MAX_LAYERS * LAYER_FIELDS);
}
export const LAYER_FIELDS = 7;

/**
 * The voice engine: strikes, releases and chokes pads and mixes their voices. The same code runs in the audio thread and
 * offline. Frames come out the same for any block length; nothing is allocated after construction.
 */
export class VoiceEngine {
  private readonly voices: Voice[];
  private readonly pads = new PadTable();
  private readonly reader = threadInterpolation();
  private readonly memory: Samples;
  private readonly chokeFrames: number;
  private readonly releaseFrames: number;
  // Events wait in order of their frame: kind, pad, velocity at the frame.
  private readonly queueFrame = new Float64Array(QUEUE);
  private readonly queueData = new Float64Array(QUEUE * 3);
  private queued = 0;
  private clock = 0;
  private births = 0;

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

  /** The engine's frame: how many have been rendered. */
  get frame(): number {
    return this.clock;
  }

  /** Voices that sound, those fading out after a choke or a theft included. */
  get activeVoices(): number {
    let count = 0;
    for (const voice of this.voices) if (voice.active) count++;
    return count;
  }

  setPad(pad: number, sound: PadSound): void {
    this.beginPad(pad, sound.gainLeft, sound.gainRight, sound.held, sound.chokeGroup, sound.fadeOutFrames);
    for (const l of sound.layers) this.addLayer(pad, l.left, l.right, l.start, l.end, l.ratio, l.gain, l.delay);
  }

  /** Clears a pad's layers and sets what all of them share; `addLayer` then adds them one by one. */
  beginPad(pad: number, gainLeft: number, gainRight: number, held: boolean, group: number, fadeOut: number): void {
    const t = this.pads;
    t.layers[pad] = 0;
    t.gainLeft[pad] = gainLeft;
    t.gainRight[pad] = gainRight;
    t.held[pad] = held ? 1 : 0;
    t.group[pad] = group;
    t.fadeOut[pad] = fadeOut;
  }

  addLayer(
    pad: number,
    left: number,
    right: number,
    start: number,
    end: number,
    ratio: number,
    gain: number,
    delay: number,
  ): void {
    const t = this.pads;
    const index = t.layers[pad] as number;
    if (index >= MAX_LAYERS) return;
    const at = (pad * MAX_LAYERS + index) * LAYER_FIELDS;
    t.layer[at] = left;
    t.layer[at + 1] = right;
    t.layer[at + 2] = start;
    t.layer[at + 3] = end;
    t.layer[at + 4] = ratio;
    t.layer[at + 5] = gain;
    t.layer[at + 6] = delay;
    t.layers[pad] = index + 1;
  }

  /** Strikes a pad at an engine frame (now, when that has passed). Velocity 1..127. */
  strike(pad: number, velocity: number, frame = this.clock): void {
    this.enqueue(frame, STRIKE, pad, velocity);
  }

  /** Lets go of a pad: held voices fade out, one-shots sound on. */
  release(pad: number, frame = this.clock): void {
    this.enqueue(frame, RELEASE, pad, 0);
  }

  /** Fades out every voice of a pad, or of all pads for -1, whatever its mode, and forgets later strikes of it. */
  stop(pad = -1, frame = this.clock): void {
    let kept = 0;
    for (let i = 0; i < this.queued; i++) {
      const mine = pad < 0 || this.queueData[i * 3 + 1] === pad;
      if (mine && (this.queueFrame[i] as number) >= frame) continue;
      this.queueFrame[kept] = this.queueFrame[i] as number;
      this.queueData.copyWithin(kept * 3, i * 3, i * 3 + 3);
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

  private enqueue(frame: number, kind: number, pad: number, velocity: number): void {
    if (this.queued >= QUEUE || pad >= MAX_PADS) return;
    let i = this.queued;
    for (; i > 0 && (this.queueFrame[i - 1] as number) > frame; i--) {
      this.queueFrame[i] = this.queueFrame[i - 1] as number;
      this.queueData.copyWithin(i * 3, i * 3 - 3, i * 3);
    }
    this.queueFrame[i] = frame;
    this.queueData[i * 3] = kind;
    this.queueData[i * 3 + 1] = pad;
    this.queueData[i * 3 + 2] = velocity;
    this.queued++;
  }

  private runFirst(): void {
    const kind = this.queueData[0] as number;
    const pad = this.queueData[1] as number;
    const velocity = this.queueData[2] as number;
    this.queued--;
    this.queueFrame.copyWithin(0, 1, this.queued + 1);
    this.queueData.copyWithin(0, 3, (this.queued + 1) * 3);
    if (kind === STRIKE) this.startPad(pad, velocity);
    else {
      for (const voice of this.voices) {
        if (!voice.active || (pad >= 0 && voice.pad !== pad)) continue;
        if (kind === STOP_ALL) fade(voice, this.chokeFrames);
        else if (voice.held) fade(voice, this.releaseFrames);
      }
    }
  }

  private startPad(pad: number, velocity: number): void {
    const t = this.pads;
    const group = t.group[pad] as number;
    if (group > 0) {
      for (const voice of this.voices) if (voice.active && voice.group === group) fade(voice, this.chokeFrames);
    }
    const struck = velocityGain(velocity);
    for (let l = 0; l < (t.layers[pad] as number); l++) {
      const at = (pad * MAX_LAYERS + l) * LAYER_FIELDS;
      const voice = this.freeVoice();
      const ratio = t.layer[at + 4] as number;
      const gain = (t.layer[at + 5] as number) * struck;
      voice.pad = pad;
      voice.group = group;
      voice.held = t.held[pad] === 1;
      voice.born = this.births++;
      beginVoice(
        voice,
        t.layer[at] as number,
        t.layer[at + 1] as number,
        t.layer[at + 2] as number,
        t.layer[at + 3] as number,
        ratio,
        this.reader.bankFor(ratio),
      );
      voice.gainLeft = gain * (t.gainLeft[pad] as number);
      voice.gainRight = gain * (t.gainRight[pad] as number);
      voice.fadeOut = (t.fadeOut[pad] as number) * ratio;
      voice.delay = t.layer[at + 6] as number;
    }
  }

  /** A voice to use: a free one; beyond the limit the oldest that is not already leaving fades out first. */
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
    left.fill(0, at, at + count);
    right.fill(0, at, at + count);
    for (const voice of this.voices) {
      if (voice.active) mixVoice(voice, this.memory, this.reader, left, right, at, count);
    }
  }
}
