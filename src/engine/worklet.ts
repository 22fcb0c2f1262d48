import { LoudnessMeter } from '../core/loudness/meter';
import { VoiceEngine } from '../core/play/engine';
import { PROGRAMS } from '../core/play/limits';
import { Master } from '../core/play/master';
import { Transport } from '../core/play/transport';
import { FALLS, Kind, Playing, PROCESSOR, programAt, RECORD_FLOATS, type Shared, State, scoreAt } from './protocol';
import { RingReader } from './ring';

declare const sampleRate: number;
declare class AudioWorkletProcessor {
  constructor(options?: unknown);
}
declare function registerProcessor(name: string, processor: unknown): void;

/** Attempts at reading a bank that the page changes meanwhile. */
const TRIES = 4;

/** The audio thread: handles the ring's records, renders by the core's engine, and reports its state. */
class Voices extends AudioWorkletProcessor {
  private readonly engine: VoiceEngine;
  private readonly master = new Master(sampleRate, true);
  private readonly loudness = new LoudnessMeter(sampleRate);
  private readonly peaks: Float64Array;
  private readonly transport = new Transport();
  private readonly ring: RingReader;
  private readonly state: Float64Array;
  private readonly programs: Float64Array;
  private readonly programVersions: Int32Array;
  private readonly score: Float64Array;
  private readonly scoreVersion: Int32Array;
  private readonly falls: Float64Array;
  private readonly record = new Float64Array(RECORD_FLOATS);
  /** Places whose programs were changed by a score. */
  private readonly before = new Uint8Array(PROGRAMS);
  private received = 0;

  constructor(options: { processorOptions: Shared }) {
    super();
    const { memory, ring, cursor, state, programs, programVersions, score, scoreVersion, falls, peaks } =
      options.processorOptions;
    this.engine = new VoiceEngine(sampleRate, new Float32Array(memory));
    this.engine.readyStrips();
    this.ring = new RingReader(ring, cursor);
    this.state = new Float64Array(state);
    this.programs = new Float64Array(programs);
    this.programVersions = new Int32Array(programVersions);
    this.score = new Float64Array(score);
    this.scoreVersion = new Int32Array(scoreVersion);
    this.falls = new Float64Array(falls);
    this.peaks = new Float64Array(peaks);
  }

  process(_inputs: unknown, outputs: Float32Array[][]): boolean {
    // What the engine has no room for waits in the ring: nothing that was played may be lost.
    while (this.engine.hasRoom && this.ring.next(this.record)) this.obey(this.record);
    const out = outputs[0] as Float32Array[];
    const left = out[0] as Float32Array;
    const right = out[1] as Float32Array;
    this.transport.schedule(this.engine, left.length);
    this.engine.process(left, right, left.length);
    this.finish(left, right);
    this.state[State.frame] = this.engine.frame;
    this.state[State.mostVoices] = Math.max(this.state[State.mostVoices] as number, this.engine.activeVoices);
    this.state[State.received] = this.received;
    this.state[State.struck] = this.engine.struck;
    this.transport.report(this.state, State.lapBegan);
    return true;
  }

  /** Master and meters. */
  private finish(left: Float32Array, right: Float32Array): void {
    const { state, master, engine } = this;
    master.highest = 0;
    master.reduced = 1;
    master.process(left, right, left.length);
    this.loudness.add(left, right, left.length);
    let highest = 0;
    for (let i = 0; i < left.length; i++) {
      highest = Math.max(highest, Math.abs(left[i] as number), Math.abs(right[i] as number));
    }
    state[State.peak] = Math.max((state[State.peak] as number) * 0.97, highest);
    state[State.highest] = Math.max(state[State.highest] as number, master.highest);
    state[State.reduced] = Math.min((state[State.reduced] as number) || 1, master.reduced);
    state[State.lufs] = this.loudness.lufs;
    for (let pad = 0; pad < PROGRAMS; pad++) {
      this.peaks[pad] = Math.max((this.peaks[pad] as number) * 0.97, engine.peaks[pad] as number);
      engine.peaks[pad] = 0;
    }
  }

  private obey(r: Float64Array): void {
    const { engine } = this;
    const pad = r[1] as number;
    switch (r[0]) {
      case Kind.strike:
        this.received++;
        this.strike(pad, r[2] as number, this.frameOf(r[3] as number), r);
        break;
      case Kind.release:
        engine.release(pad, this.frameOf(r[2] as number));
        break;
      case Kind.stop:
        engine.stop(pad, this.frameOf(r[2] as number));
        break;
      case Kind.program:
        this.loadProgram(pad);
        this.transport.renew(pad);
        break;
      case Kind.score:
        this.takeScore();
        break;
      case Kind.play:
        if (r[2] === Playing.stop) this.stopScore();
        else {
          if (r[2] === Playing.anew) engine.rewind();
          this.transport.start(pad, engine.frame);
        }
        break;
      case Kind.kit:
        engine.setKit({ seed: pad, evenVelocity: r[2] as number, velocityExponent: r[3] as number });
        this.master.turn(r[4] === 1);
        break;
      case Kind.control:
        engine.control(pad, r[2] as number, this.frameOf(r[3] as number));
        break;
      case Kind.press:
        engine.press(pad, r[2] as number, this.frameOf(r[3] as number));
        break;
    }
  }

  private frameOf(frame: number): number {
    return frame < 0 ? this.engine.frame : frame;
  }

  private strike(pad: number, velocity: number, frame: number, r: Float64Array): void {
    this.engine.strike(pad, velocity, frame, r[5] as number, r[6] as number);
    const serial = r[4] as number;
    const at = 2 * (serial % FALLS);
    this.falls[at + 1] = Math.max(frame, this.engine.frame);
    this.falls[at] = serial;
  }

  /** If the page has written to the bank meanwhile, the other one is newer. */
  private loadProgram(pad: number): void {
    for (let n = 0; n < TRIES; n++) {
      const version = Atomics.load(this.programVersions, pad);
      this.engine.loadProgram(pad, this.programs, programAt(pad, version));
      if (Atomics.load(this.programVersions, pad) === version) return;
    }
  }

  private stopScore(): void {
    this.transport.stop();
    this.before.set(this.transport.touched);
    for (let place = 0; place < PROGRAMS; place++) if (this.before[place] === 1) this.loadProgram(place);
  }

  /** What the score before changed of programs and this one does not is as it was. */
  private takeScore(): void {
    const { before, transport } = this;
    before.set(transport.touched);
    this.loadScore();
    for (let place = 0; place < PROGRAMS; place++)
      if (before[place] === 1 && transport.touched[place] === 0) this.loadProgram(place);
  }

  private loadScore(): void {
    for (let n = 0; n < TRIES; n++) {
      const version = Atomics.load(this.scoreVersion, 0);
      this.transport.load(this.score, scoreAt(version), this.engine.frame);
      if (Atomics.load(this.scoreVersion, 0) === version) return;
    }
  }
}

registerProcessor(PROCESSOR, Voices);
