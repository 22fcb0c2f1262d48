// The complex transform, and two real spectra from one.

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
 * section 1.7). The butterfly is written out for the first stage and for the others: called as a function it takes 15 % longer. Gives where the result lies: `re` with the imaginary part `4 * size` bytes on, or `other` likewise.
 */
export function transform(re: usize, other: usize, size: i32, twiddles: usize): usize {
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
export function partMagnitudes(z: usize, size: i32, scale: f32, outA: usize, outB: usize): void {
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
export function loadFrames(samples: usize, length: i32, a: i32, b: i32, size: i32, window: usize, out: usize): void {
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

/**
 * Magnitudes, `size / 2 + 1` each, of the windowed frames of `samples` that begin at `a` and `b`, divided by `size`. `work` holds two
 * complex rows. Up to three floats after each row of magnitudes are written over.
 */
export function magnitudePair(
  samples: usize,
  length: i32,
  a: i32,
  b: i32,
  size: i32,
  window: usize,
  twiddles: usize,
  work: usize,
  outA: usize,
  outB: usize,
): void {
  loadFrames(samples, length, a, b, size, window, work);
  partMagnitudes(transform(work, work + 8 * size, size, twiddles), size, <f32>1 / <f32>size, outA, outB);
}

/** The first `bins` of the spectrum of `size` real values, their real parts and then their imaginary parts. `work` holds two complex rows. */
export function realSpectrum(values: usize, size: i32, twiddles: usize, work: usize, bins: i32, out: usize): void {
  memory.copy(work, values, 4 * size);
  memory.fill(work + 4 * size, 0, 4 * size);
  const z = transform(work, work + 8 * size, size, twiddles);
  memory.copy(out, z, 4 * bins);
  memory.copy(out + 4 * bins, z + 4 * size, 4 * bins);
}
