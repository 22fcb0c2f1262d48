import { readyRooms } from '../live/resounding';
import { readySaturations } from '../live/saturating';
import { Strip } from '../live/strip';
import { BUS_FLOATS, CHUNK, MAX_BUSES } from './interpolation';
import { ALL, ECHO_BUS, KIT_BUSES, KIT_PADS, MAX_PADS, PROGRAMS, programOfBus, ROOM_BUS, STRAIGHT_OUT } from './limits';
import { mixVoice } from './mixing';
import { PAD, PROGRAM_FLOATS, STEPS_AT } from './program';
import type { Desk, Voice } from './voice';

/** The bus that is heard, the first of those of the pads' strips, and one that is not summed. */
const [HEARD_BUS, FIRST_STRIP, UNHEARD] = [0, KIT_BUSES + 1, MAX_BUSES - 1] as const;

/** The buses that pads send to besides their own, and the slots of how much. */
const SEND_BUSES = [ROOM_BUS, ECHO_BUS] as const;
const SEND_SLOTS = [PAD.roomSend, PAD.echoSend] as const;
/** Share of the way that a send that is turned goes in a frame: most of it in 5 ms. */
const SEND_PACE = 1 / 240;
const SEND_DONE = 1e-6;

/**
 * Sums voices: those of a pad that has steps or sends go through its strip together, then all that plays on a bus through that
 * of the bus. A strip knows nothing of pads. Allocates nothing while it plays.
 */
export class Mixer {
  /** What each pad's strokes go through together, then what each bus does; null for those that never had steps or sends. */
  private readonly strips: (Strip | null)[] = new Array(KIT_PADS + KIT_BUSES).fill(null);
  /** How much each pad sends, by turns to the room and to the echo. */
  private readonly sends = new Float64Array(2 * KIT_PADS);
  /** Whether something was mixed to each bus in the chunk under way. */
  private readonly fed = new Uint8Array(MAX_BUSES);
  /** Highest sample that each pad and bus gave since this was last set to 0, linear; in the order of the programs. */
  readonly peaks = new Float64Array(PROGRAMS);
  /** The only pad or bus that is heard, by its place among the programs, or `ALL`, or `STRAIGHT_OUT`. */
  only: number = ALL;

  constructor(private readonly desk: Desk) {}

  /** Makes the strips of all pads and buses. */
  readyStrips(): void {
    for (let s = 0; s < this.strips.length; s++) this.strips[s] ??= new Strip(this.desk.memory.floats);
    readyRooms();
    readySaturations();
  }

  /** Whether anything rings on in the steps of a pad or a bus. */
  get ringsOn(): boolean {
    for (let s = 0; s < this.strips.length; s++) if (this.strips[s]?.isQuiet === false) return true;
    return false;
  }

  /** Fades out what rings in the steps of a pad, or everywhere for -1. */
  empty(pad: number, frames: number): void {
    for (let s = 0; s < this.strips.length; s++) if (pad < 0 || s === pad) this.strips[s]?.empty(frames);
  }

  /** Takes up the steps and sends of a program, a pad's or a bus's, which begins at float `program`. */
  follow(place: number, program: number): void {
    const isBus = place >= MAX_PADS;
    if (place >= KIT_PADS && !isBus) return;
    const { programs, memory } = this.desk;
    const s = isBus ? place - MAX_PADS + KIT_PADS : place;
    const sends = (programs[program + PAD.roomSend] as number) + (programs[program + PAD.echoSend] as number);
    if (programs[program + STEPS_AT] !== 0 || sends > 0) this.strips[s] ??= new Strip(memory.floats);
    this.strips[s]?.follow(programs, program + STEPS_AT);
    if (!isBus && this.strips[s]?.isQuiet !== false) this.takeSends(s);
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
        const goesApart = pad < KIT_PADS && this.goesApart(pad);
        const isHeard = this.only < 0 || pad === this.only || (this.isOfBus && (goesApart || voice.bus !== HEARD_BUS));
        const bus = !isHeard ? UNHEARD : goesApart ? FIRST_STRIP + pad : voice.bus;
        this.feed(bus);
        mixVoice(voice, this.desk, bus, some);
        if (!goesApart && voice.peak > (this.peaks[pad] as number)) this.peaks[pad] = voice.peak;
        voice.peak = 0;
      }
      this.runPads(some, clock + done);
      this.runBuses(some, clock + done);
      for (let i = 0; i < some; i++) {
        left[at + done + i] = buses[2 * i] as number;
        right[at + done + i] = buses[2 * i + 1] as number;
      }
    }
  }

  /** Sets a pad's sends to their new levels without a glide, while the pad is silent. */
  private takeSends(pad: number): void {
    const { programs } = this.desk;
    for (let which = 0; which < 2; which++)
      this.sends[2 * pad + which] = programs[pad * PROGRAM_FLOATS + (SEND_SLOTS[which] as number)] as number;
  }

  /** Whether only what comes of one bus is heard. */
  private get isOfBus(): boolean {
    return this.only >= MAX_PADS;
  }

  /** Whether a pad has steps or sends, so that its voices must be summed apart from those of other pads. */
  private goesApart(pad: number): boolean {
    const strip = this.strips[pad] as Strip | null;
    if (!strip) return false;
    if (strip.works || (this.sends[2 * pad] as number) > 0 || (this.sends[2 * pad + 1] as number) > 0) return true;
    const { programs } = this.desk;
    const program = pad * PROGRAM_FLOATS;
    return (programs[program + PAD.roomSend] as number) > 0 || (programs[program + PAD.echoSend] as number) > 0;
  }

  /** Clears a bus before the first thing is mixed to it. */
  private feed(bus: number): void {
    if (this.fed[bus] === 1) return;
    this.fed[bus] = 1;
    this.desk.reader.buses.fill(0, bus * BUS_FLOATS, (bus + 1) * BUS_FLOATS);
  }

  /** Adds a bus to another one. */
  private add(bus: number, to: number, count: number): void {
    const { buses } = this.desk.reader;
    this.feed(to);
    const from = bus * BUS_FLOATS;
    const into = to * BUS_FLOATS;
    for (let i = 0; i < 2 * count; i++) buses[into + i] = (buses[into + i] as number) + (buses[from + i] as number);
  }

  /** Processes each pad's steps and adds the result to the pad's bus and to its sends. */
  private runPads(count: number, clock: number): void {
    const { buses } = this.desk.reader;
    const { programs } = this.desk;
    for (let pad = 0; pad < KIT_PADS; pad++) {
      const strip = this.strips[pad] as Strip | null;
      if (!strip) continue;
      const bus = FIRST_STRIP + pad;
      const isFed = this.fed[bus] === 1;
      if (strip.isQuiet && !isFed) {
        this.takeSends(pad);
        continue;
      }
      this.feed(bus);
      strip.process(buses, bus * BUS_FLOATS, count, clock, isFed);
      const to = programs[pad * PROGRAM_FLOATS + PAD.bus] as number;
      if (to !== HEARD_BUS || !this.isOfBus) this.add(bus, to, count);
      this.send(pad, 0, count);
      this.send(pad, 1, count);
      if (strip.peak > (this.peaks[pad] as number)) this.peaks[pad] = strip.peak;
      strip.peak = 0;
    }
  }

  /** Adds what a pad sends to the room or the echo; frame by frame, so that turning it clicks nowhere. */
  private send(pad: number, which: 0 | 1, count: number): void {
    const wanted = this.desk.programs[pad * PROGRAM_FLOATS + SEND_SLOTS[which]] as number;
    let now = this.sends[2 * pad + which] as number;
    if (now === 0 && wanted === 0) return;
    const { buses } = this.desk.reader;
    const to = SEND_BUSES[which];
    this.feed(to);
    const from = (FIRST_STRIP + pad) * BUS_FLOATS;
    const into = to * BUS_FLOATS;
    for (let i = 0; i < 2 * count; i += 2) {
      now = Math.abs(wanted - now) < SEND_DONE ? wanted : now + SEND_PACE * (wanted - now);
      buses[into + i] = (buses[into + i] as number) + now * (buses[from + i] as number);
      buses[into + i + 1] = (buses[into + i + 1] as number) + now * (buses[from + i + 1] as number);
    }
    this.sends[2 * pad + which] = now;
  }

  /** Processes the buses' steps, room and echo last, and adds the results to the output. */
  private runBuses(count: number, clock: number): void {
    const { buses } = this.desk.reader;
    for (let bus = 1; bus <= KIT_BUSES; bus++) {
      const strip = this.strips[KIT_PADS + bus - 1] as Strip | null;
      const isFed = this.fed[bus] === 1;
      if (!isFed && strip?.isQuiet !== false) continue;
      this.feed(bus);
      if (strip) {
        strip.process(buses, bus * BUS_FLOATS, count, clock, isFed);
        const place = programOfBus(bus);
        if (strip.peak > (this.peaks[place] as number)) this.peaks[place] = strip.peak;
        strip.peak = 0;
      }
      const isHeard = this.isOfBus ? programOfBus(bus) === this.only : this.only !== STRAIGHT_OUT;
      if (isHeard) this.add(bus, HEARD_BUS, count);
    }
  }
}
