import type { RecordingView } from '@/contract/views';
import { plainGain, type TreatedHit } from '@/core/hit/key';
import type { PooledSound } from '@/core/kit/pad-sound';
import { KIT_PADS } from '@/core/play/limits';
import { SILENT } from '@/core/play/program';
import type { EngineClient } from '@/engine/client';
import { createStore } from '../parts/store';
import { type Lease, type PooledHit, release, type Samples } from './samples';

/** Engine pads beyond the kit's: one for auditioning, two that take turns in playing long stretches, and one for rhythms. */
const [AUDITION, EVEN, ODD, RHYTHM] = [KIT_PADS, KIT_PADS + 1, KIT_PADS + 2, KIT_PADS + 3] as const;
/** What is to begin at a frame of its own is told so long before: a few blocks, so that it is not late. */
const AHEAD_S = 0.02;
/** A long stretch is fetched and played in parts of this many seconds, each ready before the one before it ends. */
const PART_SECONDS = 12;

/** A loop shorter than this would be a tone. */
const LEAST_LAP_S = 0.02;

/** A stroke of a rhythm, at a frame of its recording: a stretch of that, or a pad of the kit. */
export type RhythmStroke = { readonly at: number } & (
  | { readonly startFrame: number; readonly endFrame: number }
  | { readonly pad: number; readonly velocity: number }
);

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

/** Plays what is listened to besides the kit: one thing at a time. */
export class Audition {
  /** What is being auditioned; for those who follow it. */
  readonly nowPlaying = createStore<Playing | null>(null);
  /** What is heard stays in memory until something else is. */
  private leases: Lease[] = [];
  private turn = 0;
  /** Pads of the kit that a rhythm has struck, strikes still to come among them. */
  private played = new Set<number>();
  private rhythm: { readonly ratio: number; readonly frames: number; readonly offset: number } | null = null;

  constructor(
    private readonly engine: EngineClient,
    private readonly samples: Samples,
  ) {}

  /** Sounds a stretch of a recording or a hit, `loop` again and again; what was being auditioned stops. */
  async play({ recording, startFrame, endFrame, hit, gain = 1 }: Auditioned, loop = false): Promise<void> {
    this.stop();
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
    this.leases.push(lease);
    const levelled = { ...sound, gain: sound.gain * gain };
    const where = { recordingId: recording.id, startFrame, endFrame };
    if (loop) this.playLoop(where, levelled);
    else this.playOnce(where, levelled);
  }

  /** Ends what is auditioned: stretches, loops and rhythms. */
  stop(): void {
    this.turn++;
    this.rhythm = null;
    this.nowPlaying.set(null);
    this.engine.stopScore();
    for (const pad of [AUDITION, EVEN, ODD, RHYTHM, ...this.played]) this.engine.stop(pad);
    this.played = new Set();
    release(this.leases);
    this.leases = [];
  }

  /** Gives an engine pad a sound, with a short fade at its end where nothing follows it. */
  private lay(pad: number, { sampleRate, ...sound }: PooledSound, fades: boolean): number {
    const { engine } = this;
    const ratio = sampleRate / engine.sampleRate;
    const fadeOutFrames = fades ? Math.round(engine.sampleRate * 0.002) : 0;
    engine.setPad(pad, { ...SILENT, fadeOutFrames, layers: [{ ...sound, ratio, delay: 0 }] });
    return ratio;
  }

  private playOnce(where: Where, sound: PooledSound): void {
    const { engine } = this;
    const ratio = this.lay(AUDITION, sound, true);
    engine.strike(AUDITION, 127);
    this.nowPlaying.set({ ...where, engineFrame: engine.frame, ratio, loops: false });
  }

  /** Has a sound struck anew at the exact frame at which it ends. */
  private playLoop(where: Where, sound: PooledSound): void {
    const { engine } = this;
    const ratio = this.lay(AUDITION, sound, false);
    const lap = Math.max(LEAST_LAP_S * engine.sampleRate, (sound.end - sound.start) / ratio);
    const first = engine.frame + Math.round(AHEAD_S * engine.sampleRate);
    engine.setScore([{ at: 0, pad: AUDITION, velocity: 127, from: -1, to: -1 }], lap);
    engine.play(first);
    this.nowPlaying.set({ ...where, engineFrame: first, ratio, loops: true });
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
      this.leases.push(lease);
      // Two parts at most are heard or to come.
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
      // The last part is waited for to its end, so that who asked knows when all has been heard.
      const until = to >= end ? (to - start) / ratio : (part + 0.5) * engineFrames;
      while (turn === this.turn && engine.frame < at + until) await new Promise((r) => setTimeout(r, 100));
      if (turn !== this.turn) return;
    }
  }

  /** Plays strokes at exact frames, again and again with the recording's own length, until something else is heard or it is stopped. */
  async playRhythm(recording: RecordingView, strokes: readonly RhythmStroke[]): Promise<void> {
    this.stop();
    const { engine } = this;
    engine.resume();
    const turn = this.turn;
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

  get playsRhythm(): boolean {
    return this.rhythm !== null;
  }

  /** Has other strokes played from the next one on; nothing where no rhythm runs. */
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
    );
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

/** A stretch of a recording that lies in a longer one. */
function within(lease: Lease, { sampleRate }: RecordingView, startFrame: number, endFrame: number): PooledHit {
  const { left, right, start } = lease.entry;
  return { lease, sound: { left, right, start: startFrame - start, end: endFrame - start, sampleRate, gain: 1 } };
}
