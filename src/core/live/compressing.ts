import { COMPRESSOR as C } from './figures';

const SILENCE_DB = -200;
const DB = Math.LN10 / 20;

/**
 * The compressor of treatments on a running sound (`core/dynamics/compress.ts`): the level of both channels in dB, the
 * static curve, and a smooth branching filter of the change of gain. It does not look ahead.
 */
export class Compressing {
  private readonly state = new Float64Array(2);

  reset(): void {
    this.state.fill(0);
  }

  /** Takes `count` frames down in place; `followsPower` for the root mean square in place of the largest sample. */
  process(
    left: Float64Array,
    right: Float64Array,
    at: number,
    count: number,
    now: Float64Array,
    followsPower: boolean,
  ): void {
    const { state } = this;
    const threshold = now[C.threshold] as number;
    const slope = now[C.slope] as number;
    const knee = now[C.knee] as number;
    const attack = now[C.attack] as number;
    const release = now[C.release] as number;
    const pole = now[C.power] as number;
    const makeUp = now[C.makeUp] as number;
    let gain = state[0] as number;
    let power = state[1] as number;
    for (let i = at; i < at + count; i++) {
      const l = left[i] as number;
      const r = right[i] as number;
      power = pole * power + ((1 - pole) * (l * l + r * r)) / 2;
      const level = followsPower ? Math.sqrt(power) : Math.max(Math.abs(l), Math.abs(r));
      const over = (level > 1e-10 ? Math.log(level) / DB : SILENCE_DB) - threshold;
      let goal = 0;
      if (2 * over > -knee)
        goal = 2 * over < knee ? (slope * (over + knee / 2) * (over + knee / 2)) / (2 * knee) : slope * over;
      const of = goal < gain ? attack : release;
      gain = of * gain + (1 - of) * goal;
      const by = makeUp * Math.exp(DB * gain);
      left[i] = l * by;
      right[i] = r * by;
    }
    state[0] = gain;
    state[1] = power;
  }
}
