import { OFFSET_NAMES } from './moves';

/** Most events that wait. */
const MOST = 4096;
/** Floats of an event: kind, pad, value, the range of frames to play, and what a stroke is off by. */
const FLOATS = 5 + OFFSET_NAMES.length;

/** Floats of an event; a pad is a controller's number where the event is of one. */
export const EVENT = { kind: 0, pad: 1, value: 2, from: 3, to: 4, offsets: 5 } as const;

/** Events of the engine in order of their frames. Allocates nothing; an event that does not fit is dropped: ask for room first. */
export class EventQueue {
  private readonly frames = new Float64Array(MOST);
  private readonly data = new Float64Array(MOST * FLOATS);
  private count = 0;
  /** The event last taken out; see `EVENT`. */
  readonly due = new Float64Array(FLOATS);
  /** What the next event is off by; 0 again after it. */
  readonly offsets = new Float64Array(OFFSET_NAMES.length);

  get hasRoom(): boolean {
    return this.count < MOST;
  }

  /** Frame of the first event; Infinity without any. */
  get next(): number {
    return this.count > 0 ? (this.frames[0] as number) : Number.POSITIVE_INFINITY;
  }

  add(frame: number, kind: number, pad: number, value: number, from = -1, to = -1): void {
    const { offsets } = this;
    if (this.count >= MOST) {
      offsets.fill(0);
      return;
    }
    let i = this.count;
    for (; i > 0 && (this.frames[i - 1] as number) > frame; i--) {
      this.frames[i] = this.frames[i - 1] as number;
      this.data.copyWithin(i * FLOATS, (i - 1) * FLOATS, i * FLOATS);
    }
    this.frames[i] = frame;
    const at = i * FLOATS;
    this.data[at] = kind;
    this.data[at + 1] = pad;
    this.data[at + 2] = value;
    this.data[at + 3] = from;
    this.data[at + 4] = to;
    for (let o = 0; o < OFFSET_NAMES.length; o++) this.data[at + EVENT.offsets + o] = offsets[o] as number;
    offsets.fill(0);
    this.count++;
  }

  /** Takes the first event out, into `due`. */
  take(): void {
    for (let i = 0; i < FLOATS; i++) this.due[i] = this.data[i] as number;
    this.count--;
    this.frames.copyWithin(0, 1, this.count + 1);
    this.data.copyWithin(0, FLOATS, (this.count + 1) * FLOATS);
  }

  /** Drops the events of a pad, or of all for -1, from a frame on. */
  cancel(pad: number, frame: number): void {
    let kept = 0;
    for (let i = 0; i < this.count; i++) {
      const mine = pad < 0 || this.data[i * FLOATS + 1] === pad;
      if (mine && (this.frames[i] as number) >= frame) continue;
      this.frames[kept] = this.frames[i] as number;
      this.data.copyWithin(kept * FLOATS, i * FLOATS, (i + 1) * FLOATS);
      kept++;
    }
    this.count = kept;
  }
}
