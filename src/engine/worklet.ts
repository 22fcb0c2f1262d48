import { VoiceEngine } from '../core/play/engine';
import { Kind, PROCESSOR, RECORD_FLOATS, type Shared, State } from './protocol';
import { RingReader } from './ring';

declare const sampleRate: number;
declare class AudioWorkletProcessor {
  constructor(options?: unknown);
}
declare function registerProcessor(name: string, processor: unknown): void;

/** The audio thread: takes what the ring brings, lets the core's engine render, and tells how it is. */
class Voices extends AudioWorkletProcessor {
  private readonly engine: VoiceEngine;
  private readonly ring: RingReader;
  private readonly state: Float64Array;
  private readonly record = new Float64Array(RECORD_FLOATS);
  private received = 0;

  constructor(options: { processorOptions: Shared }) {
    super();
    const { memory, ring, cursor, state } = options.processorOptions;
    this.engine = new VoiceEngine(sampleRate, new Float32Array(memory));
    this.ring = new RingReader(ring, cursor);
    this.state = new Float64Array(state);
  }

  process(_inputs: unknown, outputs: Float32Array[][]): boolean {
    while (this.ring.next(this.record)) this.obey(this.record);
    const out = outputs[0] as Float32Array[];
    const left = out[0] as Float32Array;
    const right = out[1] as Float32Array;
    this.engine.process(left, right, left.length);
    let highest = 0;
    for (let i = 0; i < left.length; i++) {
      highest = Math.max(highest, Math.abs(left[i] as number), Math.abs(right[i] as number));
    }
    this.state[State.peak] = Math.max((this.state[State.peak] as number) * 0.97, highest);
    this.state[State.highest] = Math.max(this.state[State.highest] as number, highest);
    this.state[State.frame] = this.engine.frame;
    this.state[State.mostVoices] = Math.max(this.state[State.mostVoices] as number, this.engine.activeVoices);
    this.state[State.received] = this.received;
    return true;
  }

  private obey(r: Float64Array): void {
    const { engine } = this;
    const pad = r[1] as number;
    const frame = (value: number) => (value < 0 ? engine.frame : value);
    switch (r[0]) {
      case Kind.strike:
        this.received++;
        engine.strike(pad, r[2] as number, frame(r[3] as number));
        break;
      case Kind.release:
        engine.release(pad, frame(r[2] as number));
        break;
      case Kind.stop:
        engine.stop(pad, frame(r[2] as number));
        break;
      case Kind.beginPad:
        engine.beginPad(pad, r[2] as number, r[3] as number, r[4] === 1, r[5] as number, r[6] as number);
        break;
      case Kind.addLayer:
        engine.addLayer(
          pad,
          r[2] as number,
          r[3] as number,
          r[4] as number,
          r[5] as number,
          r[6] as number,
          r[7] as number,
          r[8] as number,
        );
        break;
    }
  }
}

registerProcessor(PROCESSOR, Voices);
