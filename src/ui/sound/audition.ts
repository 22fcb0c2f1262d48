import type { RecordingView } from '@/contract/views';
import { plainGain, recordingsOf, type TreatedHit } from '@/core/hit/key';
import type { PooledSound } from '@/core/kit/pad-sound';
import { KIT_PADS } from '@/core/play/limits';
import { PLAIN_LAYER, SILENT } from '@/core/play/program';
import type { EngineClient } from '@/engine/client';
import { createStore } from '../parts/store';
import { type Lease, type PooledHit, release, type Samples } from './samples';

/** Engine pads beyond the kit's: one for auditioning, two alternating for long stretches, one for rhythms. */
const [AUDITION, EVEN, ODD, RHYTHM] = [KIT_PADS, KIT_PADS + 1, KIT_PADS + 2, KIT_PADS + 3] as const;
/** Lead in frames for events with an exact frame: a few blocks, so that none is late. */
const AHEAD_S = 0.02;
/** Long stretches are loaded and played in parts of this many seconds, each ready before the previous one ends. */
const PART_SECONDS = 12;

/** Shortest loop: a shorter one would be a tone. */
const LEAST_LAP_S = 0.02;

/** A stroke of a rhythm, at a frame of its recording: a stretch of it, or a pad of the kit. */
export type RhythmStroke = { readonly at: number } & (
  | { readonly startFrame: number; readonly endFrame: number }
  | { readonly pad: number; readonly velocity: number }
);

/** What is auditioned, for the playhead: engine frame of its first frame, and its place in the recording. */
export interface Playing {
  readonly recordingId: string;
  readonly startFrame: number;
  readonly endFrame: number;
  readonly engineFrame: number;
  readonly ratio: number;
  /** Repeats. */
  readonly loops: boolean;
}

export interface Playhead {
  readonly recordingId: string;
  readonly frame: number;
  /** Where it ends, or begins again. */
  readonly endFrame: number;
  /** Seconds until the playhead starts: the output latency. */
  readonly waitS: number;
}

/** What to audition: a stretch of a recording, or a hit with its steps. */
export interface Auditioned {
  readonly recording: RecordingView;
  readonly startFrame: number;
  readonly endFrame: number;
  readonly hit?: TreatedHit | undefined;
  /** Linear, on top of the hit's own gain. */
  readonly gain?: number;
}

/** A hit to strike again and again. */
export interface Repeated {
  readonly recording: RecordingView;
  readonly hit: TreatedHit;
  /** Linear, on top of the hit's own gain. */
  readonly gain?: number;
}

/** Auditions one thing at a time, besides the kit. */
export class Audition {
  /** What is being auditioned, for subscribers. */
  readonly nowPlaying = createStore<Playing | null>(null);
  /** What sounds stays in memory until something else does. */
  private leases: Lease[] = [];
  private turn = 0;
  /** The recordings of what was laid last. */
  private sources: readonly string[] = [];
  /** Pads of the kit that a rhythm strikes, future strikes included. */
  private played = new Set<number>();
  private rhythm: { readonly ratio: number; readonly frames: number; readonly offset: number } | null = null;

  /** A hit that is struck again and again, and how far apart. */
  private repeats: { readonly seconds: number } | null = null;

  constructor(
    private readonly engine: EngineClient,
    private readonly samples: Samples,
  ) {}

  /** Auditions a stretch or a hit, repeating with `loop`; stops what was auditioned. */
  async play({ recording, startFrame, endFrame, hit, gain = 1 }: Auditioned, loop = false): Promise<void> {
    this.stop();
    this.engine.resume();
    const turn = this.turn;
    this.sources = hit ? recordingsOf(hit) : [recording.id];
    const ready = hit ? null : this.samples.find(recording, startFrame, endFrame);
    const isLong = endFrame - startFrame > PART_SECONDS * recording.sampleRate;
    // A long stretch is played in parts; a treated hit is played whole, whatever its length.
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
    this.leases.push(lease);
    const levelled = { ...sound, gain: sound.gain * gain };
    const where = { recordingId: recording.id, startFrame, endFrame };
    if (loop) this.playLoop(where, levelled);
    else this.playOnce(where, levelled);
  }

  /**
   * Strikes a hit again and again, so many seconds apart, until something else is auditioned. Called while it does so, the hit
   * is exchanged: the next stroke is of the new one.
   */
  async repeat({ recording, hit, gain = 1 }: Repeated, seconds: number): Promise<void> {
    if (!this.repeats) this.stop();
    this.engine.resume();
    const turn = this.turn;
    this.sources = recordingsOf(hit);
    const { lease, sound } = await this.samples.hit(hit, recording);
    if (turn !== this.turn) {
      lease.release();
      return;
    }
    // The stroke before it may still sound.
    this.leases.push(lease);
    release(this.leases.splice(0, this.leases.length - 2));
    this.lay(AUDITION, { ...sound, gain: sound.gain * gain }, true);
    const { sampleRate } = this.engine;
    if (this.repeats?.seconds !== seconds)
      this.engine.setScore([{ at: 0, pad: AUDITION, velocity: 127, from: -1, to: -1 }], seconds * sampleRate, this);
    if (!this.repeats) this.engine.play(this.engine.frame + Math.round(AHEAD_S * sampleRate));
    this.repeats = { seconds };
  }

  /** Ends what is auditioned: stretches, loops and rhythms. */
  stop(): void {
    this.turn++;
    this.rhythm = null;
    this.repeats = null;
    this.nowPlaying.set(null);
    // A groove goes on.
    if (this.engine.scoreOwner === this) this.engine.stopScore();
    for (const pad of [AUDITION, EVEN, ODD, RHYTHM, ...this.played]) this.engine.stop(pad);
    this.played = new Set();
    release(this.leases);
    this.leases = [];
  }

  /** Sets up an engine pad, with a short fade at its end unless something follows. */
  private lay(pad: number, { sampleRate, ...sound }: PooledSound, fades: boolean): number {
    const { engine } = this;
    const ratio = sampleRate / engine.sampleRate;
    const fadeOutFrames = fades ? Math.round(engine.sampleRate * 0.002) : 0;
    engine.setPad(pad, { ...SILENT, fadeOutFrames, layers: [{ ...PLAIN_LAYER, ...sound, ratio }] });
    return ratio;
  }

  private playOnce(where: Where, sound: PooledSound): void {
    const { engine } = this;
    const ratio = this.lay(AUDITION, sound, true);
    engine.strike(AUDITION, 127);
    this.nowPlaying.set({ ...where, engineFrame: engine.frame, ratio, loops: false });
  }

  /** Strikes a sound again at the exact frame where it ends. */
  private playLoop(where: Where, sound: PooledSound): void {
    const { engine } = this;
    const ratio = this.lay(AUDITION, sound, false);
    const lap = Math.max(LEAST_LAP_S * engine.sampleRate, (sound.end - sound.start) / ratio);
    const first = engine.frame + Math.round(AHEAD_S * engine.sampleRate);
    engine.setScore([{ at: 0, pad: AUDITION, velocity: 127, from: -1, to: -1 }], lap, this);
    engine.play(first);
    this.nowPlaying.set({ ...where, engineFrame: first, ratio, loops: true });
  }

  /** Parts follow one another at exact engine frames, on two alternating pads. */
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
      this.leases.push(lease);
      // At most two parts sound or are scheduled.
      if (this.leases.length > 2) release(this.leases.splice(0, 1));
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
      const pad = part % 2 === 0 ? EVEN : ODD;
      this.lay(pad, { ...sound, gain }, false);
      engine.strike(pad, 127, at + part * engineFrames);
      const next = Math.min(end, to + engineFrames * ratio);
      if (next > to)
        void this.samples.stretch(recording, to, Math.round(next)).then(
          (ahead) => ahead.release(),
          () => {},
        );
      // The last part is awaited to its end, so that the caller knows when all has sounded.
      const until = to >= end ? (to - start) / ratio : (part + 0.5) * engineFrames;
      while (turn === this.turn && engine.frame < at + until) await new Promise((r) => setTimeout(r, 100));
      if (turn !== this.turn) return;
    }
  }

  /**
   * Plays strokes at exact frames, repeating with the recording's own length, until something else is auditioned or it
   * is stopped.
   */
  async playRhythm(recording: RecordingView, strokes: readonly RhythmStroke[]): Promise<void> {
    this.stop();
    const { engine } = this;
    engine.resume();
    const turn = this.turn;
    this.sources = [recording.id];
    const lease = await this.samples.stretch(recording, 0, recording.frames);
    if (turn !== this.turn) {
      lease.release();
      return;
    }
    this.leases.push(lease);
    const { sound } = within(lease, recording, 0, recording.frames);
    const ratio = this.lay(RHYTHM, sound, false);
    const first = engine.frame + Math.round(AHEAD_S * engine.sampleRate);
    this.rhythm = { ratio, frames: recording.frames, offset: sound.start };
    this.changeRhythm(strokes);
    engine.play(first);
    this.nowPlaying.set({
      recordingId: recording.id,
      startFrame: 0,
      endFrame: recording.frames,
      engineFrame: first,
      ratio,
      loops: true,
    });
  }

  /** The recordings of what is auditioned, as far as it sounds. */
  soundingSources(isSounding: (pad: number) => boolean): readonly string[] {
    return [AUDITION, EVEN, ODD, RHYTHM].some(isSounding) ? this.sources : [];
  }

  get playsRhythm(): boolean {
    return this.rhythm !== null;
  }

  /** Replaces the strokes from the next one on; does nothing where no rhythm runs. */
  changeRhythm(strokes: readonly RhythmStroke[]): void {
    if (!this.rhythm) return;
    const { ratio, frames, offset } = this.rhythm;
    for (const stroke of strokes) if ('pad' in stroke) this.played.add(stroke.pad);
    this.engine.setScore(
      strokes.map((stroke) => {
        const at = stroke.at / ratio;
        if ('pad' in stroke) return { at, pad: stroke.pad, velocity: stroke.velocity, from: -1, to: -1 };
        const { startFrame, endFrame } = stroke;
        return { at, pad: RHYTHM, velocity: 127, from: offset + startFrame, to: offset + endFrame };
      }),
      frames / ratio,
      this,
    );
  }

  /** Position of the playhead in its recording, or null when it has ended. */
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

/** A part of a longer stretch. */
function within(lease: Lease, { sampleRate }: RecordingView, startFrame: number, endFrame: number): PooledHit {
  const { left, right, start } = lease.entry;
  return { lease, sound: { left, right, start: startFrame - start, end: endFrame - start, sampleRate, gain: 1 } };
}
