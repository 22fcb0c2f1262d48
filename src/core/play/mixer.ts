import { readyRooms } from '../live/resounding';
import { readySaturations } from '../live/saturating';
import { Strip } from '../live/strip';
import { BUS_FLOATS, CHUNK, MAX_BUSES } from './interpolation';
import { KIT_PADS, MAX_PADS } from './limits';
import { mixVoice } from './mixing';
import { STEPS_AT } from './program';
import type { Desk, Voice } from './voice';

/** The bus that is heard, the first of those of the pads' strips, and one that is not summed. */
const [HEARD_BUS, FIRST_STRIP, UNHEARD] = [0, MAX_BUSES - 1 - KIT_PADS, MAX_BUSES - 1] as const;

/** Sums voices: those of a pad that has steps go through these together. Allocates nothing while it plays. */
export class Mixer {
  /** What the strokes of each pad go through together; null for pads that never had steps. */
  private readonly strips: (Strip | null)[] = new Array(KIT_PADS).fill(null);
  /** Whether something was mixed to each bus in the chunk under way. */
  private readonly fed = new Uint8Array(MAX_BUSES);
  /** Highest sample that each pad gave since this was last set to 0, linear. */
  readonly peaks = new Float64Array(MAX_PADS);
  /** The only pad that is heard; -1 for all. */
  only = -1;

  constructor(private readonly desk: Desk) {}

  /** Makes the strips of all pads. */
  readyStrips(): void {
    for (let pad = 0; pad < KIT_PADS; pad++) this.strips[pad] ??= new Strip(this.desk.memory.floats);
    readyRooms();
    readySaturations();
  }

  /** Whether anything rings on in a pad's steps. */
  get ringsOn(): boolean {
    for (let pad = 0; pad < KIT_PADS; pad++) if (this.strips[pad]?.isQuiet === false) return true;
    return false;
  }

  /** Fades out what rings in the steps of a pad, or of all for -1. */
  empty(pad: number, frames: number): void {
    for (let p = 0; p < KIT_PADS; p++) if (pad < 0 || p === pad) this.strips[p]?.empty(frames);
  }

  /** Takes up the steps of a pad's program, which begins at float `program`. */
  follow(pad: number, program: number): void {
    if (pad >= KIT_PADS) return;
    const { programs, memory } = this.desk;
    if (programs[program + STEPS_AT] !== 0) this.strips[pad] ??= new Strip(memory.floats);
    this.strips[pad]?.follow(programs, program + STEPS_AT);
  }

  /** Mixes the next `count` frames into `left` and `right` from index `at` on; `clock` is the engine's at the first. */
  mix(
    voices: readonly Voice[],
    left: Float32Array,
    right: Float32Array,
    at: number,
    count: number,
    clock: number,
  ): void {
    const { buses } = this.desk.reader;
    for (let done = 0; done < count; done += CHUNK) {
      const some = Math.min(CHUNK, count - done);
      this.fed.fill(0);
      this.feed(HEARD_BUS);
      for (const voice of voices) {
        if (!voice.active) continue;
        const { pad } = voice;
        const hasSteps = pad < KIT_PADS && this.strips[pad]?.works === true;
        const isHeard = this.only < 0 || pad === this.only;
        const bus = !isHeard ? UNHEARD : hasSteps ? FIRST_STRIP + pad : voice.bus;
        this.feed(bus);
        mixVoice(voice, this.desk, bus, some);
        if (!hasSteps && voice.peak > (this.peaks[pad] as number)) this.peaks[pad] = voice.peak;
        voice.peak = 0;
      }
      this.runStrips(some, clock + done);
      for (let i = 0; i < some; i++) {
        left[at + done + i] = buses[2 * i] as number;
        right[at + done + i] = buses[2 * i + 1] as number;
      }
    }
  }

  /** Clears a bus before the first thing is mixed to it. */
  private feed(bus: number): void {
    if (this.fed[bus] === 1) return;
    this.fed[bus] = 1;
    this.desk.reader.buses.fill(0, bus * BUS_FLOATS, (bus + 1) * BUS_FLOATS);
  }

  /** Runs the pads' steps and adds what comes out of them to what is heard. */
  private runStrips(count: number, clock: number): void {
    const { buses } = this.desk.reader;
    for (let pad = 0; pad < KIT_PADS; pad++) {
      const strip = this.strips[pad] as Strip | null;
      const bus = FIRST_STRIP + pad;
      const isFed = this.fed[bus] === 1;
      if (!strip || (strip.isQuiet && !isFed)) continue;
      this.feed(bus);
      const from = bus * BUS_FLOATS;
      strip.process(buses, from, count, clock, isFed);
      for (let i = 0; i < 2 * count; i++) buses[i] = (buses[i] as number) + (buses[from + i] as number);
      if (strip.peak > (this.peaks[pad] as number)) this.peaks[pad] = strip.peak;
      strip.peak = 0;
    }
  }
}
