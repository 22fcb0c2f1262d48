import type * as Comlink from 'comlink';
import type { RecordingView } from '@/contract/views';
import type { PitchMoment } from '@/core/describe/pitch-track';
import type { Finish, Finished } from '@/core/hit/finish';
import { plainGain, type TreatedHit } from '@/core/hit/key';
import { type Laid, laidFloats, laidFrames } from '@/core/kit/live-steps';
import type { PooledSound } from '@/core/kit/pad-sound';
import type { LineUpBy } from '@/core/layering/taken';
import { type LiveStep, liveValues } from '@/core/treatment/live';
import { CLICK_S } from '@/core/voice/click-length';
import { type PoolEntry, SamplePool } from '@/engine/pool';
import type { WaveView } from '@/worker/columns';
import type { Added, Lanes, LevelsOfLayers, LinedUp, Sharing } from '@/worker/layers';
import type { Masking, StruckSound } from '@/worker/masking';
import type { Inspected, LearntTone, PoolWorker } from '@/worker/pool.worker';
import type { Variant } from '@/worker/variants';

/** A pinned stretch of sample memory, until it is released. */
export interface Lease {
  readonly entry: PoolEntry;
  release(): void;
}

/** A hit in sample memory, ready to be played. */
export interface PooledHit {
  readonly lease: Lease;
  readonly sound: PooledSound;
}

interface Wanted {
  readonly key: string;
  readonly source: string;
  readonly start: number;
  readonly end: number;
  readonly sides: 1 | 2;
  readonly fill: (entry: PoolEntry) => Promise<void>;
}

/** Loads recordings and hits into the memory that the audio thread plays from. */
export class Samples {
  private readonly pool: SamplePool;
  private readonly loading = new Map<string, { readonly entry: PoolEntry; readonly done: Promise<void> }>();

  constructor(
    floats: number,
    private readonly worker: Comlink.Remote<PoolWorker>,
  ) {
    this.pool = new SamplePool(floats);
  }

  /** A stretch that is in memory already, or null. */
  find(recording: RecordingView, start: number, end: number): Lease | null {
    const entry = this.pool.find(recording.id, start, end);
    return entry && pinned(entry);
  }

  /** [start, end) of a recording, unchanged. */
  stretch(recording: RecordingView, start: number, end: number): Promise<Lease> {
    return this.acquire({
      key: `${recording.id} ${start} ${end}`,
      source: recording.id,
      start,
      end,
      sides: recording.channelCount === 1 ? 1 : 2,
      fill: ({ left, right }) => this.worker.load({ recording, start, end, left, right }),
    });
  }

  /** A hit as it sounds. */
  async hit(hit: TreatedHit, recording: RecordingView): Promise<PooledHit> {
    const { startFrame, endFrame } = hit;
    const { sampleRate } = recording;
    const gain = plainGain(hit);
    if (gain !== null) {
      const lease = await this.stretch(recording, startFrame, endFrame);
      const { left, right, start } = lease.entry;
      return {
        lease,
        sound: { left, right, start: startFrame - start, end: endFrame - start, sampleRate, gain },
      };
    }
    const rendered = await this.worker.render(hit, recording);
    const { key, frames } = rendered;
    const lease = await this.acquire({
      key: `render ${key}`,
      source: `render ${key}`,
      start: 0,
      end: frames,
      sides: rendered.sides,
      fill: async ({ left, right }) => {
        while (!(await this.worker.lay(key, left, right))) await this.worker.render(hit, recording);
      },
    });
    const { left, right } = lease.entry;
    return { lease, sound: { left, right, start: 0, end: frames, sampleRate, gain: rendered.gain } };
  }

  /** The memory of a step that needs some, a room or an echo, ready to be heard; each has its own, in which it rings. */
  async laid(
    step: LiveStep,
    sampleRate: number,
    tempoBpm: number,
  ): Promise<{ readonly lease: Lease; readonly laid: Laid } | null> {
    const frames = laidFrames(step, sampleRate, tempoBpm);
    if (frames === 0) return null;
    const { mix: _mix, ...settings } = liveValues(step as LiveStep & { readonly processor: 'room' });
    const isRoom = step.processor === 'room';
    const key = `${step.id} ${isRoom ? JSON.stringify(settings) : frames}`;
    const lease = await this.acquire({
      key,
      source: key,
      start: 0,
      end: laidFloats(step, frames),
      sides: 1,
      fill: async ({ left }) => {
        if (isRoom) await this.worker.layRoom(settings, sampleRate, left);
      },
    });
    return { lease, laid: { at: lease.entry.left, frames } };
  }

  /** The click of the metronome. */
  async click(sampleRate: number): Promise<PooledHit> {
    const end = Math.round(CLICK_S * sampleRate);
    const key = `click ${sampleRate}`;
    const fill = ({ left }: { readonly left: number }) => this.worker.layClick(sampleRate, left);
    const lease = await this.acquire({ key, source: key, start: 0, end, sides: 1, fill });
    const { left, right } = lease.entry;
    return { lease, sound: { left, right, start: 0, end, sampleRate, gain: 1 } };
  }

  /** Lowest and highest sample of each column of a hit as it sounds. */
  wave(hit: TreatedHit, recording: RecordingView, view: WaveView): Promise<Float32Array> {
    return this.worker.wave(hit, recording, view);
  }

  /** Figures and spectrum of a hit as it sounds. */
  inspect(hit: TreatedHit, recording: RecordingView): Promise<Inspected> {
    return this.worker.inspect(hit, recording);
  }

  /** The gain over time of one of a hit's steps, in dB; null where it has none. */
  gainCurve(hit: TreatedHit, recording: RecordingView, stepId: string, view: WaveView): Promise<Float32Array | null> {
    return this.worker.gainCurve(hit, recording, stepId, view);
  }

  /** The pitch over time of a hit as it sounds. */
  pitchTrack(hit: TreatedHit, recording: RecordingView): Promise<PitchMoment[]> {
    return this.worker.pitchTrack(hit, recording);
  }

  /** The layers of a layered hit to draw; `known` are the keys of those that need no samples. */
  lanes(hit: TreatedHit, recording: RecordingView, known: readonly string[]): Promise<Lanes> {
    return this.worker.lanes(hit, recording, known);
  }

  /** Levels of the layers of a layered hit, and of their sum. */
  layerLevels(hit: TreatedHit, recording: RecordingView): Promise<LevelsOfLayers> {
    return this.worker.layerLevels(hit, recording);
  }

  /** How the layers of a layered hit lie once they are brought together. */
  lineUp(hit: TreatedHit, recording: RecordingView, by: LineUpBy): Promise<LinedUp> {
    return this.worker.lineUp(hit, recording, by);
  }

  /** Whether the layers of a layered hit add, and what would mend it. */
  addition(hit: TreatedHit, recording: RecordingView): Promise<Added> {
    return this.worker.addition(hit, recording);
  }

  /** A sound against the others of a kit. */
  masking(own: StruckSound, others: readonly StruckSound[]): Promise<Masking> {
    return this.worker.masking(own, others);
  }

  /** Variants of a layered hit, rendered in one go. */
  variants(
    hit: TreatedHit,
    variants: readonly TreatedHit[],
    recording: RecordingView,
    columns: number,
  ): Promise<Variant[]> {
    return this.worker.variants(hit, variants, recording, columns);
  }

  /** The steps that finish a hit as it is printed. */
  finish(hit: TreatedHit, recording: RecordingView, wanted: Finish): Promise<Finished> {
    return this.worker.finish(hit, recording, wanted);
  }

  /** How the layers of a layered hit could share the spectrum. */
  sharing(hit: TreatedHit, recording: RecordingView): Promise<Sharing> {
    return this.worker.sharing(hit, recording);
  }

  /** The room tone in [start, end) of a recording; null where that is too short. */
  learnRoom(recording: RecordingView, start: number, end: number): Promise<LearntTone | null> {
    return this.worker.learnRoom(recording, start, end);
  }

  /** Entries are pinned before anything is awaited, so that a parallel placement cannot evict them. */
  private async acquire({ key, source, start, end, sides, fill }: Wanted): Promise<Lease> {
    const found = this.pool.find(source, start, end);
    if (found) return pinned(found);
    const underWay = this.loading.get(key);
    if (underWay) {
      const lease = pinned(underWay.entry);
      await underWay.done;
      return lease;
    }
    const entry = this.pool.place(key, source, start, end, sides);
    if (!entry)
      throw new Error('There is no room in sample memory for this sound; shorten the longest pads of the kit.');
    const done = fill(entry)
      .then(
        () => {
          entry.ready = true;
        },
        (error: Error) => {
          this.pool.remove(key);
          throw error;
        },
      )
      .finally(() => this.loading.delete(key));
    this.loading.set(key, { entry, done });
    await done;
    return leaseOf(entry);
  }
}

function pinned(entry: PoolEntry): Lease {
  entry.pins++;
  return leaseOf(entry);
}

/** A lease of an entry that is already pinned for it. */
function leaseOf(entry: PoolEntry): Lease {
  let held = true;
  return {
    entry,
    release() {
      if (held) entry.pins--;
      held = false;
    },
  };
}

export function release(leases: readonly Lease[]): void {
  for (const lease of leases) lease.release();
}
