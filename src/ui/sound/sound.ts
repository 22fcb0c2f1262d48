import * as Comlink from 'comlink';
import type { RecordingView } from '@/contract/views';
import type { Hit } from '@/core/hit/model';
import type { Pad } from '@/core/kit/model';
import { type LayerWithHit, type PooledSource, padSound } from '@/core/kit/sound';
import { EngineClient, MEMORY_FLOATS } from '@/engine/client';
import { type PoolEntry, SamplePool } from '@/engine/pool';
import type { PoolWorker } from '@/worker/pool.worker';
import { createStore } from '../parts/store';

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

export interface AuditionOptions {
  readonly gain?: number;
  readonly dc?: readonly number[];
  /** Again and again, without a gap, until something else is heard or it is stopped. */
  readonly loop?: boolean;
}

/** Sample memory holds a recording as it is, or with a constant taken off: those are different sounds. */
function sourceKey(recording: RecordingView, dc: readonly number[]): string {
  return dc.length === 0 ? recording.id : `${recording.id} less ${dc.join(' ')}`;
}

/** The page's sound: engine, sample memory and its worker. One a page, made on first use. */
export class Sound {
  /** What is being auditioned; for those who follow it. */
  readonly nowPlaying = createStore<Playing | null>(null);
  private readonly pool = new SamplePool(MEMORY_FLOATS);
  private readonly loading = new Map<string, Promise<PoolEntry>>();
  private readonly pinned = new Map<number, string[]>();
  private turn = 0;
  /** Pads of the kit that a rhythm has struck, strikes still to come among them. */
  private readonly played = new Set<number>();

  private constructor(
    readonly engine: EngineClient,
    private readonly worker: Comlink.Remote<PoolWorker>,
  ) {}

  static async open(): Promise<Sound> {
    const engine = await EngineClient.open();
    const worker = Comlink.wrap<PoolWorker>(new Worker(new URL('../../worker/pool.worker.ts', import.meta.url)));
    await worker.open(engine.shared.memory);
    return new Sound(engine, worker);
  }

  /** Brings [start, end) of a recording into memory; what is there already is used. */
  async ensure(recording: RecordingView, start: number, end: number, dc: readonly number[] = []): Promise<PoolEntry> {
    const source = sourceKey(recording, dc);
    const found = this.pool.find(source, start, end);
    if (found) return found;
    const key = `${source}:${start}:${end}`;
    const underWay = this.loading.get(key);
    if (underWay) return underWay;
    const load = this.load(key, recording, start, end, dc).finally(() => this.loading.delete(key));
    this.loading.set(key, load);
    return load;
  }

  private async load(
    key: string,
    recording: RecordingView,
    start: number,
    end: number,
    dc: readonly number[],
  ): Promise<PoolEntry> {
    const entry = this.pool.place(key, sourceKey(recording, dc), start, end, recording.channelCount === 1 ? 1 : 2);
    if (!entry)
      throw new Error('There is no room in sample memory for this sound; shorten the longest pads of the kit.');
    try {
      const { encoding, channelCount, sampleRate } = recording;
      await this.worker.load({
        recordingId: recording.id,
        encoding,
        channelCount,
        sampleRate,
        start,
        end,
        left: entry.left,
        right: entry.right,
        dc,
      });
      entry.ready = true;
      return entry;
    } catch (error) {
      this.pool.remove(key);
      throw error;
    }
  }

  /** Sets a kit's pad up in the engine. Settles when it can be struck; throws when its sound cannot be had. */
  async preparePad(
    pad: Pad,
    layers: readonly LayerWithHit[],
    recordings: ReadonlyMap<string, RecordingView>,
    current: () => boolean,
  ): Promise<void> {
    const sources = new Map<string, PooledSource>();
    const entries: PoolEntry[] = [];
    for (const { hit } of layers) {
      const recording = recordings.get(hit.recordingId);
      if (!recording) throw new Error('The recording of this sound is not there.');
      const entry = await this.ensure(recording, hit.startFrame, hit.endFrame, hit.dc);
      entries.push(entry);
      sources.set(hit.id, {
        left: entry.left,
        right: entry.right,
        firstFrame: entry.start,
        sampleRate: recording.sampleRate,
      });
    }
    const first = layers[0];
    const rate = (first && sources.get(first.hit.id)?.sampleRate) ?? this.engine.sampleRate;
    const gain = pad.normaliseDbfs === null ? 1 : await this.worker.normalise(pad, layers, [...sources], rate);
    if (!current()) return;
    this.repin(pad.position, entries);
    this.engine.setPad(
      pad.position,
      padSound(pad, layers, this.engine.sampleRate, (hit: Hit) => sources.get(hit.id) ?? null, gain),
    );
  }

  clearPad(position: number): void {
    this.repin(position, []);
    this.engine.setPad(position, SILENT);
  }

  private repin(position: number, entries: readonly PoolEntry[]): void {
    for (const key of this.pinned.get(position) ?? []) {
      const entry = this.pool.get(key);
      if (entry) entry.pins--;
    }
    for (const entry of entries) entry.pins++;
    this.pinned.set(
      position,
      entries.map((e) => e.key),
    );
  }

  /** Sounds a stretch of a recording; what was being auditioned stops. */
  async audition(
    recording: RecordingView,
    start: number,
    end: number,
    { gain = 1, dc = [], loop = false }: AuditionOptions = {},
  ): Promise<void> {
    this.stopAudition();
    this.engine.resume();
    const turn = this.turn;
    const frames = PART_SECONDS * recording.sampleRate;
    const ready = this.pool.find(sourceKey(recording, dc), start, end);
    const entry = ready ?? (end - start <= frames ? await this.ensure(recording, start, end, dc) : null);
    if (turn !== this.turn) return;
    if (entry && loop) await this.playLoop(recording, entry, start, end, turn, gain);
    else if (entry) this.strikeStretch(AUDITION, recording, entry, start, end, -1, gain);
    else {
      do await this.playLong(recording, start, end, turn);
      while (loop && turn === this.turn);
    }
  }

  stopAudition(): void {
    this.turn++;
    this.nowPlaying.set(null);
    for (const pad of [AUDITION, ...LONG, ...RHYTHM]) this.engine.stop(pad);
    for (const pad of this.played) this.engine.stop(pad);
    this.played.clear();
  }

  /** Silences everything: what is auditioned, rhythms, loops and every pad. */
  stopAll(): void {
    this.stopAudition();
    this.engine.stop();
  }

  private strikeStretch(
    pad: number,
    recording: RecordingView,
    entry: PoolEntry,
    start: number,
    end: number,
    at: number,
    gain = 1,
  ): void {
    const { engine } = this;
    const ratio = recording.sampleRate / engine.sampleRate;
    const layer = {
      left: entry.left,
      right: entry.right,
      start: start - entry.start,
      end: end - entry.start,
      ratio,
      gain,
      delay: 0,
    };
    engine.setPad(pad, {
      ...SILENT,
      fadeOutFrames: at < 0 ? Math.round(engine.sampleRate * 0.002) : 0,
      layers: [layer],
    });
    engine.strike(pad, 127, at);
    if (at < 0)
      this.nowPlaying.set({
        recordingId: recording.id,
        startFrame: start,
        endFrame: end,
        engineFrame: engine.frame,
        ratio,
        loops: false,
      });
  }

  /** Strikes a stretch anew at the exact frame at which it ends, a little ahead of time, as long as its turn lasts. */
  private async playLoop(
    recording: RecordingView,
    entry: PoolEntry,
    start: number,
    end: number,
    turn: number,
    gain: number,
  ): Promise<void> {
    const { engine } = this;
    const ratio = recording.sampleRate / engine.sampleRate;
    const lap = Math.max(LEAST_LAP_S * engine.sampleRate, (end - start) / ratio);
    const first = engine.frame + Math.round(0.02 * engine.sampleRate);
    this.nowPlaying.set({
      recordingId: recording.id,
      startFrame: start,
      endFrame: end,
      engineFrame: first,
      ratio,
      loops: true,
    });
    for (let n = 0; turn === this.turn; n++) {
      this.strikeStretch(AUDITION, recording, entry, start, end, Math.round(first + n * lap), gain);
      while (turn === this.turn && engine.frame < first + n * lap - 0.05 * engine.sampleRate)
        await new Promise((r) => setTimeout(r, 10));
    }
  }

  /** Parts follow one another at exact engine frames, on two pads in turn. */
  private async playLong(recording: RecordingView, start: number, end: number, turn: number): Promise<void> {
    const { engine } = this;
    const ratio = recording.sampleRate / engine.sampleRate;
    const engineFrames = PART_SECONDS * engine.sampleRate;
    let at = -1;
    for (let part = 0; ; part++) {
      const from = start + Math.round(part * engineFrames * ratio);
      if (from >= end) return;
      const to = Math.min(end, start + Math.round((part + 1) * engineFrames * ratio));
      const entry = await this.ensure(recording, from, to);
      if (turn !== this.turn) return;
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
      this.strikeStretch(LONG[part % 2] as number, recording, entry, from, to, at + part * engineFrames);
      const next = Math.min(end, to + engineFrames * ratio);
      if (next > to) void this.ensure(recording, to, Math.round(next)).catch(() => {});
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
    const entry = await this.ensure(recording, 0, recording.frames);
    if (turn !== this.turn) return;
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
        this.strikeStretch(RHYTHM[n % RHYTHM.length] as number, recording, entry, startFrame, endFrame, at);
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
