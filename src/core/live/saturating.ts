import { Kernel } from '../kernel/kernel';
import { SATURATION as S, STEP } from './figures';
import { halfBand } from './half-band';
import { BLOCK } from './limits';

/** Up to 20 kHz at 44.1 kHz pass, images lie under -100 dB; each for another doubling of the rate. */
const STAGES = [halfBand(12, 0.046), halfBand(5, 0.26), halfBand(4, 0.38), halfBand(3, 0.44)] as const;
/** Doublings of the rate for gentle drives, and for those that make more overtones. */
export const [COARSE, FINE] = [3, STAGES.length] as const;
/** Doubles of a stage's state, one way: both channels, in and out. */
const STATE = STAGES.map((stage) => 4 * stage.length);
/** Doubles of a channel's state in the curve and after it. */
const CURVE = 10;

/** How far from the middle the lopsided curve works. */
const LEAN = 0.5;
const TANH_LEAN = Math.tanh(LEAN);
/** Two samples nearer than this are taken as one: their difference quotient would be rounding. */
const SAME = 1e-5;
/** Over this the round curve is straight to within a rounding. */
const STRAIGHT = 19;

/** Cutoffs go up to this share of the raised rate. */
const HIGHEST = 0.45;

const [ROUND, CUT, LEANS] = [0, 1, 2] as const;

/** What all saturations of a thread work in: a kernel of their own, so that no view is ever detached. */
interface Workshop {
  readonly kernel: Kernel;
  readonly coefficients: readonly number[];
  /** Address of the state of the stages that are worked on, up and down, and its doubles. */
  readonly state: number;
  readonly states: Float64Array;
  /** Addresses of the rows at each rate, and their doubles, left and right by turns. */
  readonly rows: readonly number[];
  readonly views: readonly Float64Array[];
}

let workshop: Workshop | null = null;

/** Makes what all saturations of a thread share, before the first sounds. */
export function readySaturations(): Workshop {
  if (workshop) return workshop;
  const kernel = new Kernel();
  const coefficients = STAGES.map((stage) => kernel.lay(stage));
  const doubles = 2 * STATE.reduce((sum, n) => sum + n, 0);
  const state = kernel.run.reserve(8 * doubles);
  const rows = Array.from({ length: STAGES.length + 1 }, (_, i) => kernel.run.reserve(8 * 2 * BLOCK * 2 ** i));
  const views = rows.map((at, i) => kernel.doubles(at, 2 * BLOCK * 2 ** i));
  workshop = { kernel, coefficients, state, states: kernel.doubles(state, doubles), rows, views };
  return workshop;
}

/**
 * The saturation of treatments on a running sound (`core/dynamics/saturate.ts`): oversampled, each value the mean of the
 * curve since the last one (J. Parker, V. Zavalishin, E. Le Bivic, DAFx 2016). The unchanged part of the mix goes through
 * the same filters, so that both stay in phase.
 */
export class Saturating {
  private readonly factor: number;
  private readonly stageStates: Float64Array;
  private readonly curves = new Float64Array(2 * CURVE);

  /** So many doublings of the rate. */
  constructor(private readonly stages: number) {
    this.factor = 2 ** stages;
    this.stageStates = new Float64Array(2 * STATE.slice(0, stages).reduce((sum, n) => sum + n, 0));
  }

  /** Begins in silence with a curve. */
  reset(character: number): void {
    this.stageStates.fill(0);
    this.curves.fill(0);
    const rest = character === LEANS ? LEAN + Math.log1p(Math.exp(-2 * LEAN)) - Math.LN2 : character > LEANS ? -1 : 0;
    this.curves[1] = rest;
    this.curves[CURVE + 1] = rest;
  }

  process(
    left: Float64Array,
    right: Float64Array,
    at: number,
    count: number,
    now: Float64Array,
    character: number,
  ): void {
    const { stages, stageStates } = this;
    const { kernel, coefficients, state, states, rows, views } = readySaturations();
    const { run } = kernel;
    const base = views[0] as Float64Array;
    for (let i = 0; i < count; i++) {
      base[2 * i] = left[at + i] as number;
      base[2 * i + 1] = right[at + i] as number;
    }
    for (let i = 0; i < stageStates.length; i++) states[i] = stageStates[i] as number;
    let place = state;
    for (let i = 0; i < stages; i++) {
      const sections = (STAGES[i] as Float64Array).length;
      run.raisePair(rows[i] as number, count << i, coefficients[i] as number, sections, place, rows[i + 1] as number);
      place += 8 * (STATE[i] as number);
    }
    const raised = views[stages] as Float64Array;
    this.curve(raised, 0, this.factor * count, now, character);
    this.curve(raised, 1, this.factor * count, now, character);
    for (let i = stages - 1; i >= 0; i--) {
      const sections = (STAGES[i] as Float64Array).length;
      run.lowerPair(rows[i + 1] as number, count << i, coefficients[i] as number, sections, place, rows[i] as number);
      place += 8 * (STATE[i] as number);
    }
    for (let i = 0; i < stageStates.length; i++) stageStates[i] = states[i] as number;
    for (let i = 0; i < count; i++) {
      left[at + i] = base[2 * i] as number;
      right[at + i] = base[2 * i + 1] as number;
    }
  }

  /** A channel through the curve, the low-pass and the taking off of a constant, and mixed with what came. */
  private curve(x: Float64Array, channel: number, frames: number, now: Float64Array, character: number): void {
    const { curves } = this;
    const place = channel * CURVE;
    const drive = now[S.drive] as number;
    const output = now[S.output] as number;
    const mix = now[STEP.mix] as number;
    // A first-order low-pass by the bilinear transform, and what takes off a constant.
    const k = Math.tan(Math.PI * Math.min(HIGHEST, (now[S.tone] as number) / this.factor));
    const b = k / (1 + k);
    const a = (k - 1) / (1 + k);
    const leak = (2 * Math.PI * (now[S.dc] as number)) / this.factor;
    let before = curves[place] as number;
    let integral = curves[place + 1] as number;
    let last = curves[place + 2] as number;
    let dry = curves[place + 3] as number;
    let dryBefore = curves[place + 4] as number;
    let meanBefore = curves[place + 5] as number;
    let low = curves[place + 6] as number;
    let constant = curves[place + 7] as number;
    let out = curves[place + 8] as number;
    let outBefore = curves[place + 9] as number;
    const end = 2 * frames;
    for (let i = channel; i < end; i += 2) {
      const here = x[i] as number;
      const value = drive * here;
      const away = Math.abs(value);
      let whole: number;
      if (character === ROUND) {
        whole = away - Math.LN2;
        if (away < STRAIGHT) whole += Math.log1p(Math.exp(-2 * away));
      } else if (character === CUT) whole = away <= 1 ? (value * value) / 2 : away - 0.5;
      else if (character === LEANS) {
        const leant = Math.abs(value + LEAN);
        whole = leant - Math.LN2 - value * TANH_LEAN;
        if (leant < STRAIGHT) whole += Math.log1p(Math.exp(-2 * leant));
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
      low = b * (mean + meanBefore) - a * low;
      meanBefore = mean;
      constant += leak * (low - constant);
      const wet = low - constant;
      // Of a straight curve the mean would be this of what came.
      const mixed = ((1 - mix) * (here + 2 * dry + dryBefore)) / 4 + mix * output * wet;
      // What both means take off the highs, (1 + cos w) / 2, is given back: about 1 - w^2 / 4.
      x[i] = out - (mixed - 2 * out + outBefore) / 4;
      outBefore = out;
      out = mixed;
      dryBefore = dry;
      dry = here;
    }
    curves[place] = before;
    curves[place + 1] = integral;
    curves[place + 2] = last;
    curves[place + 3] = dry;
    curves[place + 4] = dryBefore;
    curves[place + 5] = meanBefore;
    curves[place + 6] = low;
    curves[place + 7] = constant;
    curves[place + 8] = out;
    curves[place + 9] = outBefore;
  }
}
