import type { StepSound } from '../live/figures';
import { seedOf } from './chance';
import { samplesOf, threadInterpolation } from './interpolation';
import { type KitSound, velocityIn } from './kit-sound';
import { KIT_PADS, MAX_PADS, PROGRAMS, programOfBus } from './limits';
import { Loops } from './loops';
import { Mixer } from './mixer';
import { newHands } from './movement';
import { OFFSET_NAMES } from './moves';
import { CUTS_AT, LAYER, layerAt, PAD, type PadSound, PROGRAM_FLOATS, SILENT, writeProgram } from './program';
import { EVENT, EventQueue } from './queue';
import { newTakes, rewindTakes, type TakeMemory, takeFor } from './takes';
import { beginVoice, type Desk, fade, followProgram, releaseVoice, type Struck, type Voice } from './voice';
import { Voices } from './voices';

const STOP_SECONDS = 0.004;

const STRIKE = 1;
const RELEASE = 2;
const STOP_ALL = 3;
const CONTROLLER = 4;
const PRESSURE = 5;
const SLICE = 6;
const PATCH = 7;

/** Indices of the modes in which a stroke goes on whatever is let go, repeats, and ends what the one before began; see `MODE_NAMES`. */
const [ONE_SHOT, LOOPED, SWITCHED] = [0, 2, 3] as const;
/** A slice ends within so many seconds where the next one begins. */
const SLICE_FADE_S = 0.003;

/**
 * The voice engine: strikes, releases and chokes pads and mixes their voices. The same code runs in the audio thread
 * and offline. Its output does not depend on the block length, and it allocates nothing while playing. Changes of a pad
 * apply to its sounding voices, as long as they play the same sound. Chances depend on the kit's seed and on which stroke
 * of its pad it is, counted since `rewind`.
 */
export class VoiceEngine {
  private readonly pool: Voices;
  private readonly voices: readonly Voice[];
  private readonly desk: Desk;
  private readonly stopFrames: number;
  private readonly queue = new EventQueue();
  private readonly takes: TakeMemory = newTakes();
  private readonly loops = new Loops();
  private readonly sliceFade: number;
  /** Strokes of each pad since the last rewind. */
  private readonly ordinals = new Float64Array(MAX_PADS);
  private readonly mixer: Mixer;
  private kit: KitSound = { seed: 1, evenVelocity: 0, velocityExponent: 1 };
  private clock = 0;
  private readonly stroke = {
    ...{ pad: 0, velocity: 0, stroke: 0, seed: 0, clock: 0, from: -1, to: -1 },
    offsets: new Float64Array(OFFSET_NAMES.length),
  };
  /** What `patch` takes figures and values from. */
  patches: Float64Array = new Float64Array(0);
  /** Number of strikes played so far. */
  struck = 0;

  constructor(
    readonly sampleRate: number,
    memory: Float32Array,
    voiceLimit = 64,
  ) {
    this.desk = {
      rate: sampleRate,
      programs: new Float64Array(PROGRAMS * PROGRAM_FLOATS),
      memory: samplesOf(memory),
      reader: threadInterpolation(),
      hands: newHands(MAX_PADS),
    };
    this.sliceFade = Math.max(1, Math.round(SLICE_FADE_S * sampleRate));
    this.stopFrames = Math.max(1, Math.round(STOP_SECONDS * sampleRate));
    this.mixer = new Mixer(this.desk);
    this.pool = new Voices(voiceLimit, this.stopFrames);
    this.voices = this.pool.all;
  }

  /** Makes the strips of all pads, so that none has to be made while it plays. */
  readyStrips(): void {
    this.mixer.readyStrips();
  }

  /** Highest sample that each pad and bus gave since this was last set to 0, linear; in the order of the programs. */
  get peaks(): Float64Array {
    return this.mixer.peaks;
  }

  /**
   * The only pad or bus that is heard, by its place among the programs, `ALL`, or `STRAIGHT_OUT`. All take part, so that chokes and
   * chances are as they are together.
   */
  set only(place: number) {
    this.mixer.only = place;
  }

  /** The engine's clock: frames rendered so far. */
  get frame(): number {
    return this.clock;
  }

  /** Whether another event can wait; rendering makes room. */
  get hasRoom(): boolean {
    return this.queue.hasRoom;
  }

  /** Sounding voices, including those fading out. */
  get activeVoices(): number {
    return this.pool.active;
  }

  /** Whether anything sounds or is about to: a loop's next slice, what rings on in a pad's steps. */
  get sounds(): boolean {
    return this.activeVoices > 0 || this.loops.any || this.mixer.ringsOn;
  }

  setKit(kit: KitSound): void {
    this.kit = kit;
  }

  setPad(pad: number, sound: PadSound): void {
    writeProgram(sound, this.desk.programs, pad * PROGRAM_FLOATS);
    this.follow(pad);
  }

  /** Sets what a bus does with what it gets, from 1 on. */
  setBus(bus: number, steps: readonly StepSound[]): void {
    this.setPad(programOfBus(bus), { ...SILENT, steps });
  }

  /** Loads a program from float `at` of `from`: a pad's, or a bus's. */
  loadProgram(pad: number, from: Float64Array, at: number): void {
    const { programs } = this.desk;
    const to = pad * PROGRAM_FLOATS;
    for (let i = 0; i < PROGRAM_FLOATS; i++) programs[to + i] = from[at + i] as number;
    this.follow(pad);
  }

  /** Takes and chances begin anew: what is played from here on is the same each time. */
  rewind(): void {
    rewindTakes(this.takes);
    this.ordinals.fill(0);
  }

  /**
   * Strikes a pad at an engine frame (now, when that has passed). Velocity 1..127. With `from` and `to` only those
   * frames of its layers' sounds are played.
   */
  strike(pad: number, velocity: number, frame = this.clock, from = -1, to = -1): void {
    if (pad < MAX_PADS) this.queue.add(frame, STRIKE, pad, velocity, from, to);
  }

  /** What the next strike is off its pad's program by, see `OFFSET`; 0 again after it. */
  get offsets(): Float64Array {
    return this.queue.offsets;
  }

  /**
   * Changes a program from an engine frame on: so many figures of `patches` and their values, by turns, from float `first` on.
   * What sounds goes there in a line over so many frames.
   */
  patch(place: number, first: number, count: number, over: number, frame = this.clock): void {
    this.queue.add(frame, PATCH, place, first, count, over);
  }

  /** Releases a pad: what is held or looped is let go, one-shots continue. */
  release(pad: number, frame = this.clock): void {
    this.queue.add(frame, RELEASE, pad, 0);
  }

  /** Fades out every voice of a pad, or of all pads for -1, whatever its mode, and cancels later strikes of it. */
  stop(pad = -1, frame = this.clock): void {
    this.queue.cancel(pad, frame);
    this.queue.add(frame, STOP_ALL, pad, 0);
  }

  /** Moves a controller, 0 to 1, by its MIDI number. */
  control(number: number, value: number, frame = this.clock): void {
    this.queue.add(frame, CONTROLLER, number, value);
  }

  /** Presses a pad that is held, or all pads for -1, 0 to 1. */
  press(pad: number, value: number, frame = this.clock): void {
    this.queue.add(frame, PRESSURE, pad, value);
  }

  /** Renders the next `frames` frames into `left` and `right` from index `at`, overwriting what was there. */
  process(left: Float32Array, right: Float32Array, frames: number, at = 0): void {
    const { queue } = this;
    let done = 0;
    while (done < frames) {
      while (queue.next <= this.clock) this.runFirst();
      const count = Math.min(frames - done, Math.ceil(queue.next - this.clock));
      this.mixer.mix(this.voices, left, right, at + done, count, this.clock);
      done += count;
      this.clock += count;
    }
  }

  private runFirst(): void {
    const { due } = this.queue;
    this.queue.take();
    const kind = due[EVENT.kind] as number;
    const pad = due[EVENT.pad] as number;
    const value = due[EVENT.value] as number;
    switch (kind) {
      case STRIKE:
        this.startPad(pad, value, due[EVENT.from] as number, due[EVENT.to] as number);
        break;
      case SLICE:
        if (this.loops.isLatest(pad, due[EVENT.from] as number)) this.playSlice(pad, value);
        break;
      case PATCH:
        this.takePatch(pad, value, due[EVENT.from] as number, due[EVENT.to] as number);
        break;
      case CONTROLLER:
        this.desk.hands.controllers[pad & 127] = value;
        break;
      case PRESSURE:
        if (pad < 0) this.desk.hands.pressure.fill(value);
        else if (pad < MAX_PADS) this.desk.hands.pressure[pad] = value;
        break;
      default:
        this.endLoops(pad, kind === STOP_ALL);
        for (const voice of this.voices) {
          if (!voice.active || (pad >= 0 && voice.pad !== pad)) continue;
          if (kind === STOP_ALL) fade(voice, this.stopFrames);
          // What is switched on goes on until its pad is struck again.
          else if (voice.mode !== SWITCHED) releaseVoice(voice);
        }
        if (kind === STOP_ALL) this.mixer.empty(pad, this.stopFrames);
    }
  }

  private startPad(pad: number, wanted: number, from: number, to: number): void {
    const { programs } = this.desk;
    const program = pad * PROGRAM_FLOATS;
    const { stroke } = this;
    const ordinal = this.ordinals[pad] as number;
    this.ordinals[pad] = ordinal + 1;
    this.struck++;
    if (programs[program + PAD.mode] === SWITCHED) {
      const wasOn = this.loops.isOn(pad);
      this.loops.end(pad);
      if (this.pool.release(pad) || wasOn) return;
    }
    const velocity = pad < KIT_PADS ? velocityIn(this.kit, wanted) : wanted;
    stroke.pad = pad;
    stroke.velocity = velocity;
    stroke.stroke = this.struck;
    stroke.seed = seedOf(this.kit.seed + 131 * pad, ordinal);
    stroke.clock = this.clock;
    stroke.from = from;
    stroke.to = to;
    for (let i = 0; i < OFFSET_NAMES.length; i++) stroke.offsets[i] = this.queue.due[EVENT.offsets + i] as number;
    this.choke(pad, program);
    const take = takeFor(this.takes, programs, program, pad, velocity, stroke.seed);
    if (this.loops.isOn(pad)) {
      this.loops.end(pad);
      this.pool.fadeStroke(pad, this.loops.strokes[pad] as number, this.sliceFade);
    }
    if (programs[program + PAD.bySlices] === 1 && from < 0) this.beginLoop(pad, take);
    else this.beginLayers(pad, take, -1);
  }

  /** Begins a loop that is played by its slices, with the stroke at hand. */
  private beginLoop(pad: number, take: number): void {
    const { loops, stroke } = this;
    loops.begin(pad, this.clock);
    loops.velocities[pad] = stroke.velocity;
    loops.seeds[pad] = stroke.seed;
    loops.strokes[pad] = stroke.stroke;
    loops.takes[pad] = take;
    loops.offsets.set(stroke.offsets, pad * OFFSET_NAMES.length);
    this.playSlice(pad, 0);
  }

  /** Plays a slice of a pad's loop, and has the next one wait. */
  private playSlice(pad: number, slice: number): void {
    const { loops, stroke } = this;
    const { programs } = this.desk;
    const program = pad * PROGRAM_FLOATS;
    const count = programs[program + PAD.cutCount] as number;
    if (programs[program + PAD.bySlices] !== 1 || slice >= count) {
      loops.end(pad);
      return;
    }
    this.pool.fadeStroke(pad, this.loops.strokes[pad] as number, this.sliceFade);
    stroke.pad = pad;
    stroke.velocity = loops.velocities[pad] as number;
    stroke.seed = loops.seeds[pad] as number;
    stroke.stroke = loops.strokes[pad] as number;
    stroke.clock = this.clock;
    for (let i = 0; i < OFFSET_NAMES.length; i++)
      stroke.offsets[i] = loops.offsets[pad * OFFSET_NAMES.length + i] as number;
    this.beginLayers(pad, loops.takes[pad] as number, slice);
    const cuts = program + CUTS_AT;
    const here = programs[cuts + slice] as number;
    const stretch = programs[program + PAD.stretch] as number;
    const isLast = slice + 1 >= count;
    const mode = programs[program + PAD.mode] as number;
    const apart = isLast
      ? (programs[program + PAD.loopFrames] as number) - here * stretch
      : ((programs[cuts + slice + 1] as number) - here) * stretch;
    const frame = loops.advance(pad, apart);
    // After the last of a loop that does not repeat, there is none to play.
    const next = !isLast ? slice + 1 : mode === LOOPED || mode === SWITCHED ? 0 : count;
    this.queue.add(frame, SLICE, pad, next, loops.serialOf(pad));
  }

  /** Ends the loops of a pad, or all for -1, that are stopped, or only let go. */
  private endLoops(pad: number, isStopped: boolean): void {
    const { loops } = this;
    if (!loops.any) return;
    const { programs } = this.desk;
    for (let p = 0; p < MAX_PADS; p++) {
      if (!loops.isOn(p) || (pad >= 0 && p !== pad)) continue;
      const mode = programs[p * PROGRAM_FLOATS + PAD.mode];
      if (isStopped || (mode !== ONE_SHOT && mode !== SWITCHED)) loops.end(p);
    }
  }

  /** Begins the layers that a stroke plays with a take: all of them, or one of a pad's slices unless that is -1. */
  private beginLayers(pad: number, take: number, slice: number): void {
    const { stroke } = this;
    const { programs } = this.desk;
    const program = pad * PROGRAM_FLOATS;
    const { velocity } = stroke;
    const layers = programs[program + PAD.layerCount] as number;
    for (let l = 0; l < layers; l++) {
      const at = program + layerAt(l);
      if (velocity < (programs[at + LAYER.lowVelocity] as number)) continue;
      if (velocity > (programs[at + LAYER.highVelocity] as number)) continue;
      if (programs[at + LAYER.take] === 1 && l !== take) continue;
      const under = programs[at + LAYER.underTake] as number;
      if (under >= 0 && under !== take) continue;
      if (slice >= 0) {
        const cut = program + CUTS_AT + slice;
        const rate = programs[at + LAYER.rate] as number;
        const start = programs[at + LAYER.start] as number;
        const end = programs[at + LAYER.end] as number;
        const isLast = slice + 1 >= (programs[program + PAD.cutCount] as number);
        stroke.from = Math.min(end, start + Math.round((programs[cut] as number) * rate));
        stroke.to = isLast ? end : Math.min(end, start + Math.round((programs[cut + 1] as number) * rate));
        if (stroke.to <= stroke.from) continue;
      }
      beginVoice(this.pool.free(), this.desk, stroke as Struck, l, program);
    }
  }

  /** Cuts what a stroke silences: the voices of its group, and of its own pad's strokes the oldest beyond their number. */
  private choke(pad: number, program: number): void {
    const { programs } = this.desk;
    const group = programs[program + PAD.chokeGroup] as number;
    const most = programs[program + PAD.voices] as number;
    if (group === 0 && most === 0) return;
    if (group > 0 && this.loops.any)
      for (let p = 0; p < MAX_PADS; p++)
        if (this.loops.isOn(p) && programs[p * PROGRAM_FLOATS + PAD.chokeGroup] === group) this.loops.end(p);
    for (const voice of this.voices) {
      if (!voice.active) continue;
      const isCut =
        (group > 0 && voice.group === group) || (most > 0 && voice.pad === pad && this.pool.later(voice) >= most);
      if (isCut) fade(voice, Math.max(1, programs[voice.pad * PROGRAM_FLOATS + PAD.chokeFrames] as number));
    }
  }

  private takePatch(place: number, first: number, count: number, over: number): void {
    const { patches } = this;
    const { programs } = this.desk;
    const program = place * PROGRAM_FLOATS;
    for (let i = first; i < first + 2 * count; i += 2)
      programs[program + (patches[i] as number)] = patches[i + 1] as number;
    this.follow(place, over);
  }

  /**
   * Applies a pad's program to its steps, and to its sounding voices where they play the same sound: in a line over so many
   * frames, unless that is 0.
   */
  private follow(pad: number, lineOver = 0): void {
    const { programs } = this.desk;
    const program = pad * PROGRAM_FLOATS;
    this.mixer.follow(pad, program);
    if (pad >= MAX_PADS) return;
    const layers = programs[program + PAD.layerCount] as number;
    for (const v of this.voices) {
      if (!v.active || v.pad !== pad || v.layer >= layers) continue;
      const at = program + layerAt(v.layer);
      if (programs[at + LAYER.left] !== v.left || programs[at + LAYER.right] !== v.right) continue;
      followProgram(v, this.desk, program, lineOver);
    }
  }
}
