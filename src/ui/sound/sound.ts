import type * as Comlink from 'comlink';
import type { RecordingView } from '@/contract/views';
import { recordingsOf } from '@/core/hit/key';
import { busSound, type Route } from '@/core/kit/buses';
import { type Laid, liveSteps } from '@/core/kit/live-steps';
import type { Bus, Pad } from '@/core/kit/model';
import { type LayerWithHit, type PooledSound, padSound } from '@/core/kit/pad-sound';
import type { BusProgram, PadProgram, Programs } from '@/core/kit/programs';
import { KIT_PADS, programOfBus } from '@/core/play/limits';
import { PLAIN_LAYER, SILENT } from '@/core/play/program';
import type { BusStep, LiveStep, PadStep } from '@/core/treatment/live';
import { withStepOff } from '@/core/treatment/step-off';
import { EngineClient, MEMORY_FLOATS } from '@/engine/client';
import type { PoolWorker } from '@/worker/pool.worker';
import { createStore } from '../parts/store';
import { Audition } from './audition';
import { readOutputBuffer } from './output-buffer';
import { type Lease, release, Samples } from './samples';
import { startedWorker } from './started-worker';

/** The engine's pad of the metronome. */
export const METRONOME = KIT_PADS + 4;
/** A pad whose level is under this, linear, is not heard. */
const LEAST_HEARD = 1e-6;
/** Longer than the engine takes to go over from one program to the next. */
const GOING_OVER_MS = 250;

/** The page's sound: engine, sample memory and worker. One a page, created on first use. */
export class Sound {
  readonly audition: Audition;
  private readonly pinned = new Map<number, readonly Lease[]>();
  private readonly ofPads = new Map<number, PadProgram>();
  private readonly ofBuses = new Map<number, BusProgram>();
  /** The recordings of each pad's sounds. */
  private readonly sources = new Map<number, readonly string[]>();
  /** How often a pad or a bus has been set up. */
  readonly prepared = createStore(0);
  /** How the programs of the kit that is set up come of its values. */
  readonly programs: Programs = {
    pad: (position) => this.ofPads.get(position) ?? null,
    bus: (place) => this.ofBuses.get(place) ?? null,
  };

  private constructor(
    readonly engine: EngineClient,
    readonly samples: Samples,
    private readonly worker: Comlink.Remote<PoolWorker>,
  ) {
    this.audition = new Audition(engine, samples);
  }

  static async open(): Promise<Sound> {
    const engine = await EngineClient.open(readOutputBuffer() === 'quick');
    const worker = await startedWorker<PoolWorker>(
      () => new Worker(new URL('../../worker/pool.worker.ts', import.meta.url)),
      (started) => started.open(engine.shared.memory),
    );
    return new Sound(engine, new Samples(MEMORY_FLOATS, worker), worker);
  }

  /** Sets up a kit's pad in the engine. Settles when it can be struck; rejects when its sound cannot be loaded. */
  async preparePad(
    pad: Pad,
    layers: readonly LayerWithHit[],
    steps: readonly PadStep[],
    recordings: ReadonlyMap<string, RecordingView>,
    tempoBpm: number,
    route: Route,
    current: () => boolean,
  ): Promise<void> {
    const leases: Lease[] = [];
    try {
      const sounds = new Map<string, PooledSound>();
      for (const { hit } of layers) {
        const recording = recordings.get(hit.recordingId);
        if (!recording) throw new Error('The recording of this sound is not there.');
        const { lease, sound } = await this.samples.hit(hit, recording);
        leases.push(lease);
        sounds.set(hit.id, sound);
      }
      const first = layers[0];
      const rate = (first && sounds.get(first.hit.id)?.sampleRate) ?? this.engine.sampleRate;
      const gain = pad.normaliseDbfs === null ? 1 : await this.worker.normalise(pad, layers, [...sounds], rate);
      const laidOf = await this.laid(steps, tempoBpm, leases);
      if (!current()) return;
      const { sampleRate } = this.engine;
      const soundOf = ({ id }: { readonly id: string }) => sounds.get(id) ?? null;
      const program: PadProgram = (own, ownSteps) =>
        padSound(own, layers, sampleRate, soundOf, gain, tempoBpm, liveSteps(ownSteps, sampleRate, laidOf), route);
      this.ofPads.set(pad.position, program);
      this.sources.set(pad.position, [...new Set(layers.flatMap(({ hit }) => recordingsOf(hit)))]);
      this.engine.setPad(pad.position, program(pad, steps));
      this.repin(pad.position, leases.splice(0));
      this.prepared.set(this.prepared.get() + 1);
    } finally {
      release(leases);
    }
  }

  /** Sets up one of the engine's buses; `null` for one that does nothing. */
  async prepareBus(
    place: number,
    bus: Bus | null,
    steps: readonly BusStep[],
    tempoBpm: number,
    current: () => boolean,
  ): Promise<void> {
    const leases: Lease[] = [];
    try {
      const laidOf = await this.laid(steps, tempoBpm, leases);
      if (!current()) return;
      const program: BusProgram = (own, ownSteps) => busSound(own, ownSteps, this.engine.sampleRate, laidOf);
      this.ofBuses.set(place, program);
      this.engine.setBus(place, bus ? program(bus, steps) : []);
      this.repin(programOfBus(place), leases.splice(0));
      this.prepared.set(this.prepared.get() + 1);
    } finally {
      release(leases);
    }
  }

  /** The gain in dB that keeps a bus as loud without one of its steps, by the pads at some positions. */
  matchedGain(positions: readonly number[], bus: Bus, steps: readonly BusStep[], stepId: string): Promise<number> {
    const rate = this.engine.sampleRate;
    const sound = (own: readonly BusStep[]) => busSound({ ...bus, levelDb: 0, muted: false }, own, rate, () => null);
    const pads = positions.map((position) => ({ position, program: this.engine.programOf(position) }));
    return this.worker.matchingGainDb({ rate, pads, on: sound(steps), off: sound(withStepOff(steps, stepId)) });
  }

  /** What steps have in memory; adds the leases of it. */
  private async laid(steps: readonly LiveStep[], tempoBpm: number, leases: Lease[]) {
    const found = new Map<string, Laid>();
    for (const step of steps) {
      const one = await this.samples.laid(step, this.engine.sampleRate, tempoBpm);
      if (!one) continue;
      leases.push(one.lease);
      found.set(step.id, one.laid);
    }
    return ({ id }: { readonly id: string }) => found.get(id) ?? null;
  }

  /** The recordings of everything that sounds now, for the rights of what is recorded of it. */
  soundingSources(): string[] {
    const isSounding = (pad: number) => this.engine.peakOf(pad) > LEAST_HEARD;
    const ofPads = [...this.sources].flatMap(([pad, ids]) => (isSounding(pad) ? ids : []));
    return [...new Set([...ofPads, ...this.audition.soundingSources(isSounding)])];
  }

  /** Makes the metronome ready to be struck. */
  async prepareMetronome(): Promise<void> {
    if (this.pinned.has(METRONOME)) return;
    const { lease, sound } = await this.samples.click(this.engine.sampleRate);
    const { left, right, start, end } = sound;
    this.engine.setPad(METRONOME, {
      ...SILENT,

      layers: [{ ...PLAIN_LAYER, left, right, start, end }],
    });
    this.pinned.set(METRONOME, [lease]);
  }

  clearPad(position: number): void {
    this.ofPads.delete(position);
    this.engine.setPad(position, SILENT);
    this.repin(position, []);
  }

  private repin(position: number, leases: readonly Lease[]): void {
    const before = this.pinned.get(position) ?? [];
    this.pinned.set(position, leases);
    // What sounds goes over to the new program by and by.
    setTimeout(() => release(before), GOING_OVER_MS);
  }

  /** Silences everything: auditions, rhythms, grooves, loops and every pad. */
  stopAll(): void {
    this.audition.stop();
    this.engine.stopScore();
    this.engine.stop();
  }
}
