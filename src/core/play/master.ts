import { fromDb } from '../signal/units';

/** Time by which the limiter knows what comes, and by which it delays what it passes. */
export const LOOK_AHEAD_S = 0.0007;
/** Time constant of its letting go. */
const RELEASE_S = 0.08;
const SWITCH_S = 0.005;
export const CEILING_DB = -0.1;
const CEILING = fromDb(CEILING_DB);
/** A gain this near to 1 is 1. */
const NEARLY = 1 - 1e-5;

/**
 * The master of the engine: a limiter that can be off. It looks ahead: the gain that each frame needs falls at once and
 * rises slowly, its lowest over the look-ahead is averaged over the same time, and so is down when the peak comes (after
 * the two-stage design of P. Hämäläinen, "Smoothing of the control signal without clipped output in digital peak limiters",
 * DAFx 2002). What needs no gain passes unchanged, later by the look-ahead; switched off, at once. Independent of the block
 * length; allocates nothing.
 */
export class Master {
  private readonly length: number;
  private readonly left: Float32Array;
  private readonly right: Float32Array;
  /** Gains that the last frames need, the lowest around each, and the frames of those that rise towards the latest. */
  private readonly needed: Float64Array;
  private readonly lowest: Float64Array;
  private readonly rising: Float64Array;
  private first = 0;
  private count = 0;
  private readonly release: number;
  private readonly switchFrames: number;
  private frame = 0;
  private gain = 1;
  private sum: number;
  /** Frames since anything needed a gain. */
  private free = 0;
  /** How far it is switched on, in frames of the switching. */
  private switched: number;
  /** Highest sample that came in since this was last set to 0, linear; and the lowest gain since it was last set to 1. */
  highest = 0;
  reduced = 1;

  constructor(
    sampleRate: number,
    private isOn: boolean,
  ) {
    this.length = Math.round(LOOK_AHEAD_S * sampleRate) + 1;
    this.left = new Float32Array(this.length);
    this.right = new Float32Array(this.length);
    this.needed = new Float64Array(this.length).fill(1);
    this.lowest = new Float64Array(this.length).fill(1);
    this.rising = new Float64Array(this.length + 1);
    this.release = 1 - Math.exp(-1 / (RELEASE_S * sampleRate));
    this.switchFrames = Math.round(SWITCH_S * sampleRate);
    this.switched = isOn ? this.switchFrames : 0;
    this.sum = this.length;
    this.free = 2 * this.length;
  }

  /** Switches the limiter, within 5 ms; at once before the first frame. */
  turn(isOn: boolean): void {
    this.isOn = isOn;
    if (this.frame === 0) this.switched = isOn ? this.switchFrames : 0;
  }

  /** Limits `count` frames in place, from index `at` on. */
  process(left: Float32Array, right: Float32Array, count: number, at = 0): void {
    const { length, needed, lowest } = this;
    for (let i = at; i < at + count; i++) {
      const l = left[i] as number;
      const r = right[i] as number;
      const peak = Math.max(Math.abs(l), Math.abs(r));
      if (peak > this.highest) this.highest = peak;
      const place = this.frame % length;
      const wanted = peak > CEILING ? CEILING / peak : 1;
      this.gain = wanted < this.gain ? wanted : this.gain + (1 - this.gain) * this.release;
      if (this.gain > NEARLY) this.gain = 1;
      let gain = 1;
      this.free = this.gain < 1 ? 0 : this.free + 1;
      if (this.free < 2 * length) {
        needed[place] = this.gain;
        const least = this.leastOf(place);
        this.sum += least - (lowest[place] as number);
        lowest[place] = least;
        gain = Math.min(1, this.sum / length);
      } else if (this.free === 2 * length) {
        needed.fill(1);
        lowest.fill(1);
        this.count = 0;
        this.sum = length;
      }
      // The ring is as long as the look-ahead and one: what lies after this frame's place came in first.
      this.left[place] = l;
      this.right[place] = r;
      this.frame++;
      const oldest = this.frame % length;
      this.pass(left, right, i, gain, oldest);
    }
  }

  /** Gives a frame out: as it came, or delayed and limited, or between both while it is switched. */
  private pass(left: Float32Array, right: Float32Array, i: number, gain: number, oldest: number): void {
    const { switchFrames } = this;
    if (this.isOn && this.switched < switchFrames) this.switched++;
    if (!this.isOn && this.switched > 0) this.switched--;
    if (this.switched === 0) return;
    if (gain < this.reduced) this.reduced = gain;
    const l = (this.left[oldest] as number) * gain;
    const r = (this.right[oldest] as number) * gain;
    const share = this.switched / switchFrames;
    left[i] = share === 1 ? l : share * l + (1 - share) * (left[i] as number);
    right[i] = share === 1 ? r : share * r + (1 - share) * (right[i] as number);
  }

  /** The lowest of the gains needed in the last frames, the one at `place` the latest (a queue of the rising ones). */
  private leastOf(place: number): number {
    const { rising, needed, length } = this;
    const size = length + 1;
    // Out goes the frame that is overwritten next time, and all that the new one undercuts.
    while (this.count > 0 && (rising[this.first] as number) <= this.frame - length) {
      this.first = (this.first + 1) % size;
      this.count--;
    }
    const value = needed[place] as number;
    while (this.count > 0) {
      const last = rising[(this.first + this.count - 1) % size] as number;
      if ((needed[last % length] as number) < value) break;
      this.count--;
    }
    rising[(this.first + this.count) % size] = this.frame;
    this.count++;
    return needed[(rising[this.first] as number) % length] as number;
  }
}
