import { SATURATION as S, STEP } from './figures';
import { type HalfBand, halfBand, lower, raise, stateFloats } from './half-band';
import { BLOCK } from './limits';

/** To sixteen times the rate: up to 20 kHz at 44.1 kHz pass, images lie under -100 dB. */
const STAGES = [halfBand(12, 0.046), halfBand(5, 0.26), halfBand(4, 0.38), halfBand(3, 0.44)] as const;
export const FACTOR = 2 ** STAGES.length;
/** Where the state of each stage lies, that of the way up before that of the way down; then that of the curve. */
const PLACES = STAGES.map((_, i) => STAGES.slice(0, i).reduce((sum, stage) => sum + 2 * stateFloats(stage), 0));
const CURVE = STAGES.reduce((sum, stage) => sum + 2 * stateFloats(stage), 0);
const CHANNEL_FLOATS = CURVE + 8;

/** How far from the middle the lopsided curve works. */
const LEAN = 0.5;
const TANH_LEAN = Math.tanh(LEAN);
/** Two samples nearer than this are taken as one: their difference quotient would be rounding. */
const SAME = 1e-5;

const [ROUND, CUT, LEANS] = [0, 1, 2] as const;

const rows = STAGES.map((_, i) => new Float64Array(2 ** (i + 1) * BLOCK));

/**
 * The saturation of treatments on a running sound (`core/dynamics/saturate.ts`): sixteen times oversampled, each value the
 * mean of the curve since the last one (J. Parker, V. Zavalishin, E. Le Bivic, DAFx 2016). The unchanged part of the mix
 * goes through the same filters, so that both stay in phase.
 */
export class Saturating {
  private readonly state = new Float64Array(2 * CHANNEL_FLOATS);

  /** Begins in silence with a curve. */
  reset(character: number): void {
    this.state.fill(0);
    const integral = CURVE + 1;
    this.state[integral] = atRest(character);
    this.state[CHANNEL_FLOATS + integral] = atRest(character);
  }

  process(
    left: Float64Array,
    right: Float64Array,
    at: number,
    count: number,
    now: Float64Array,
    character: number,
  ): void {
    this.bend(left, 0, at, count, now, character);
    this.bend(right, CHANNEL_FLOATS, at, count, now, character);
  }

  private bend(
    x: Float64Array,
    channel: number,
    at: number,
    count: number,
    now: Float64Array,
    character: number,
  ): void {
    const { state } = this;
    for (let i = 0; i < STAGES.length; i++) {
      const place = channel + (PLACES[i] as number);
      if (i === 0) raise(STAGES[0], state, place, x, at, count, rows[0] as Float64Array);
      else
        raise(STAGES[i] as HalfBand, state, place, rows[i - 1] as Float64Array, 0, count << i, rows[i] as Float64Array);
    }
    this.curve(rows.at(-1) as Float64Array, channel + CURVE, FACTOR * count, now, character);
    for (let i = STAGES.length - 1; i >= 0; i--) {
      const stage = STAGES[i] as HalfBand;
      const place = channel + (PLACES[i] as number) + stateFloats(stage);
      if (i === 0) lower(stage, state, place, rows[0] as Float64Array, count, x, at);
      else lower(stage, state, place, rows[i] as Float64Array, count << i, rows[i - 1] as Float64Array, 0);
    }
  }

  /** Through the curve, the low-pass and the taking off of a constant, and mixed with what came. */
  private curve(x: Float64Array, place: number, length: number, now: Float64Array, character: number): void {
    const { state } = this;
    const drive = now[S.drive] as number;
    const output = now[S.output] as number;
    const mix = now[STEP.mix] as number;
    const b0 = now[S.b0] as number;
    const b1 = now[S.b1] as number;
    const a1 = now[S.a1] as number;
    const pole = now[S.dc] as number;
    let before = state[place] as number;
    let integral = state[place + 1] as number;
    let last = state[place + 2] as number;
    let dry = state[place + 3] as number;
    let dryBefore = state[place + 4] as number;
    let meanBefore = state[place + 5] as number;
    let low = state[place + 6] as number;
    let constant = state[place + 7] as number;
    for (let i = 0; i < length; i++) {
      const here = x[i] as number;
      const value = drive * here;
      const away = Math.abs(value);
      let whole: number;
      if (character === ROUND) whole = away + Math.log1p(Math.exp(-2 * away)) - Math.LN2;
      else if (character === CUT) whole = away <= 1 ? (value * value) / 2 : away - 0.5;
      else if (character === LEANS) {
        const leant = Math.abs(value + LEAN);
        whole = leant + Math.log1p(Math.exp(-2 * leant)) - Math.LN2 - value * TANH_LEAN;
      } else whole = -Math.cos(value);
      const step = value - before;
      let bent: number;
      if (step > SAME || step < -SAME) bent = (whole - integral) / step;
      else {
        const middle = (value + before) / 2;
        if (character === ROUND) bent = Math.tanh(middle);
        else if (character === CUT) bent = Math.max(-1, Math.min(1, middle));
        else if (character === LEANS) bent = Math.tanh(middle + LEAN) - TANH_LEAN;
        else bent = Math.sin(middle);
      }
      before = value;
      integral = whole;
      // The mean over the intervals to both sides of the last sample.
      const mean = (bent + last) / 2;
      last = bent;
      low = b0 * mean + b1 * meanBefore - a1 * low;
      meanBefore = mean;
      let wet = low;
      if (pole > 0) {
        constant += (1 - pole) * (low - constant);
        wet = low - constant;
      }
      // Of a straight curve the mean would be this of what came.
      x[i] = ((1 - mix) * (here + 2 * dry + dryBefore)) / 4 + mix * output * wet;
      dryBefore = dry;
      dry = here;
    }
    state[place] = before;
    state[place + 1] = integral;
    state[place + 2] = last;
    state[place + 3] = dry;
    state[place + 4] = dryBefore;
    state[place + 5] = meanBefore;
    state[place + 6] = low;
    state[place + 7] = constant;
  }
}

/** What the curve's antiderivative is in silence. */
function atRest(character: number): number {
  if (character === ROUND || character === CUT) return 0;
  if (character === LEANS) return Math.abs(LEAN) + Math.log1p(Math.exp(-2 * LEAN)) - Math.LN2;
  return -1;
}
