import { Compressing } from './compressing';
import { Echoing } from './echoing';
import { Equalising } from './equalising';
import { SATURATION as FIGURE, LEVEL as GAIN, STEP, STEP_FLOATS, STEP_KINDS } from './figures';
import { BLOCK } from './limits';
import { Resounding } from './resounding';
import { COARSE, FINE, Saturating } from './saturating';

const [NONE, EQUALISER, COMPRESSOR, SATURATION, ROOM, ECHO, LEVEL] = STEP_KINDS.map((_, i) => i) as [
  number,
  number,
  number,
  number,
  number,
  number,
  number,
];

/** Frames in which figures that were turned get to where they go, and of the lines that make up the way there. */
const GLIDE = 960;
const LINE = 16;

const cameLeft = new Float64Array(BLOCK);
const cameRight = new Float64Array(BLOCK);
const otherLeft = new Float64Array(BLOCK);
const otherRight = new Float64Array(BLOCK);

/**
 * A place for one step of a strip. Figures that are turned glide there along a curve without corners; a step of another
 * kind comes when the one before has gone. Allocates nothing while it sounds.
 */
export class LiveStep {
  private kind = NONE;
  private form = 0;
  private length = 0;
  /** What is wanted of it, its figures now, where they glide from and to, and by how much a frame. */
  private readonly wanted = new Float64Array(STEP_FLOATS);
  private readonly now = new Float64Array(STEP_FLOATS);
  private readonly from = new Float64Array(STEP_FLOATS);
  private readonly goal = new Float64Array(STEP_FLOATS);
  private readonly by = new Float64Array(STEP_FLOATS);
  /** Frames of the glide that are left, and of its line under way. */
  private glideLeft = 0;
  private lineLeft = 0;
  /** Whether its saturation works at one rate. */
  private isSteady = true;
  private readonly equalising = new Equalising();
  private readonly compressing = new Compressing();
  private readonly saturating = new Saturating(COARSE);
  private readonly finer = new Saturating(FINE);
  private readonly resounding = new Resounding();
  private readonly echoing = new Echoing();

  /** Whether it changes what goes through it, now or soon. */
  get works(): boolean {
    return (this.kind !== NONE && (this.now[STEP.on] !== 0 || this.glideLeft > 0)) || this.wanted[STEP.kind] !== NONE;
  }

  /** Frames for which it sounds on after the last of what comes in. */
  get tail(): number {
    if (this.kind === ECHO) return this.echoing.rings ? Number.POSITIVE_INFINITY : 0;
    return this.kind === ROOM ? this.resounding.tail : 0;
  }

  /** Takes up what is wanted, from float `at` of a program, or nothing for -1; at once where nothing sounds. */
  follow(programs: Float64Array, at: number, memory: Float32Array, isQuiet: boolean): void {
    const { wanted } = this;
    if (at < 0) wanted.fill(0);
    else for (let i = 0; i < STEP_FLOATS; i++) wanted[i] = programs[at + i] as number;
    if (isQuiet) this.begin(memory, true);
    else if (this.glideLeft === 0) this.turn(memory);
  }

  /** Forgets what came in, and takes up what is wanted. */
  rest(memory: Float32Array): void {
    this.begin(memory, true);
  }

  /** Does its work on `count` frames from `at` on; they lie within one block of the clock. */
  process(
    memory: Float32Array,
    left: Float64Array,
    right: Float64Array,
    at: number,
    count: number,
    clock: number,
  ): void {
    let done = 0;
    while (done < count) {
      if (this.glideLeft > 0 && this.lineLeft === 0) this.beginLine();
      // Frame by frame while figures glide, so that they are the same however frames are divided into calls.
      const some = this.lineLeft > 0 ? 1 : count - done;
      if (this.kind !== NONE && (this.now[STEP.on] !== 0 || this.by[STEP.on] !== 0))
        this.run(memory, left, right, at + done, some, clock + done);
      if (this.lineLeft > 0) this.advance(memory);
      done += some;
    }
  }

  private run(
    memory: Float32Array,
    left: Float64Array,
    right: Float64Array,
    at: number,
    count: number,
    clock: number,
  ): void {
    const { now } = this;
    // Saturation and room make their mix inside.
    const mixes = this.kind !== SATURATION && this.kind !== ROOM;
    const share = (now[STEP.on] as number) * (mixes ? (now[STEP.mix] as number) : 1);
    if (share !== 1)
      for (let i = 0; i < count; i++) {
        cameLeft[i] = left[at + i] as number;
        cameRight[i] = right[at + i] as number;
      }
    switch (this.kind) {
      case EQUALISER:
        this.equalising.process(left, right, at, count, now);
        break;
      case COMPRESSOR:
        this.compressing.process(left, right, at, count, now, this.form === 1);
        break;
      case SATURATION:
        this.saturate(left, right, at, count);
        break;
      case ROOM:
        this.resounding.process(memory, left, right, at, count, clock, now);
        break;
      case ECHO:
        this.echoing.process(memory, left, right, at, count, now, (this.length & 1) === 1);
        break;
      case LEVEL: {
        const gain = now[GAIN.gain] as number;
        for (let i = at; i < at + count; i++) {
          left[i] = gain * (left[i] as number);
          right[i] = gain * (right[i] as number);
        }
        break;
      }
    }
    if (share === 1) return;
    for (let i = 0; i < count; i++) {
      left[at + i] = share * (left[at + i] as number) + (1 - share) * (cameLeft[i] as number);
      right[at + i] = share * (right[at + i] as number) + (1 - share) * (cameRight[i] as number);
    }
  }

  /** At one of two rates, or between both while it goes over from one to the other. */
  private saturate(left: Float64Array, right: Float64Array, at: number, count: number): void {
    const { now, form, saturating, finer } = this;
    const fine = now[FIGURE.fine] as number;
    if (fine === 0 || fine === 1) {
      (fine === 0 ? saturating : finer).process(left, right, at, count, now, form);
      // The other one begins in silence when it is wanted.
      if (!this.isSteady) (fine === 0 ? finer : saturating).reset(form);
      this.isSteady = true;
      return;
    }
    this.isSteady = false;
    for (let i = 0; i < count; i++) {
      otherLeft[i] = left[at + i] as number;
      otherRight[i] = right[at + i] as number;
    }
    saturating.process(left, right, at, count, now, form);
    finer.process(otherLeft, otherRight, 0, count, now, form);
    for (let i = 0; i < count; i++) {
      left[at + i] = (1 - fine) * (left[at + i] as number) + fine * (otherLeft[i] as number);
      right[at + i] = (1 - fine) * (right[at + i] as number) + fine * (otherRight[i] as number);
    }
  }

  /** Whether what is wanted is what is there, but for figures that glide. */
  private isSame(): boolean {
    const { wanted } = this;
    return wanted[STEP.kind] === this.kind && wanted[STEP.form] === this.form && wanted[STEP.length] === this.length;
  }

  /** Begins to go to what is wanted, where that is not there yet. */
  private turn(memory: Float32Array): void {
    const { wanted, now, goal, from } = this;
    const isSame = this.isSame();
    const isGone = this.kind === NONE || now[STEP.on] === 0;
    if (isGone && (!isSame || wanted[STEP.on] !== 0)) this.begin(memory, false);
    let differs = false;
    for (let i = STEP.on; i < STEP_FLOATS; i++) {
      // What goes away keeps its figures until it is gone.
      const to = isSame || this.isSame() ? (wanted[i] as number) : i === STEP.on ? 0 : (now[i] as number);
      from[i] = now[i] as number;
      goal[i] = to;
      if (to !== now[i]) differs = true;
    }
    this.glideLeft = differs ? GLIDE : 0;
    this.lineLeft = 0;
  }

  /** Becomes what is wanted, in silence; it comes in by and by unless `whole`. */
  private begin(memory: Float32Array, whole: boolean): void {
    const { wanted, now, by } = this;
    this.kind = wanted[STEP.kind] as number;
    this.form = wanted[STEP.form] as number;
    this.length = wanted[STEP.length] as number;
    for (let i = STEP.on; i < STEP_FLOATS; i++) now[i] = wanted[i] as number;
    by.fill(0);
    if (!whole) now[STEP.on] = 0;
    this.glideLeft = 0;
    this.lineLeft = 0;
    if (this.kind === EQUALISER) this.equalising.reset();
    else if (this.kind === COMPRESSOR) this.compressing.reset();
    else if (this.kind === SATURATION) {
      this.saturating.reset(this.form);
      this.finer.reset(this.form);
    } else if (this.kind === ROOM) this.resounding.reset(memory, this.form, this.length);
    else if (this.kind === ECHO) this.echoing.reset(memory, this.form, this.length >> 1);
  }

  private beginLine(): void {
    const { now, from, goal, by } = this;
    const t = (GLIDE - this.glideLeft + LINE) / GLIDE;
    const share = t * t * t * (10 + t * (6 * t - 15));
    for (let i = STEP.on; i < STEP_FLOATS; i++) {
      const to =
        t >= 1 ? (goal[i] as number) : (from[i] as number) + share * ((goal[i] as number) - (from[i] as number));
      by[i] = (to - (now[i] as number)) / LINE;
    }
    this.lineLeft = LINE;
  }

  private advance(memory: Float32Array): void {
    const { now, by, goal } = this;
    for (let i = STEP.on; i < STEP_FLOATS; i++) now[i] = (now[i] as number) + (by[i] as number);
    this.lineLeft--;
    this.glideLeft--;
    if (this.lineLeft > 0) return;
    by.fill(0);
    if (this.glideLeft > 0) return;
    for (let i = STEP.on; i < STEP_FLOATS; i++) now[i] = goal[i] as number;
    this.turn(memory);
  }
}
