import type { VoiceEngine } from './engine';
import { PROGRAMS } from './limits';
import { OFFSET_NAMES } from './moves';
import {
  CHANGE,
  CHANGE_FLOATS,
  CHANGES_AT,
  copyScore,
  HEAD,
  SCORE_FLOATS,
  STROKE,
  STROKE_FLOATS,
  STROKES_AT,
} from './score';

/** Frames over which what sounds goes to where the changes are by now, when a score is taken up in the middle. */
const CATCHING_UP = 128;
/** Frames over which it goes to where a change jumps to. */
const JUMP = 64;

/**
 * Plays a score by engine frames, independent of the block length; changes apply from the next stroke on. Allocates
 * nothing while playing.
 */
export class Transport {
  private readonly score = new Float64Array(SCORE_FLOATS);
  /** Engine frame at which the first lap began; laps after it are counted, so that fractions accumulate exactly. */
  private begun = 0;
  private lap = 0;
  private next = 0;
  /** The same for changes of programs. */
  private changeLap = 0;
  private nextChange = 0;
  private catchesUp = false;
  private running = false;
  /** 1 for each pad and bus whose program the score changes. */
  readonly touched = new Uint8Array(PROGRAMS);
  private readonly seen = new Uint8Array(PROGRAMS);

  /** Loads the score at float `at` of `from`; a running one continues at the same time. */
  load(from: Float64Array, at: number, now: number): void {
    const { score, touched } = this;
    copyScore(from, at, score);
    touched.fill(0);
    for (let i = 0; i < (score[HEAD.changes] as number); i++)
      touched[score[CHANGES_AT + i * CHANGE_FLOATS + CHANGE.place] as number] = 1;
    if (this.running) this.seek(now);
  }

  /** Begins the first lap at an engine frame; strokes before `now` are passed over. */
  start(frame: number, now: number): void {
    this.begun = frame;
    this.running = true;
    this.seek(now);
  }

  /** Writes the engine frame at which the lap that is heard began; -Infinity while it stands still. */
  report(into: Float64Array, at: number): void {
    into[at] = this.running ? this.begun + this.lap * (this.score[HEAD.length] as number) : Number.NEGATIVE_INFINITY;
  }

  stop(): void {
    this.running = false;
  }

  get isRunning(): boolean {
    return this.running;
  }

  /** A program has been loaded: what the score changes of it is changed anew. */
  renew(place: number): void {
    if (this.running && this.touched[place] === 1) this.catchesUp = true;
  }

  /** Passes the engine every stroke and change of its next `frames` frames. Call it before they are rendered. */
  schedule(engine: VoiceEngine, frames: number): void {
    if (!this.running) return;
    const end = engine.frame + frames;
    engine.patches = this.score;
    if (this.catchesUp) this.catchUp(engine);
    this.scheduleChanges(engine, end);
    const { score } = this;
    const count = score[HEAD.strokes] as number;
    for (;;) {
      if (this.next >= count) {
        if (this.begun + (this.lap + 1) * (score[HEAD.length] as number) >= end) return;
        this.lap++;
        this.next = 0;
        if (count === 0) continue;
      }
      // Many strokes at once, and what they are let go at, must find room in the engine; the rest wait for the next block.
      if (!engine.hasRoom) return;
      const at = STROKES_AT + this.next * STROKE_FLOATS;
      const frame = this.frameOf(this.next);
      if (frame >= end) return;
      for (let i = 0; i < OFFSET_NAMES.length; i++) engine.offsets[i] = score[at + STROKE.offsets + i] as number;
      engine.strike(
        score[at + STROKE.pad] as number,
        score[at + STROKE.velocity] as number,
        frame,
        score[at + STROKE.from] as number,
        score[at + STROKE.to] as number,
      );
      const until = score[at + STROKE.until] as number;
      if (until >= 0) {
        const lapBegan = this.begun + this.lap * (score[HEAD.length] as number);
        engine.release(score[at + STROKE.pad] as number, Math.round(lapBegan + until));
      }
      this.next++;
    }
  }

  private scheduleChanges(engine: VoiceEngine, end: number): void {
    const { score } = this;
    const count = score[HEAD.changes] as number;
    if (count === 0) return;
    for (;;) {
      if (this.nextChange >= count) {
        if (this.begun + (this.changeLap + 1) * (score[HEAD.length] as number) >= end) return;
        this.changeLap++;
        this.nextChange = 0;
      }
      if (!engine.hasRoom) return;
      const frame = this.changeFrame(this.nextChange);
      if (frame >= end) return;
      const at = CHANGES_AT + this.nextChange * CHANGE_FLOATS;
      const over = Math.round(score[at + CHANGE.over] as number);
      // A stroke at the frame of a jump has it already; at that of a line it begins where the line does.
      engine.patch(
        score[at + CHANGE.place] as number,
        score[at + CHANGE.first] as number,
        score[at + CHANGE.count] as number,
        over > 0 ? over : JUMP,
        over > 0 ? frame + 1 : frame,
      );
      this.nextChange++;
    }
  }

  /** Brings every program that the score changes to where it is by now. */
  private catchUp(engine: VoiceEngine): void {
    const { score, seen } = this;
    this.catchesUp = false;
    seen.fill(0);
    for (let i = this.nextChange - 1; i >= 0; i--) {
      const at = CHANGES_AT + i * CHANGE_FLOATS;
      const place = score[at + CHANGE.place] as number;
      if (seen[place] === 1) continue;
      seen[place] = 1;
      if (!engine.hasRoom) return;
      engine.patch(place, score[at + CHANGE.first] as number, score[at + CHANGE.count] as number, CATCHING_UP);
    }
  }

  private frameOf(stroke: number): number {
    const { score } = this;
    const at = STROKES_AT + stroke * STROKE_FLOATS;
    return Math.round(this.begun + this.lap * (score[HEAD.length] as number) + (score[at] as number));
  }

  private changeFrame(change: number): number {
    const { score } = this;
    const at = CHANGES_AT + change * CHANGE_FLOATS;
    return Math.round(this.begun + this.changeLap * (score[HEAD.length] as number) + (score[at] as number));
  }

  /** The first stroke, and the first change, at or after an engine frame. */
  private seek(now: number): void {
    const { score } = this;
    this.lap = Math.max(0, Math.floor((now - this.begun) / (score[HEAD.length] as number)));
    this.next = 0;
    while (this.next < (score[HEAD.strokes] as number) && this.frameOf(this.next) < now) this.next++;
    this.changeLap = this.lap;
    this.nextChange = 0;
    while (this.nextChange < (score[HEAD.changes] as number) && this.changeFrame(this.nextChange) < now)
      this.nextChange++;
    this.catchesUp = this.nextChange > 0;
  }
}
