// The inner loops of onset detection, compiled to WebAssembly with vector instructions by scripts/kernel.mjs. The language is
// AssemblyScript: TypeScript's syntax with machine types. What each part computes is told where it is called
// (novelty.ts, lpc.ts); pointers are bytes into the module's memory.

let top: usize = __heap_base;

/** Where memory is free from; handed back to `release` it frees all that was reserved since. */
export function mark(): usize {
  return top;
}

export function release(to: usize): void {
  top = to;
}

export function reserve(bytes: usize): usize {
  const from = (top + 15) & ~15;
  top = from + bytes;
  const missing = <i32>((top + 0xffff) >>> 16) - memory.size();
  if (missing > 0) memory.grow(missing);
  return from;
}

/**
 * Twiddle factors cos and -sin of 2 pi p / size, `size` of each, one table after the other; then those of 2 p and 3 p likewise, a
 * quarter as many, as the first stage reads them: `3 * size` floats.
 */
export function fillTwiddles(at: usize, size: i32): void {
  for (let p = 0; p < size; p++) {
    const angle = (2.0 * Math.PI * <f64>p) / <f64>size;
    store<f32>(at + 4 * p, <f32>Math.cos(angle));
    store<f32>(at + 4 * (size + p), <f32>-Math.sin(angle));
  }
  const quarter = size >> 2;
  const doubled = at + 8 * size;
  for (let p = 0; p < quarter; p++) {
    store<f32>(doubled + 4 * p, load<f32>(at + 8 * p));
    store<f32>(doubled + 4 * (quarter + p), load<f32>(at + 4 * (size + 2 * p)));
    store<f32>(doubled + 4 * (2 * quarter + p), load<f32>(at + 12 * p));
    store<f32>(doubled + 4 * (3 * quarter + p), load<f32>(at + 4 * (size + 3 * p)));
  }
}

/**
 * Complex transform in place of `size` (a power of two, 16 at least) values, parts apart: Stockham's self-sorting order with
 * radix 4 and one last radix 2 where needed (C. Van Loan, "Computational frameworks for the fast Fourier transform", 1992,
 * section 1.7). Gives where the result lies: `re` with the imaginary part `4 * size` bytes on, or `other` likewise.
 */
function transform(re: usize, other: usize, size: i32, twiddles: usize): usize {
  let x = re;
  let y = other;
  const im = <usize>(4 * size);
  const sines = twiddles + im;
  const doubled = twiddles + 2 * im;
  let n = size;
  let s = 1;
  while (n >= 4) {
    const quarter = n >> 2;
    const step = size / n;
    if (s === 1) {
      // Four neighbours p are worked on at once; what they give is turned, since it comes to lie side by side.
      for (let p = 0; p < quarter; p += 4) {
        const a = x + 4 * p;
        const b = a + 4 * quarter;
        const c = b + 4 * quarter;
        const d = c + 4 * quarter;
        const ar = v128.load(a),
          ai = v128.load(a + im);
        const br = v128.load(b),
          bi = v128.load(b + im);
        const cr = v128.load(c),
          ci = v128.load(c + im);
        const dr = v128.load(d),
          di = v128.load(d + im);
        const acr = f32x4.add(ar, cr),
          aci = f32x4.add(ai, ci);
        const bdr = f32x4.add(br, dr),
          bdi = f32x4.add(bi, di);
        const amr = f32x4.sub(ar, cr),
          ami = f32x4.sub(ai, ci);
        const bmr = f32x4.sub(br, dr),
          bmi = f32x4.sub(bi, di);
        // -i (b - d) = (bmi, -bmr)
        const w1r = v128.load(twiddles + 4 * p),
          w1i = v128.load(sines + 4 * p);
        const w2r = v128.load(doubled + 4 * p),
          w2i = v128.load(doubled + im / 4 + 4 * p);
        const w3r = v128.load(doubled + im / 2 + 4 * p),
          w3i = v128.load(doubled + (3 * im) / 4 + 4 * p);
        const t0r = f32x4.add(acr, bdr),
          t0i = f32x4.add(aci, bdi);
        const u1r = f32x4.add(amr, bmi),
          u1i = f32x4.sub(ami, bmr);
        const u2r = f32x4.sub(acr, bdr),
          u2i = f32x4.sub(aci, bdi);
        const u3r = f32x4.sub(amr, bmi),
          u3i = f32x4.add(ami, bmr);
        const t1r = f32x4.sub(f32x4.mul(u1r, w1r), f32x4.mul(u1i, w1i));
        const t1i = f32x4.add(f32x4.mul(u1r, w1i), f32x4.mul(u1i, w1r));
        const t2r = f32x4.sub(f32x4.mul(u2r, w2r), f32x4.mul(u2i, w2i));
        const t2i = f32x4.add(f32x4.mul(u2r, w2i), f32x4.mul(u2i, w2r));
        const t3r = f32x4.sub(f32x4.mul(u3r, w3r), f32x4.mul(u3i, w3i));
        const t3i = f32x4.add(f32x4.mul(u3r, w3i), f32x4.mul(u3i, w3r));
        const out = y + 16 * p;
        turn(out, t0r, t1r, t2r, t3r);
        turn(out + im, t0i, t1i, t2i, t3i);
      }
    } else {
      for (let p = 0; p < quarter; p++) {
        const w1r = f32x4.splat(load<f32>(twiddles + 4 * p * step)),
          w1i = f32x4.splat(load<f32>(sines + 4 * p * step));
        const w2r = f32x4.splat(load<f32>(twiddles + 8 * p * step)),
          w2i = f32x4.splat(load<f32>(sines + 8 * p * step));
        const w3r = f32x4.splat(load<f32>(twiddles + 12 * p * step)),
          w3i = f32x4.splat(load<f32>(sines + 12 * p * step));
        for (let q = 0; q < s; q += 4) {
          const a = x + 4 * (q + s * p);
          const b = a + 4 * s * quarter;
          const c = b + 4 * s * quarter;
          const d = c + 4 * s * quarter;
          const ar = v128.load(a),
            ai = v128.load(a + im);
          const br = v128.load(b),
            bi = v128.load(b + im);
          const cr = v128.load(c),
            ci = v128.load(c + im);
          const dr = v128.load(d),
            di = v128.load(d + im);
          const acr = f32x4.add(ar, cr),
            aci = f32x4.add(ai, ci);
          const bdr = f32x4.add(br, dr),
            bdi = f32x4.add(bi, di);
          const amr = f32x4.sub(ar, cr),
            ami = f32x4.sub(ai, ci);
          const bmr = f32x4.sub(br, dr),
            bmi = f32x4.sub(bi, di);
          const u1r = f32x4.add(amr, bmi),
            u1i = f32x4.sub(ami, bmr);
          const u2r = f32x4.sub(acr, bdr),
            u2i = f32x4.sub(aci, bdi);
          const u3r = f32x4.sub(amr, bmi),
            u3i = f32x4.add(ami, bmr);
          const out = y + 4 * (q + 4 * s * p);
          const o1 = out + 4 * s;
          const o2 = o1 + 4 * s;
          const o3 = o2 + 4 * s;
          v128.store(out, f32x4.add(acr, bdr));
          v128.store(out + im, f32x4.add(aci, bdi));
          v128.store(o1, f32x4.sub(f32x4.mul(u1r, w1r), f32x4.mul(u1i, w1i)));
          v128.store(o1 + im, f32x4.add(f32x4.mul(u1r, w1i), f32x4.mul(u1i, w1r)));
          v128.store(o2, f32x4.sub(f32x4.mul(u2r, w2r), f32x4.mul(u2i, w2i)));
          v128.store(o2 + im, f32x4.add(f32x4.mul(u2r, w2i), f32x4.mul(u2i, w2r)));
          v128.store(o3, f32x4.sub(f32x4.mul(u3r, w3r), f32x4.mul(u3i, w3i)));
          v128.store(o3 + im, f32x4.add(f32x4.mul(u3r, w3i), f32x4.mul(u3i, w3r)));
        }
      }
    }
    const swap = x;
    x = y;
    y = swap;
    n >>= 2;
    s <<= 2;
  }
  if (n === 2) {
    for (let q = 0; q < s; q += 4) {
      const a = x + 4 * q;
      const b = a + 4 * s;
      const out = y + 4 * q;
      const ar = v128.load(a),
        ai = v128.load(a + im);
      const br = v128.load(b),
        bi = v128.load(b + im);
      v128.store(out, f32x4.add(ar, br));
      v128.store(out + im, f32x4.add(ai, bi));
      v128.store(out + 4 * s, f32x4.sub(ar, br));
      v128.store(out + 4 * s + im, f32x4.sub(ai, bi));
    }
    return y;
  }
  return x;
}

function turn(out: usize, a: v128, b: v128, c: v128, d: v128): void {
  const ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
  const cd = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
  const abHigh = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
  const cdHigh = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
  v128.store(out, v128.shuffle<f32>(ab, cd, 0, 1, 4, 5));
  v128.store(out + 16, v128.shuffle<f32>(ab, cd, 2, 3, 6, 7));
  v128.store(out + 32, v128.shuffle<f32>(abHigh, cdHigh, 0, 1, 4, 5));
  v128.store(out + 48, v128.shuffle<f32>(abHigh, cdHigh, 2, 3, 6, 7));
}

/** Magnitudes of two real frames that went through one complex transform, `size / 2 + 1` each, parted by symmetry. */
function partMagnitudes(z: usize, size: i32, scale: f32, outA: usize, outB: usize): void {
  const im = <usize>(4 * size);
  const half = size >> 1;
  partOne(z, im, 0, 0, scale, outA, outB);
  partOne(z, im, half, half, scale, outA, outB);
  const scales = f32x4.splat(scale);
  let k = 1;
  for (; k + 4 <= half; k += 4) {
    const at = z + 4 * k;
    const mirrored = z + 4 * (size - k - 3);
    const pr = v128.load(at);
    const pi = v128.load(at + im);
    const qr = reversed(v128.load(mirrored));
    const qi = reversed(v128.load(mirrored + im));
    const ar = f32x4.add(pr, qr);
    const ai = f32x4.sub(pi, qi);
    const br = f32x4.add(pi, qi);
    const bi = f32x4.sub(qr, pr);
    const a = f32x4.sqrt(f32x4.add(f32x4.mul(ar, ar), f32x4.mul(ai, ai)));
    const b = f32x4.sqrt(f32x4.add(f32x4.mul(br, br), f32x4.mul(bi, bi)));
    v128.store(outA + 4 * k, f32x4.mul(a, scales));
    v128.store(outB + 4 * k, f32x4.mul(b, scales));
  }
  for (; k < half; k++) partOne(z, im, k, size - k, scale, outA, outB);
}

function reversed(v: v128): v128 {
  return v128.shuffle<f32>(v, v, 3, 2, 1, 0);
}

function partOne(z: usize, im: usize, k: i32, m: i32, scale: f32, outA: usize, outB: usize): void {
  const pr = load<f32>(z + 4 * k);
  const pi = load<f32>(z + 4 * k + im);
  const qr = load<f32>(z + 4 * m);
  const qi = load<f32>(z + 4 * m + im);
  const ar = pr + qr;
  const ai = pi - qi;
  const br = pi + qi;
  const bi = qr - pr;
  store<f32>(outA + 4 * k, sqrt<f32>(ar * ar + ai * ai) * scale);
  store<f32>(outB + 4 * k, sqrt<f32>(br * br + bi * bi) * scale);
}

/** Writes two windowed frames as real and imaginary part; what lies outside of the samples is nought. */
function loadFrames(samples: usize, length: i32, a: i32, b: i32, size: i32, window: usize, out: usize): void {
  const im = <usize>(4 * size);
  if (a >= 0 && b + size <= length) {
    for (let i = 0; i < size; i += 4) {
      const w = v128.load(window + 4 * i);
      v128.store(out + 4 * i, f32x4.mul(w, v128.load(samples + 4 * (a + i))));
      v128.store(out + 4 * i + im, f32x4.mul(w, v128.load(samples + 4 * (b + i))));
    }
    return;
  }
  for (let i = 0; i < size; i++) {
    const w = load<f32>(window + 4 * i);
    const inA = a + i >= 0 && a + i < length;
    const inB = b + i >= 0 && b + i < length;
    store<f32>(out + 4 * i, inA ? w * load<f32>(samples + 4 * (a + i)) : 0);
    store<f32>(out + 4 * i + im, inB ? w * load<f32>(samples + 4 * (b + i)) : 0);
  }
}

/** Compressed levels of all bands, from the second place of `out` on; up to three places after the last are written over. */
function bandLevels(
  magnitudes: usize,
  count: i32,
  firstBin: usize,
  offset: usize,
  weights: usize,
  scale: f32,
  out: usize,
): void {
  for (let b = 0; b < count; b++) {
    let i = load<i32>(offset + 4 * b);
    const end = load<i32>(offset + 4 * b + 4);
    let k = load<i32>(firstBin + 4 * b);
    let sums = f32x4.splat(0);
    for (; i + 4 <= end; i += 4, k += 4)
      sums = f32x4.add(sums, f32x4.mul(v128.load(weights + 4 * i), v128.load(magnitudes + 4 * k)));
    let sum =
      f32x4.extract_lane(sums, 0) +
      f32x4.extract_lane(sums, 1) +
      f32x4.extract_lane(sums, 2) +
      f32x4.extract_lane(sums, 3);
    for (; i < end; i++, k++) sum += load<f32>(weights + 4 * i) * load<f32>(magnitudes + 4 * k);
    store<f32>(out + 4 * (b + 1), 1 + scale * sum);
  }
  for (let b = 0; b < count; b += 4) v128.store(out + 4 * (b + 1), logarithms(v128.load(out + 4 * (b + 1))));
  store<f32>(out + 4 * (count + 1), 0);
}

/**
 * Logarithms (base 10) of four numbers from 1 up, within 1e-6: the exponent, and of the mantissa m in 0.7 to 1.4 the series of
 * 2 artanh((m - 1) / (m + 1)) (M. Abramowitz, I. Stegun, "Handbook of mathematical functions", 1964, 4.1.27).
 */
function logarithms(x: v128): v128 {
  const bits = i32x4.sub(x, i32x4.splat(0x3f3504f3));
  const exponent = i32x4.shr_s(bits, 23);
  const mantissa = i32x4.sub(x, i32x4.shl(exponent, 23));
  const one = f32x4.splat(1);
  const s = f32x4.div(f32x4.sub(mantissa, one), f32x4.add(mantissa, one));
  const z = f32x4.mul(s, s);
  let series = f32x4.splat(0.2857142857);
  series = f32x4.add(f32x4.mul(series, z), f32x4.splat(0.4));
  series = f32x4.add(f32x4.mul(series, z), f32x4.splat(0.6666666667));
  series = f32x4.add(f32x4.mul(series, z), f32x4.splat(2));
  const natural = f32x4.mul(f32x4.mul(series, s), f32x4.splat(<f32>Math.LOG10E));
  return f32x4.add(natural, f32x4.mul(f32x4.convert_i32x4_s(exponent), f32x4.splat(0.3010299957)));
}

/** Sum over bands [from, to) of how far each has risen above the loudest of itself and its neighbours before. */
function riseOver(now: usize, before: usize, from: i32, to: i32): f32 {
  let sums = f32x4.splat(0);
  let b = from;
  for (; b + 4 <= to; b += 4) {
    const at = before + 4 * b;
    const loudest = f32x4.max(f32x4.max(v128.load(at), v128.load(at + 4)), v128.load(at + 8));
    sums = f32x4.add(sums, f32x4.max(f32x4.splat(0), f32x4.sub(v128.load(now + 4 * b + 4), loudest)));
  }
  let sum =
    f32x4.extract_lane(sums, 0) +
    f32x4.extract_lane(sums, 1) +
    f32x4.extract_lane(sums, 2) +
    f32x4.extract_lane(sums, 3);
  for (; b < to; b++) {
    const at = before + 4 * b;
    const loudest = max<f32>(max<f32>(load<f32>(at), load<f32>(at + 4)), load<f32>(at + 8));
    sum += max<f32>(0, load<f32>(now + 4 * b + 4) - loudest);
  }
  return sum;
}

/**
 * The novelty curve of `length` samples in `hops` hops: sums of rises over the low, the middle and the high bands, a row each
 * at `out`. `work` holds two complex rows, two rows of magnitudes and `lag + 2` rows of levels.
 */
export function novelty(
  samples: usize,
  length: i32,
  size: i32,
  hop: i32,
  hops: i32,
  lag: i32,
  window: usize,
  twiddles: usize,
  count: i32,
  midAt: i32,
  highAt: i32,
  firstBin: usize,
  offset: usize,
  weights: usize,
  scale: f32,
  out: usize,
): void {
  const start = mark();
  const one = reserve(8 * size);
  const other = reserve(8 * size);
  const magnitudes = reserve(4 * (size + 16));
  const magnitudesB = magnitudes + 4 * (size / 2 + 8);
  const row = 4 * (count + 6);
  const history = reserve(row * (lag + 3));
  memory.fill(history, 0, row * (lag + 3));
  const nothing = history + row * (lag + 2);
  for (let n = 0; n < hops; n += 2) {
    const at = n * hop - size / 2;
    loadFrames(samples, length, at, at + hop, size, window, one);
    partMagnitudes(transform(one, other, size, twiddles), size, <f32>1 / <f32>size, magnitudes, magnitudesB);
    for (let k = n; k < n + 2 && k < hops; k++) {
      const now = history + row * (k % (lag + 2));
      bandLevels(k === n ? magnitudes : magnitudesB, count, firstBin, offset, weights, scale, now);
      // The file's end is no sound: a window that reaches past it would see the cut as a click.
      if (k * hop + size / 2 > length) continue;
      const before = k >= lag ? history + row * ((k - lag) % (lag + 2)) : nothing;
      store<f32>(out + 4 * k, riseOver(now, before, 0, midAt));
      store<f32>(out + 4 * (hops + k), riseOver(now, before, midAt, highAt));
      store<f32>(out + 4 * (2 * hops + k), riseOver(now, before, highAt, count));
    }
  }
  release(start);
}

/** Means of pairs of 16-bit samples as floats, full scale being 1; gives the greatest amount of any sample. */
export function foldPairs(from: usize, frames: i32, out: usize): i32 {
  let lowest = i16x8.splat(0);
  let highest = i16x8.splat(0);
  const scale = f32x4.splat(1 / 65536);
  let i = 0;
  for (; i + 4 <= frames; i += 4) {
    const pairs = v128.load(from + 4 * i);
    lowest = i16x8.min_s(lowest, pairs);
    highest = i16x8.max_s(highest, pairs);
    v128.store(out + 4 * i, f32x4.mul(f32x4.convert_i32x4_s(i32x4.extadd_pairwise_i16x8_s(pairs)), scale));
  }
  let most = 0;
  for (let lane = 0; lane < 8; lane++) {
    most = max<i32>(most, -(<i32>i16x8.extract_lane_s(lowest, 0)));
    most = max<i32>(most, <i32>i16x8.extract_lane_s(highest, 0));
    lowest = v128.shuffle<i16>(lowest, lowest, 1, 2, 3, 4, 5, 6, 7, 0);
    highest = v128.shuffle<i16>(highest, highest, 1, 2, 3, 4, 5, 6, 7, 0);
  }
  for (; i < frames; i++) {
    const left = <i32>load<i16>(from + 4 * i);
    const right = <i32>load<i16>(from + 4 * i + 2);
    most = max<i32>(most, max<i32>(abs<i32>(left), abs<i32>(right)));
    store<f32>(out + 4 * i, <f32>(left + right) * (1 / 65536));
  }
  return most;
}

/** Writes `length` floats as doubles. */
export function widen(from: usize, length: i32, to: usize): void {
  let i = 0;
  for (; i + 2 <= length; i += 2) v128.store(to + 8 * i, f64x2.promote_low_f32x4(v128.load64_zero(from + 4 * i)));
  for (; i < length; i++) store<f64>(to + 8 * i, load<f32>(from + 4 * i));
}

/** Sums of products of `length` doubles with themselves `lag` earlier, for lags 0 to `order`. */
export function autocorrelation(x: usize, length: i32, order: i32, out: usize): void {
  for (let lag = 0; lag <= order; lag++) {
    let sums = f64x2.splat(0);
    let i = lag;
    for (; i + 2 <= length; i += 2)
      sums = f64x2.add(sums, f64x2.mul(v128.load(x + 8 * i), v128.load(x + 8 * (i - lag))));
    let sum = f64x2.extract_lane(sums, 0) + f64x2.extract_lane(sums, 1);
    for (; i < length; i++) sum += load<f64>(x + 8 * i) * load<f64>(x + 8 * (i - lag));
    store<f64>(out + 8 * lag, sum);
  }
}

/** Mean squares of every `step` floats of `length`, the last of what is left. */
export function stepPowers(samples: usize, length: i32, step: i32, out: usize): void {
  for (let from = 0, n = 0; from < length; from += step, n++) {
    const to = min<i32>(length, from + step);
    let low = f64x2.splat(0);
    let high = f64x2.splat(0);
    let i = from;
    for (; i + 4 <= to; i += 4) {
      const at = samples + 4 * i;
      const a = f64x2.promote_low_f32x4(v128.load64_zero(at));
      const b = f64x2.promote_low_f32x4(v128.load64_zero(at + 8));
      low = f64x2.add(low, f64x2.mul(a, a));
      high = f64x2.add(high, f64x2.mul(b, b));
    }
    low = f64x2.add(low, high);
    let sum = f64x2.extract_lane(low, 0) + f64x2.extract_lane(low, 1);
    for (; i < to; i++) sum += <f64>load<f32>(samples + 4 * i) * <f64>load<f32>(samples + 4 * i);
    store<f32>(out + 4 * n, <f32>(sum / <f64>(to - from)));
  }
}

/** Running sums of the squares of `length` doubles, with a nought before them. */
export function energies(x: usize, length: i32, out: usize): void {
  let sum: f64 = 0;
  store<f64>(out, 0);
  for (let i = 0; i < length; i++) {
    const value = load<f64>(x + 8 * i);
    sum += value * value;
    store<f64>(out + 8 * (i + 1), sum);
  }
}

/** Prediction errors of `length` doubles that stand `order` places into `x`; `a[k]` weighs what lies `k + 1` earlier. */
export function residual(x: usize, length: i32, a: usize, order: i32, out: usize): void {
  let n = 0;
  for (; n + 4 <= length; n += 4) {
    const at = x + 8 * (order + n);
    let low = v128.load(at);
    let high = v128.load(at + 16);
    for (let k = 0; k < order; k++) {
      const w = f64x2.splat(load<f64>(a + 8 * k));
      const from = at - 8 * (k + 1);
      low = f64x2.sub(low, f64x2.mul(w, v128.load(from)));
      high = f64x2.sub(high, f64x2.mul(w, v128.load(from + 16)));
    }
    v128.store(out + 8 * n, low);
    v128.store(out + 8 * n + 16, high);
  }
  for (; n < length; n++) {
    let error = load<f64>(x + 8 * (order + n));
    for (let k = 0; k < order; k++) error -= load<f64>(a + 8 * k) * load<f64>(x + 8 * (order + n - k - 1));
    store<f64>(out + 8 * n, error);
  }
}

// The places of placement.ts, in its steps.
const STEPS = 120;
const FIRST_PLACE = 24;
const PLACES = 64;
const BASE_STEPS = 20;
const FEATURES_OF_ONE = 12;
const FEATURES = 39;
const TINY = 1e-12;
const MOST: f32 = 6;

/** Logarithms of `count` powers at `powers`, as doubles, to floats at `out`; up to three more are written after them. */
function levels(powers: usize, count: i32, out: usize): void {
  const floor = f64x2.splat(TINY);
  const none = f64x2.splat(0);
  for (let i = 0; i < count; i += 4) {
    const low = f64x2.add(f64x2.max(none, v128.load(powers + 8 * i)), floor);
    const high = f64x2.add(f64x2.max(none, v128.load(powers + 8 * i + 16)), floor);
    const four = v128.shuffle<f32>(f32x4.demote_f64x2_zero(low), f32x4.demote_f64x2_zero(high), 0, 1, 4, 5);
    v128.store(out + 4 * i, logarithms(four));
  }
}

function put(out: usize, place: i32, at: i32, value: f32): void {
  store<f32>(out + 4 * (place * FEATURES + at), max<f32>(-MOST, min<f32>(MOST, value)));
}

/** Features of all places from three rows of running sums and three of powers, as doubles. */
export function placeFeatures(sums: usize, powers: usize, out: usize): void {
  const start = mark();
  const means = reserve(8 * (STEPS + 4));
  const logs = reserve(4 * (STEPS + 8));
  for (let s = 0; s < 3; s++) {
    const sum = sums + 8 * (STEPS + 1) * s;
    const power = powers + 8 * STEPS * s;
    const column = s * FEATURES_OF_ONE;
    let most: f64 = 0;
    for (let k = FIRST_PLACE; k < STEPS; k++) most = max<f64>(most, load<f64>(power + 8 * k));
    store<f64>(means, most);
    store<f64>(means + 8, load<f64>(sum + 8 * BASE_STEPS) / <f64>BASE_STEPS);
    levels(means, 2, logs);
    const highest = load<f32>(logs);
    const base = load<f32>(logs + 4);
    for (let w = 0; w < 3; w++) {
      const width = w === 0 ? 2 : w === 1 ? 6 : 16;
      // The mean after one place is that before another, so each is worked out once; the first is that before the first place.
      const count = PLACES + width;
      for (let i = 0; i < count; i++) {
        const k = FIRST_PLACE - width + i;
        store<f64>(means + 8 * i, (load<f64>(sum + 8 * (k + width)) - load<f64>(sum + 8 * k)) / <f64>width);
      }
      levels(means, count, logs);
      for (let place = 0; place < PLACES; place++) {
        const before = load<f32>(logs + 4 * place);
        const after = load<f32>(logs + 4 * (place + width));
        put(out, place, column + 3 * w, after - before);
        put(out, place, column + 3 * w + 1, before - base);
        put(out, place, column + 3 * w + 2, after - highest);
      }
    }
    levels(power + 8 * (FIRST_PLACE - 1), PLACES + 2, logs);
    for (let place = 0; place < PLACES; place++) {
      const here = load<f32>(logs + 4 * (place + 1));
      put(out, place, column + 9, here - base);
      put(out, place, column + 10, here - load<f32>(logs + 4 * place));
      put(out, place, column + 11, load<f32>(logs + 4 * (place + 2)) - here);
    }
  }
  for (let place = 0; place < PLACES; place++) {
    const off = <f32>(FIRST_PLACE + place - 56) * 0.05;
    put(out, place, FEATURES - 3, off);
    put(out, place, FEATURES - 2, abs<f32>(off));
    put(out, place, FEATURES - 1, max<f32>(0, off));
  }
  release(start);
}

/**
 * Hyperbolic tangents of four numbers, within 1e-6: 1 - 2 / (1 + exp(2 x)), the exponential from its power of two and the series of
 * the rest (M. Abramowitz, I. Stegun, "Handbook of mathematical functions", 1964, 4.2.1 and 4.5.3).
 */
function tangents(x: v128): v128 {
  const held = f32x4.max(f32x4.splat(-9), f32x4.min(f32x4.splat(9), x));
  const power = f32x4.mul(held, f32x4.splat(<f32>(2 * Math.LOG2E)));
  const whole = f32x4.nearest(power);
  const rest = f32x4.mul(f32x4.sub(power, whole), f32x4.splat(<f32>Math.LN2));
  const one = f32x4.splat(1);
  let series = f32x4.splat(1 / 720);
  series = f32x4.add(f32x4.mul(series, rest), f32x4.splat(1 / 120));
  series = f32x4.add(f32x4.mul(series, rest), f32x4.splat(1 / 24));
  series = f32x4.add(f32x4.mul(series, rest), f32x4.splat(1 / 6));
  series = f32x4.add(f32x4.mul(series, rest), f32x4.splat(0.5));
  series = f32x4.add(f32x4.mul(series, rest), one);
  series = f32x4.add(f32x4.mul(series, rest), one);
  const scale = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(whole), i32x4.splat(127)), 23);
  return f32x4.sub(one, f32x4.div(f32x4.splat(2), f32x4.add(one, f32x4.mul(series, scale))));
}

/** Scores of all places by one hidden layer of `count` units, a multiple of 16, sixteen at a time. */
export function placeScores(features: usize, count: i32, inner: usize, offset: usize, outer: usize, out: usize): void {
  for (let place = 0; place < PLACES; place++) {
    let scores = f32x4.splat(0);
    for (let h = 0; h < count; h += 16) {
      const units = offset + 4 * h;
      let a = v128.load(units);
      let b = v128.load(units + 16);
      let c = v128.load(units + 32);
      let d = v128.load(units + 48);
      for (let f = 0; f < FEATURES; f++) {
        const value = v128.load32_splat(features + 4 * (place * FEATURES + f));
        const weights = inner + 4 * (f * count + h);
        a = f32x4.add(a, f32x4.mul(value, v128.load(weights)));
        b = f32x4.add(b, f32x4.mul(value, v128.load(weights + 16)));
        c = f32x4.add(c, f32x4.mul(value, v128.load(weights + 32)));
        d = f32x4.add(d, f32x4.mul(value, v128.load(weights + 48)));
      }
      const last = outer + 4 * h;
      scores = f32x4.add(scores, f32x4.mul(tangents(a), v128.load(last)));
      scores = f32x4.add(scores, f32x4.mul(tangents(b), v128.load(last + 16)));
      scores = f32x4.add(scores, f32x4.mul(tangents(c), v128.load(last + 32)));
      scores = f32x4.add(scores, f32x4.mul(tangents(d), v128.load(last + 48)));
    }
    store<f32>(
      out + 4 * place,
      f32x4.extract_lane(scores, 0) +
        f32x4.extract_lane(scores, 1) +
        f32x4.extract_lane(scores, 2) +
        f32x4.extract_lane(scores, 3),
    );
  }
}
