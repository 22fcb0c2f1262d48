import * as Comlink from 'comlink';
import type { RecordingView } from '@/contract/views';
import { plainGain, type TreatedHit } from '@/core/hit/render';
import type { Pad } from '@/core/kit/model';
import { type LayerWithHit, type PooledSound, padSound } from '@/core/kit/sound';
import { EngineClient, MEMORY_FLOATS } from '@/engine/client';
import type { PoolWorker } from '@/worker/pool.worker';
import { createStore } from '../parts/store';
import { type Lease, type PooledHit, Samples } from './samples';

/** Engine pads beyond the kit's 32: one for auditioning, two that take turns in playing long stretches, and some for rhythms. */
const AUDITION = 40;
const LONG = [41, 42] as const;
/** Those that a recording's own rhythm is played on, in turn. */
const RHYTHM = [43, 44, 45, 46, 47, 48, 49, 50, 51, 52, 53, 54, 55, 56, 57, 58] as const;
/** Strokes are handed to the engine so long before they sound. */
const AHEAD_S = 0.08;
/** A long stretch is fetched and played in parts of this many seconds, each ready before the one before it ends. */
const PART_SECONDS = 12;

/** A loop shorter than this would be a tone. */
const LEAST_LAP_S = 0.02;

/** What is played at a stroke of a rhythm: a stretch of its recording, or a pad of the kit. */
export type Sounding =
  | { readonly startFrame: number; readonly endFrame: number }
  | { readonly pad: number; readonly velocity: number };

/** What sounds besides the kit, for drawing the playhead: engine frame of its first frame, and where that lies. */
export interface Playing {
  readonly recordingId: string;
  readonly startFrame: number;
  readonly endFrame: number;
  readonly engineFrame: number;
  readonly ratio: number;
  /** It begins again when it has ended. */
  readonly loops: boolean;
}

export interface Playhead {
  readonly recordingId: string;
  readonly frame: number;
  /** Where it ends, or begins again. */
  readonly endFrame: number;
  /** Seconds until it begins to move: sound takes its time to the ear. */
  readonly waitS: number;
}

/** What is auditioned: a stretch of a recording, or a hit with what is done to it. */
export interface Auditioned {
  readonly recording: RecordingView;
  readonly startFrame: number;
  readonly endFrame: number;
  readonly hit?: TreatedHit | undefined;
  /** Linear, besides what the hit has of its own. */
  readonly gain?: number;
}

/** The page's sound: engine, sample memory and its worker. One a page, made on first use. */
export class Sound {
  /** What is being auditioned; for those who follow it. */
  readonly nowPlaying = createStore<Playing | null>(null);
  private readonly pinned = new Map<number, readonly Lease[]>();
  /** What is being auditioned stays in memory until something else is. */
  private auditioned: Lease[] = [];
  private turn = 0;
  /** Pads of the kit that a rhythm has struck, strikes still to come among them. */
  private readonly played = new Set<number>();

  private constructor(
    readonly engine: EngineClient,
    readonly samples: Samples,
    private readonly worker: Comlink.Remote<PoolWorker>,
  ) {}

  static async open(): Promise<Sound> {
    const engine = await EngineClient.open();
    const worker = Comlink.wrap<PoolWorker>(new Worker(new URL('../../worker/pool.worker.ts', import.meta.url)));
    await worker.open(engine.shared.memory);
    return new Sound(engine, new Samples(MEMORY_FLOATS, worker), worker);
  }

  /** Sets a kit's pad up in the engine. Settles when it can be struck; throws when its sound cannot be had. */
  async preparePad(
    pad: Pad,
    layers: readonly LayerWithHit[],
    recordings: ReadonlyMap<string, RecordingView>,
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
      if (!current()) return;
      this.engine.setPad(
        pad.position,
        padSound(pad, layers, this.engine.sampleRate, ({ id }) => sounds.get(id) ?? null, gain),
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
    release(this.pinned.get(position) ?? []);
    this.pinned.set(position, leases);
  }

  /** Sounds a stretch of a recording or a hit, `loop` again and again; what was being auditioned stops. */
  async audition({ recording, startFrame, endFrame, hit, gain = 1 }: Auditioned, loop = false): Promise<void> {
    this.stopAudition();
    this.engine.resume();
    const turn = this.turn;
    const ready = hit ? null : this.samples.find(recording, startFrame, endFrame);
    const isLong = endFrame - startFrame > PART_SECONDS * recording.sampleRate;
    // A long stretch is played in parts; a hit that is treated is played whole, however long it is.
    const level = hit ? plainGain(hit) : 1;
    if (!ready && isLong && level !== null) {
      do await this.playLong(recording, startFrame, endFrame, turn, gain * level);
      while (loop && turn === this.turn);
      return;
    }
    const { lease, sound } = hit
      ? await this.samples.hit(hit, recording)
      : within(ready ?? (await this.samples.stretch(recording, startFrame, endFrame)), recording, startFrame, endFrame);
    if (turn !== this.turn) {
      lease.release();
      return;
    }
    this.auditioned.push(lease);
    const levelled = { ...sound, gain: sound.gain * gain };
    const where = { recordingId: recording.id, startFrame, endFrame };
    if (loop) await this.playLoop(where, levelled, turn);
    else this.strikeSound(AUDITION, levelled, -1, where);
  }

  stopAudition(): void {
    this.turn++;
    this.nowPlaying.set(null);
    for (const pad of [AUDITION, ...LONG, ...RHYTHM]) this.engine.stop(pad);
    for (const pad of this.played) this.engine.stop(pad);
    this.played.clear();
    release(this.auditioned);
    this.auditioned = [];
  }

  /** Silences everything: what is auditioned, rhythms, loops and every pad. */
  stopAll(): void {
    this.stopAudition();
    this.engine.stop();
  }

  /** Strikes a sound at an engine frame, or at once (-1), when it is told that it plays. */
  private strikeSound(pad: number, { sampleRate, ...sound }: PooledSound, at: number, where?: Where): void {
    const { engine } = this;
    const ratio = sampleRate / engine.sampleRate;
    engine.setPad(pad, {
      ...SILENT,
      fadeOutFrames: at < 0 ? Math.round(engine.sampleRate * 0.002) : 0,
      layers: [{ ...sound, ratio, delay: 0 }],
    });
    engine.strike(pad, 127, at);
    if (where) this.nowPlaying.set({ ...where, engineFrame: engine.frame, ratio, loops: false });
  }

  /** Strikes a sound anew at the exact frame at which it ends, a little ahead of time, as long as its turn lasts. */
  private async playLoop(where: Where, sound: PooledSound, turn: number): Promise<void> {
    const { engine } = this;
    const ratio = sound.sampleRate / engine.sampleRate;
    const lap = Math.max(LEAST_LAP_S * engine.sampleRate, (sound.end - sound.start) / ratio);
    const first = engine.frame + Math.round(0.02 * engine.sampleRate);
    this.nowPlaying.set({ ...where, engineFrame: first, ratio, loops: true });
    for (let n = 0; turn === this.turn; n++) {
      this.strikeSound(AUDITION, sound, Math.round(first + n * lap));
      while (turn === this.turn && engine.frame < first + n * lap - 0.05 * engine.sampleRate)
        await new Promise((r) => setTimeout(r, 10));
    }
  }

  /** Parts follow one another at exact engine frames, on two pads in turn. */
  private async playLong(
    recording: RecordingView,
    start: number,
    end: number,
    turn: number,
    gain: number,
  ): Promise<void> {
    const { engine } = this;
    const ratio = recording.sampleRate / engine.sampleRate;
    const engineFrames = PART_SECONDS * engine.sampleRate;
    let at = -1;
    for (let part = 0; ; part++) {
      const from = start + Math.round(part * engineFrames * ratio);
      if (from >= end) return;
      const to = Math.min(end, start + Math.round((part + 1) * engineFrames * ratio));
      const lease = await this.samples.stretch(recording, from, to);
      if (turn !== this.turn) {
        lease.release();
        return;
      }
      this.auditioned.push(lease);
      // Two parts at most are heard or to come.
      if (this.auditioned.length > 2) release(this.auditioned.splice(0, 1));
      if (at < 0) {
        at = engine.frame + Math.round(engine.sampleRate * 0.05);
        this.nowPlaying.set({
          recordingId: recording.id,
          startFrame: start,
          endFrame: end,
          engineFrame: at,
          ratio,
          loops: false,
        });
      }
      const { sound } = within(lease, recording, from, to);
      this.strikeSound(LONG[part % 2] as number, { ...sound, gain }, at + part * engineFrames);
      const next = Math.min(end, to + engineFrames * ratio);
      if (next > to)
        void this.samples.stretch(recording, to, Math.round(next)).then(
          (ahead) => ahead.release(),
          () => {},
        );
      // The last part is waited for to its end, so that who asked knows when all has been heard.
      const until = to >= end ? (to - start) / ratio : (part + 0.5) * engineFrames;
      while (turn === this.turn && engine.frame < at + until) await new Promise((r) => setTimeout(r, 100));
      if (turn !== this.turn) return;
    }
  }

  /**
   * Plays at exact frames, again and again with the recording's own length, until something else is heard or it is stopped: at
   * each of `times`, frames of the recording, what `choose` gives when its turn comes, a stretch of the recording or a pad.
   */
  async playRhythm(
    recording: RecordingView,
    times: readonly number[],
    choose: (i: number) => Sounding | null,
  ): Promise<void> {
    this.stopAudition();
    if (times.length === 0) return;
    const { engine } = this;
    engine.resume();
    const turn = this.turn;
    const lease = await this.samples.stretch(recording, 0, recording.frames);
    if (turn !== this.turn) {
      lease.release();
      return;
    }
    this.auditioned.push(lease);
    const ratio = recording.sampleRate / engine.sampleRate;
    const first = engine.frame + Math.round(2 * AHEAD_S * engine.sampleRate);
    this.nowPlaying.set({
      recordingId: recording.id,
      startFrame: 0,
      endFrame: recording.frames,
      engineFrame: first,
      ratio,
      loops: true,
    });
    for (let n = 0; ; n++) {
      const i = n % times.length;
      const lap = Math.floor(n / times.length);
      const at = Math.round(first + (lap * recording.frames + (times[i] as number)) / ratio);
      while (turn === this.turn && engine.frame < at - AHEAD_S * engine.sampleRate)
        await new Promise((r) => setTimeout(r, 10));
      if (turn !== this.turn) return;
      const sounding = choose(i);
      if (!sounding) continue;
      if ('pad' in sounding) {
        this.played.add(sounding.pad);
        engine.strike(sounding.pad, sounding.velocity, at);
      } else {
        const { startFrame, endFrame } = sounding;
        const { sound } = within(lease, recording, startFrame, endFrame);
        this.strikeSound(RHYTHM[n % RHYTHM.length] as number, sound, at);
      }
    }
  }

  /** Where in its recording the auditioned sound is now, or null when it has ended. */
  playhead(): Playhead | null {
    const playing = this.nowPlaying.get();
    if (!playing) return null;
    const heard = this.engine.frame - this.engine.latency * this.engine.sampleRate;
    const early = Math.max(0, playing.engineFrame - heard);
    const passed = (heard + early - playing.engineFrame) * playing.ratio;
    const length = playing.endFrame - playing.startFrame;
    const frame = playing.startFrame + (playing.loops ? passed % length : passed);
    if (frame >= playing.endFrame) {
      this.nowPlaying.set(null);
      return null;
    }
    const { recordingId, endFrame } = playing;
    return { recordingId, frame, endFrame, waitS: early / this.engine.sampleRate };
  }
}

type Where = Pick<Playing, 'recordingId' | 'startFrame' | 'endFrame'>;

function release(leases: readonly Lease[]): void {
  for (const lease of leases) lease.release();
}

/** A stretch of a recording that lies in a longer one. */
function within(lease: Lease, { sampleRate }: RecordingView, startFrame: number, endFrame: number): PooledHit {
  const { left, right, start } = lease.entry;
  return { lease, sound: { left, right, start: startFrame - start, end: endFrame - start, sampleRate, gain: 1 } };
}

const SILENT = { gainLeft: 1, gainRight: 1, held: false, chokeGroup: 0, fadeOutFrames: 0, layers: [] } as const;

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

/** The sound if it is open already: what striking uses, so that nothing is awaited. */
export function soundNow(): Sound | null {
  return openedSound.get();
}
