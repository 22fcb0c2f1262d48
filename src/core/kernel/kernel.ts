import { fromBase64 } from '../bytes';
import { KERNEL_WASM } from './kernel-wasm';

/** Exports of src/core/kernel/assembly; pointers are byte addresses in its memory. */
interface Exports {
  readonly memory: WebAssembly.Memory;
  mark(): number;
  release(to: number): void;
  reserve(bytes: number): number;
  fillTwiddles(at: number, size: number): void;
  novelty(
    samples: number,
    length: number,
    size: number,
    hop: number,
    hops: number,
    lag: number,
    window: number,
    twiddles: number,
    count: number,
    midAt: number,
    highAt: number,
    firstBin: number,
    offset: number,
    weights: number,
    scale: number,
    out: number,
  ): void;
  magnitudePair(
    samples: number,
    length: number,
    a: number,
    b: number,
    size: number,
    window: number,
    twiddles: number,
    work: number,
    outA: number,
    outB: number,
  ): void;
  placePowers(
    samples: number,
    length: number,
    residual: number,
    residualLength: number,
    residualAt: number,
    middle: number,
    step: number,
    powers: number,
    sums: number,
  ): void;
  highest(samples: number, length: number): number;
  plainEnergy(samples: number, from: number, to: number): number;
  suddenEnergy(samples: number, from: number, to: number): number;
  mostSudden(samples: number, from: number, to: number): number;
  placeFeatures(sums: number, powers: number, out: number): void;
  placeScores(features: number, count: number, inner: number, offset: number, outer: number, out: number): void;
  readBetween(
    left: number,
    right: number,
    first: number,
    position: number,
    ratio: number,
    bend: number,
    count: number,
    rows: number,
    taps: number,
    phases: number,
    out: number,
  ): void;
  readBetweenMono(
    samples: number,
    first: number,
    position: number,
    ratio: number,
    bend: number,
    count: number,
    rows: number,
    taps: number,
    phases: number,
    out: number,
  ): void;
  mixFrames(frames: number, count: number, bus: number, gains: number, byLeft: number, byRight: number): number;
  stateVariable(
    frames: number,
    count: number,
    state: number,
    dg: number,
    dk1: number,
    dk2: number,
    m0: number,
    m1: number,
    m2: number,
    sections: number,
  ): void;
  throughPair(x: number, count: number, responses: number, taps: number, out: number): void;
  raisePair(x: number, count: number, coefficients: number, sections: number, state: number, out: number): void;
  lowerPair(x: number, count: number, coefficients: number, sections: number, state: number, out: number): void;
  peaksAround(x: number, length: number, factor: number, reach: number, out: number): void;
  peakOfDoubles(x: number, length: number): number;
  doubleRate(x: number, length: number, taps: number, count: number, out: number): void;
  halveRate(x: number, length: number, taps: number, count: number, odd: number, out: number): void;
  transform(re: number, other: number, size: number, twiddles: number): number;
  realSpectrum(values: number, size: number, twiddles: number, work: number, bins: number, out: number): void;
  weighDown(spectrum: number, bins: number, out: number): void;
  coherenceFigures(a: number, b: number, out: number): void;
  zoneDifferences(a: number, b: number, cells: number, out: number): void;
  dotProduct(a: number, b: number, count: number): number;
  figureDifferences(a: number, b: number, families: number, out: number): void;
  pairInputs(a: number, b: number, families: number, out: number): void;
  networkOutputs(network: number, values: number, out: number): void;
  pairScores(
    a: number,
    others: number,
    count: number,
    families: number,
    network: number,
    values: number,
    out: number,
  ): void;
  foldPairs(from: number, frames: number, out: number): number;
  stepEnergies(samples: number, length: number, step: number, count: number, out: number): void;
  stepPowers(samples: number, length: number, step: number, out: number): void;
  energies(x: number, length: number, out: number): void;
  widen(from: number, length: number, to: number): void;
  autocorrelation(x: number, length: number, order: number, out: number): void;
  correlations(x: number, length: number, order: number, out: number): void;
  filteredEnergies(x: number, length: number, coefficients: number, step: number, weight: number, out: number): number;
  likenessAt(x: number, length: number, lag: number): number;
  linePower(x: number, length: number, lag: number): number;
  decimate(x: number, length: number, taps: number, count: number, factor: number, out: number): void;
  residual(x: number, length: number, a: number, order: number, out: number): void;
  levinson(r: number, order: number, a: number, work: number): void;
  struckDoubles(): number;
  beginStruck(wanted: number, state: number): void;
  struckFrames(wanted: number, state: number, count: number, out: number): void;
  likeliestChange(energy: number, length: number, from: number, to: number, before: number, after: number): number;
}

type Values = Float32Array | Float64Array | Int32Array | Int16Array;

interface Views {
  readonly floats: Float32Array;
  readonly doubles: Float64Array;
  readonly integers: Int32Array;
  readonly shorts: Int16Array;
}

let compiled: WebAssembly.Module | null = null;

/** The vectorised inner loops with their memory; memory reserved during a call is freed after it. */
export class Kernel {
  readonly run: Exports;
  private whole: Views | null = null;

  constructor() {
    // Compiled once a thread, for any number of memories.
    compiled ??= new WebAssembly.Module(fromBase64(KERNEL_WASM));
    this.run = new WebAssembly.Instance(compiled).exports as unknown as Exports;
  }

  /** Frees what `work` reserves. */
  within<T>(work: () => T): T {
    const start = this.run.mark();
    try {
      return work();
    } finally {
      this.run.release(start);
    }
  }

  /** Copies values into memory; returns their address. */
  lay(values: Values): number {
    const at = this.run.reserve(values.byteLength);
    const { floats, doubles, integers, shorts } = this.views();
    if (values instanceof Float32Array) floats.set(values, at / 4);
    else if (values instanceof Float64Array) doubles.set(values, at / 8);
    else if (values instanceof Int32Array) integers.set(values, at / 4);
    else shorts.set(values, at / 2);
    return at;
  }

  /** Copies floats into memory as doubles, after `lead` zeros; returns their address. */
  layWide(values: Float32Array, lead = 0): number {
    const at = this.run.reserve(8 * (lead + values.length));
    this.doubles(at, lead).fill(0);
    this.within(() => this.run.widen(this.lay(values), values.length, at + 8 * lead));
    return at;
  }

  /** A view of memory; a later reservation may detach it. */
  floats(at: number, length: number): Float32Array {
    return this.views().floats.subarray(at / 4, at / 4 + length);
  }

  doubles(at: number, length: number): Float64Array {
    return this.views().doubles.subarray(at / 8, at / 8 + length);
  }

  /** Views of all memory, recreated when it has grown. */
  private views(): Views {
    const { buffer } = this.run.memory;
    if (this.whole?.floats.buffer !== buffer)
      this.whole = {
        floats: new Float32Array(buffer),
        doubles: new Float64Array(buffer),
        integers: new Int32Array(buffer),
        shorts: new Int16Array(buffer),
      };
    return this.whole;
  }
}

let kernel: Kernel | null = null;

/** The thread's kernel, created on first use. */
export function threadKernel(): Kernel {
  kernel ??= new Kernel();
  return kernel;
}
