import { stepAt } from './figures';
import { BLOCK, STRIP_STEPS } from './limits';
import { LiveStep } from './step';

/** What sounds no louder than this, linear, after a block without input is silence. */
const SILENCE = 1e-7;

const left = new Float64Array(BLOCK);
const right = new Float64Array(BLOCK);

/**
 * Steps on a running sound of two channels, one after another. It rests where nothing comes in and nothing rings on. Its
 * output does not depend on how frames are divided into calls.
 */
export class Strip {
  private readonly steps = Array.from({ length: STRIP_STEPS }, () => new LiveStep());
  /** Nothing is in it. */
  isQuiet = true;
  /** Frames since a sample came in, and the highest sample that went out since the block began. */
  private since = 0;
  private highest = 0;
  /** Frames of a fade that empties it, and those that are left; -1 without one. */
  private fadeLength = 1;
  private fadeLeft = -1;
  /** Its highest sample since this was last set to 0, linear. */
  peak = 0;

  /** `memory` is where rooms lie. */
  constructor(private readonly memory: Float32Array) {}

  /** Whether it changes what goes through it. */
  get works(): boolean {
    for (let i = 0; i < STRIP_STEPS; i++) if ((this.steps[i] as LiveStep).works) return true;
    return false;
  }

  /** Takes up the steps at float `at` of a program; what sounds goes over to them within some 20 ms. */
  follow(programs: Float64Array, at: number): void {
    const count = programs[at] as number;
    for (let i = 0; i < STRIP_STEPS; i++)
      (this.steps[i] as LiveStep).follow(programs, i < count ? at + stepAt(i) : -1, this.memory, this.isQuiet);
  }

  /** Fades out what is in it. */
  empty(frames: number): void {
    if (this.isQuiet || this.fadeLeft >= 0) return;
    this.fadeLength = frames;
    this.fadeLeft = frames;
  }

  /**
   * Works on `count` frames, left and right by turns, in place from float `from` on; `isFed` where anything came in, `clock`
   * is the engine's at the first.
   */
  process(frames: Float32Array, from: number, count: number, clock: number, isFed: boolean): void {
    let done = 0;
    while (done < count) {
      if (isFed) this.isQuiet = false;
      if (this.isQuiet) return;
      const left = this.fadeLeft > 0 ? this.fadeLeft : BLOCK;
      const some = Math.min(count - done, left, BLOCK - ((clock + done) % BLOCK));
      this.run(frames, from + 2 * done, some, clock + done);
      done += some;
      if (this.fadeLeft === 0) this.quiet();
      else if ((clock + done) % BLOCK === 0) this.endBlock();
    }
  }

  private run(frames: Float32Array, from: number, count: number, clock: number): void {
    for (let i = 0; i < count; i++) {
      left[i] = frames[from + 2 * i] as number;
      right[i] = frames[from + 2 * i + 1] as number;
      this.since = left[i] !== 0 || right[i] !== 0 ? 0 : this.since + 1;
    }
    for (let s = 0; s < STRIP_STEPS; s++)
      (this.steps[s] as LiveStep).process(this.memory, left, right, 0, count, clock);
    let highest = 0;
    for (let i = 0; i < count; i++) {
      const gain = this.fadeLeft < 0 ? 1 : this.fadeLeft-- / this.fadeLength;
      const l = gain * (left[i] as number);
      const r = gain * (right[i] as number);
      frames[from + 2 * i] = l;
      frames[from + 2 * i + 1] = r;
      highest = Math.max(highest, Math.abs(l), Math.abs(r));
    }
    if (highest > this.highest) this.highest = highest;
    if (highest > this.peak) this.peak = highest;
  }

  /** Rests where nothing has come in for the length of its tail and nothing is heard. */
  private endBlock(): void {
    const { highest } = this;
    this.highest = 0;
    if (this.since < BLOCK || highest > SILENCE) return;
    let tail = 0;
    for (let i = 0; i < STRIP_STEPS; i++) tail += (this.steps[i] as LiveStep).tail;
    if (this.since >= tail) this.quiet();
  }

  private quiet(): void {
    for (let i = 0; i < STRIP_STEPS; i++) (this.steps[i] as LiveStep).rest(this.memory);
    this.isQuiet = true;
    this.fadeLeft = -1;
    this.since = 0;
  }
}
