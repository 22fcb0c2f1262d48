import { SECTION_FLOATS, SECTIONS, STEP } from './figures';

/** Filter sections one after another on a running sound of two channels, in double precision (transposed direct form II). */
export class Equalising {
  /** Two values a section and channel. */
  private readonly states = new Float64Array(SECTIONS * 4);

  reset(): void {
    this.states.fill(0);
  }

  /** Filters `count` frames in place by the figures in `now`. */
  process(left: Float64Array, right: Float64Array, at: number, count: number, now: Float64Array): void {
    for (let section = 0; section < SECTIONS; section++) {
      const f = STEP.own + section * SECTION_FLOATS;
      if (isPlain(now, f)) continue;
      this.filter(left, 4 * section, at, count, now, f);
      this.filter(right, 4 * section + 2, at, count, now, f);
    }
  }

  private filter(x: Float64Array, state: number, at: number, count: number, now: Float64Array, f: number): void {
    const { states } = this;
    const b0 = now[f] as number;
    const b1 = now[f + 1] as number;
    const b2 = now[f + 2] as number;
    const a1 = now[f + 3] as number;
    const a2 = now[f + 4] as number;
    let s1 = states[state] as number;
    let s2 = states[state + 1] as number;
    for (let i = at; i < at + count; i++) {
      const value = x[i] as number;
      const out = b0 * value + s1;
      s1 = b1 * value - a1 * out + s2;
      s2 = b2 * value - a2 * out;
      x[i] = out;
    }
    states[state] = s1;
    states[state + 1] = s2;
  }
}

/** Whether a section passes all unchanged. */
function isPlain(now: Float64Array, f: number): boolean {
  return now[f] === 1 && now[f + 1] === 0 && now[f + 2] === 0 && now[f + 3] === 0 && now[f + 4] === 0;
}
