import * as Comlink from 'comlink';
import type { RecordingView } from '@/contract/views';
import { type LaidRoom, liveSteps } from '@/core/kit/live-steps';
import type { Pad } from '@/core/kit/model';
import { type LayerWithHit, type PooledSound, padSound } from '@/core/kit/pad-sound';
import { SILENT } from '@/core/play/program';
import type { PadStep } from '@/core/treatment/live';
import { EngineClient, MEMORY_FLOATS } from '@/engine/client';
import type { PoolWorker } from '@/worker/pool.worker';
import { createStore } from '../parts/store';
import { Audition } from './audition';
import { readOutputBuffer } from './output-buffer';
import { type Lease, release, Samples } from './samples';

/** Longer than the engine takes to go over from one program to the next. */
const GOING_OVER_MS = 250;

/** The page's sound: engine, sample memory and worker. One a page, created on first use. */
export class Sound {
  readonly audition: Audition;
  private readonly pinned = new Map<number, readonly Lease[]>();

  private constructor(
    readonly engine: EngineClient,
    readonly samples: Samples,
    private readonly worker: Comlink.Remote<PoolWorker>,
  ) {
    this.audition = new Audition(engine, samples);
  }

  static async open(): Promise<Sound> {
    const engine = await EngineClient.open(readOutputBuffer() === 'quick');
    const worker = Comlink.wrap<PoolWorker>(new Worker(new URL('../../worker/pool.worker.ts', import.meta.url)));
    await worker.open(engine.shared.memory);
    return new Sound(engine, new Samples(MEMORY_FLOATS, worker), worker);
  }

  /** Sets up a kit's pad in the engine. Settles when it can be struck; rejects when its sound cannot be loaded. */
  async preparePad(
    pad: Pad,
    layers: readonly LayerWithHit[],
    steps: readonly PadStep[],
    recordings: ReadonlyMap<string, RecordingView>,
    tempoBpm: number,
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
      const rooms = new Map<string, LaidRoom>();
      for (const step of steps) {
        if (step.processor !== 'room') continue;
        const { lease, room } = await this.samples.room(step, this.engine.sampleRate);
        leases.push(lease);
        rooms.set(step.id, room);
      }
      if (!current()) return;
      const live = liveSteps(steps, this.engine.sampleRate, ({ id }) => rooms.get(id) ?? null);
      this.engine.setPad(
        pad.position,
        padSound(pad, layers, this.engine.sampleRate, ({ id }) => sounds.get(id) ?? null, gain, tempoBpm, live),
      );
      this.repin(pad.position, leases.splice(0));
    } finally {
      release(leases);
    }
  }

  clearPad(position: number): void {
    this.engine.setPad(position, SILENT);
    this.repin(position, []);
  }

  private repin(position: number, leases: readonly Lease[]): void {
    const before = this.pinned.get(position) ?? [];
    this.pinned.set(position, leases);
    // What sounds goes over to the new program by and by.
    setTimeout(() => release(before), GOING_OVER_MS);
  }

  /** Silences everything: auditions, rhythms, loops and every pad. */
  stopAll(): void {
    this.audition.stop();
    this.engine.stop();
  }
}

let opened: Promise<Sound> | null = null;
/** The page's sound once it is open. */
export const openedSound = createStore<Sound | null>(null);

/** The page's sound, opened on first call. */
export function openSound(): Promise<Sound> {
  opened ??= Sound.open().then((sound) => {
    (globalThis as { undercroftSound?: Sound }).undercroftSound = sound;
    openedSound.set(sound);
    return sound;
  });
  return opened;
}

/** The sound if it is open already, for striking without awaiting. */
export function soundNow(): Sound | null {
  return openedSound.get();
}
