import type { StepSound } from '../core/live/figures';
import type { KitSound } from '../core/play/kit-sound';
import { programOfBus } from '../core/play/limits';
import { LOOK_AHEAD_S } from '../core/play/master';
import { type PadSound, PROGRAM_FLOATS, SILENT, writeProgram } from '../core/play/program';
import { type Change, type Stroke, writeScore } from '../core/play/score';
import { FALLS, Kind, newShared, Playing, PROCESSOR, programAt, type Shared, State, scoreAt } from './protocol';
import { RingWriter } from './ring';

/** Sample memory in floats: 96 MB, over four minutes of stereo at 44.1 kHz. Idle sounds are evicted. */
export const MEMORY_FLOATS = 24 * 1024 * 1024;

/**
 * The page's handle on the audio thread. A strike writes one record to shared memory, in the same task, without
 * awaiting. Records wait in the ring until the thread has started.
 */
export class EngineClient {
  readonly shared: Shared;
  private readonly ring: RingWriter;
  private readonly state: Float64Array;
  private readonly programs: Float64Array;
  private readonly programVersions: Int32Array;
  private readonly score: Float64Array;
  private readonly scoreVersion: Int32Array;
  private readonly falls: Float64Array;
  private readonly peaks: Float64Array;
  private sent = 0;
  private limits = true;
  /** Who set the score last. */
  scoreOwner: object | null = null;

  private constructor(
    readonly context: AudioContext,
    private readonly node: AudioWorkletNode,
    shared: Shared,
  ) {
    this.shared = shared;
    this.ring = new RingWriter(shared.ring, shared.cursor);
    this.state = new Float64Array(shared.state);
    this.programs = new Float64Array(shared.programs);
    this.programVersions = new Int32Array(shared.programVersions);
    this.score = new Float64Array(shared.score);
    this.scoreVersion = new Int32Array(shared.scoreVersion);
    this.falls = new Float64Array(shared.falls);
    this.peaks = new Float64Array(shared.peaks);
    this.state[State.lapBegan] = Number.NEGATIVE_INFINITY;
  }

  /**
   * Loads the worklet; the context stays suspended until `resume` is called in answer to a gesture. `isShort` asks for the
   * shortest buffer the browser has, instead of one that withstands a busy page.
   */
  static async open(isShort: boolean): Promise<EngineClient> {
    if (!globalThis.crossOriginIsolated) {
      throw new Error(
        'The page is not isolated, so the browser withholds shared memory. Open it at the address that was printed at the start.',
      );
    }
    const context = new AudioContext({ latencyHint: isShort ? 0 : 'interactive' });
    await context.audioWorklet.addModule('/engine/worklet.js');
    const shared = newShared(MEMORY_FLOATS);
    const node = new AudioWorkletNode(context, PROCESSOR, {
      numberOfInputs: 0,
      outputChannelCount: [2],
      processorOptions: shared,
    });
    node.connect(context.destination);
    return new EngineClient(context, node, shared);
  }

  get sampleRate(): number {
    return this.context.sampleRate;
  }

  /** The audio thread's frame, a block or two behind what is being rendered. */
  get frame(): number {
    return this.state[State.frame] as number;
  }

  /** The most voices that sounded at once since the last call: includes short hits between two calls. */
  takeMostVoices(): number {
    const most = this.state[State.mostVoices] as number;
    this.state[State.mostVoices] = 0;
    return most;
  }

  /** The highest sample of the output since the last call, linear: over 1 it exceeds full scale. */
  takeHighest(): number {
    const highest = this.state[State.highest] as number;
    this.state[State.highest] = 0;
    return highest;
  }

  /** Decaying peak of the output, linear. */
  get peak(): number {
    return this.state[State.peak] as number;
  }

  /** Decaying peak of a bus, linear. */
  peakOfBus(bus: number): number {
    return this.peakOf(programOfBus(bus));
  }

  /** Decaying peak of a pad, linear. */
  peakOf(pad: number): number {
    return this.peaks[pad] as number;
  }

  /** The lowest gain of the limiter since the last call, linear; 1 where it did nothing. */
  takeReduced(): number {
    const reduced = this.state[State.reduced] as number;
    this.state[State.reduced] = 1;
    return reduced || 1;
  }

  /** Loudness of the last 400 ms of the output in LUFS. */
  get lufs(): number {
    return this.state[State.lufs] as number;
  }

  /** Strikes that the audio thread has received. */
  get strikes(): { sent: number; received: number } {
    return { sent: this.sent, received: this.state[State.received] as number };
  }

  /** Strikes that have been played, those of a score included. */
  get struck(): number {
    return this.state[State.struck] as number;
  }

  /** Output latency in seconds, as far as the browser knows. */
  get latency(): number {
    const { base, output } = this.latencies;
    return base + output;
  }

  /** Parts of the output latency in seconds: the browser's, as far as it tells, and the limiter's where it is on. */
  get latencies(): { readonly base: number; readonly output: number; readonly limiter: number } {
    const { baseLatency, outputLatency } = this.context;
    return { base: baseLatency || 0, output: outputLatency || 0, limiter: this.limits ? LOOK_AHEAD_S : 0 };
  }

  /** How often the output ran dry, where the browser tells (Web Audio API, AudioContext.playbackStats). */
  get ranDry(): number {
    const { playbackStats } = this.context as AudioContext & { readonly playbackStats?: { underrunEvents: number } };
    return playbackStats?.underrunEvents ?? 0;
  }

  /** Sets what applies to all pads. */
  setKit({ seed, evenVelocity, velocityExponent }: KitSound, limits: boolean): void {
    this.limits = limits;
    this.ring.write(Kind.kit, seed, evenVelocity, velocityExponent, limits ? 1 : 0);
  }

  /** Moves a controller, 0 to 1, by its MIDI number. */
  control(number: number, value: number): void {
    this.ring.write(Kind.control, number, value, -1);
  }

  /** Presses a pad, or all for -1, 0 to 1. */
  press(pad: number, value: number): void {
    this.ring.write(Kind.press, pad, value, -1);
  }

  resume(): void {
    if (this.context.state === 'suspended') void this.context.resume();
  }

  /** Sets a pad's program; its sounding voices follow. */
  setPad(pad: number, sound: PadSound): void {
    const version = Atomics.load(this.programVersions, pad) + 1;
    writeProgram(sound, this.programs, programAt(pad, version));
    Atomics.store(this.programVersions, pad, version);
    this.ring.write(Kind.program, pad);
  }

  /** A copy of a pad's program as it is now. */
  programOf(pad: number): Float64Array {
    const at = programAt(pad, Atomics.load(this.programVersions, pad));
    return this.programs.slice(at, at + PROGRAM_FLOATS);
  }

  /** Sets what a bus does with what it gets, from 1 on. */
  setBus(bus: number, steps: readonly StepSound[]): void {
    this.setPad(programOfBus(bus), { ...SILENT, steps });
  }

  /** Strikes a pad, at once or at an engine frame; returns the strike's serial number, see `fellAt`. */
  strike(pad: number, velocity: number, frame = -1): number {
    this.resume();
    this.sent++;
    this.ring.write(Kind.strike, pad, velocity, frame, this.sent, -1, -1);
    return this.sent;
  }

  /** The engine frame at which a strike was played; null before that, and after many later ones. */
  fellAt(serial: number): number | null {
    const at = 2 * (serial % FALLS);
    return this.falls[at] === serial ? (this.falls[at + 1] as number) : null;
  }

  /**
   * Sets the score that repeats from `play` on; a running one changes from its next stroke on. Times in engine frames. There
   * is one score: its last owner can tell by `scoreOwner` whether it is still its own.
   */
  setScore(
    strokes: readonly Stroke[],
    length: number,
    owner: object | null = null,
    changes: readonly Change[] = [],
  ): void {
    this.scoreOwner = owner;
    const version = Atomics.load(this.scoreVersion, 0) + 1;
    writeScore(strokes, length, this.score, scoreAt(version), changes);
    Atomics.store(this.scoreVersion, 0, version);
    this.ring.write(Kind.score);
  }

  /**
   * Plays the score from an engine frame on, which may lie in the past: then from where it would be by now. Unless `anew`,
   * takes and chances go on as they are.
   */
  play(frame: number, anew = true): void {
    this.resume();
    this.ring.write(Kind.play, frame, anew ? Playing.anew : Playing.goOn);
  }

  /** Engine frame at which the lap of the score that is heard began; null while none runs. */
  get lapBegan(): number | null {
    const began = this.state[State.lapBegan] as number;
    return Number.isFinite(began) ? began : null;
  }

  /** Stops the score; sounding voices ring out. */
  stopScore(): void {
    this.ring.write(Kind.play, 0, Playing.stop);
  }

  release(pad: number): void {
    this.ring.write(Kind.release, pad, -1);
  }

  stop(pad = -1): void {
    this.ring.write(Kind.stop, pad, -1);
  }

  /** Sends the output to another node as well, as it goes to the loudspeakers. */
  tap(node: AudioNode): void {
    this.node.connect(node);
  }

  untap(node: AudioNode): void {
    this.node.disconnect(node);
  }

  close(): void {
    this.node.disconnect();
    void this.context.close();
  }
}
