import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { linearPrediction, predictionResidual } from '../../src/core/onset/lpc';
import { novelty } from '../../src/core/onset/novelty';
import { pickPeaks } from '../../src/core/onset/pick';
import { refineStart } from '../../src/core/onset/refine';
import { peakOf } from '../../src/core/signal/audio';
import { TUNING } from '../accuracy/fonts';
import { makeItems } from '../accuracy/items';
import { GROUPS } from '../accuracy/patterns';
import { quantile } from '../accuracy/score';

const folder = join(tmpdir(), 'undercroft-tuning');
const items = makeItems(TUNING, [1, 2, 3], folder);
type Case = { group: string; samples: Float32Array; rate: number; centre: number; truth: number };
const cases: Case[] = [];
for (const item of items) {
  const ref = peakOf([item.samples]);
  const curve = novelty(item.samples, item.sampleRate, ref);
  const per = item.sampleRate / curve.hop;
  const peaks = pickPeaks(curve.all, {
    reach: Math.max(1, Math.round(0.012 * per)),
    before: Math.round(0.1 * per),
    after: Math.round(0.07 * per),
    least: 0.008,
  });
  for (const t of item.truth) {
    if (t.raisesDb < 1) continue;
    let best = null as null | number;
    for (const p of peaks) {
      const c = p.hop * curve.hop;
      // peaks come some 8 ms after the onset
      const off = c / item.sampleRate - t.seconds - 0.006;
      if (
        Math.abs(off) < 0.03 &&
        (best === null || Math.abs(off) < Math.abs(best / item.sampleRate - t.seconds - 0.006))
      )
        best = c;
    }
    if (best !== null)
      cases.push({ group: item.group, samples: item.samples, rate: item.sampleRate, centre: best, truth: t.seconds });
  }
}
const offs = cases.map((c) => (c.centre / c.rate - c.truth) * 1000);
console.log(
  'cases',
  cases.length,
  'centre-truth ms: q05',
  quantile(offs, 0.05).toFixed(1),
  'q50',
  quantile(offs, 0.5).toFixed(1),
  'q95',
  quantile(offs, 0.95).toFixed(1),
);

type Fn = (s: Float32Array, rate: number, centre: number) => number;
export function run(name: string, fn: Fn): void {
  const t0 = performance.now();
  const byGroup = new Map<string, number[]>();
  for (const c of cases) {
    const e = (fn(c.samples, c.rate, c.centre) / c.rate - c.truth) * 1000;
    byGroup.set(c.group, [...(byGroup.get(c.group) ?? []), e]);
  }
  const all = [...byGroup.values()].flat();
  const row = (e: number[]) =>
    `${(e.filter((x) => Math.abs(x) <= 2).length / e.length).toFixed(3)}/${(e.filter((x) => Math.abs(x) <= 5).length / e.length).toFixed(3)}`;
  console.log(
    name.padEnd(34),
    'all',
    row(all),
    'med',
    quantile(all.map(Math.abs), 0.5).toFixed(2),
    'p95',
    quantile(all.map(Math.abs), 0.95).toFixed(2),
    'bias',
    quantile(all, 0.5).toFixed(2),
    GROUPS.map(
      (g) => `${g.slice(0, 5)} ${row(byGroup.get(g) ?? [])} b${quantile(byGroup.get(g) ?? [], 0.5).toFixed(1)}`,
    ).join(' | '),
    `${(performance.now() - t0).toFixed(0)} ms`,
  );
}

function ar(
  s: Float32Array,
  rate: number,
  centre: number,
  o: {
    order: number;
    learn: number;
    before: number;
    afterC: number;
    after: number;
    pre?: number;
    step?: boolean;
    thr?: number;
    lo?: number;
  },
): number {
  const ms = rate / 1000;
  const first = Math.max(0, Math.round(centre - o.before * ms));
  const last = Math.min(s.length, Math.round(centre + o.afterC * ms));
  const stop = Math.min(s.length, last + Math.round(o.after * ms));
  const learnStart = Math.max(0, first - Math.round(o.learn * ms));
  let x = s;
  let base0 = 0;
  if (o.pre) {
    base0 = Math.max(0, learnStart - 1);
    x = new Float32Array(stop - base0);
    for (let i = 1; i < x.length; i++) x[i] = (s[base0 + i] as number) - o.pre * (s[base0 + i - 1] as number);
  }
  const a = linearPrediction(x, learnStart - base0, Math.max(first, learnStart + 1) - base0, o.order);
  const r = predictionResidual(x, learnStart - base0, stop - base0, a);
  const energy = new Float64Array(r.length + 1);
  for (let i = 0; i < r.length; i++) energy[i + 1] = (energy[i] as number) + (r[i] as number) ** 2;
  const base = first - learnStart;
  const end = r.length;
  const tiny = 1e-11;
  let best = base,
    bestScore = -Infinity;
  for (let k = base; k < last - learnStart; k++) {
    const n1 = k,
      n2 = end - k;
    const v1 = (energy[k] as number) / Math.max(1, n1) + tiny;
    const v2 = ((energy[end] as number) - (energy[k] as number)) / n2 + tiny;
    if (v2 <= v1) continue;
    const score = -0.5 * (n1 * Math.log(v1) + n2 * Math.log(v2));
    if (score > bestScore) {
      bestScore = score;
      best = k;
    }
  }
  const before = Math.sqrt((energy[best] as number) / Math.max(1, best) + tiny);
  let loud = 0;
  for (let i = best; i < Math.min(end, best + Math.round(8 * ms)); i++) loud = Math.max(loud, Math.abs(r[i] as number));
  const threshold = Math.max((o.thr ?? 4) * before, loud * (o.lo ?? 0.01));
  const gap = Math.max(2, Math.round(0.8 * ms));
  let start = best;
  for (let i = best - 1, quiet = 0; i >= base && quiet < gap; i--) {
    if (Math.abs(r[i] as number) > threshold) {
      start = i;
      quiet = 0;
    } else quiet++;
  }
  if (start === best)
    for (let i = best; i < Math.min(end, best + gap * 2); i++)
      if (Math.abs(r[i] as number) > threshold) {
        start = i;
        break;
      }
  return learnStart + start;
}

function echo(
  s: Float32Array,
  rate: number,
  start: number,
  from: number,
  o: { ratio: number; flat: number; span: number; learn: number; order: number },
): number {
  const ms = rate / 1000;
  const learnStart = Math.max(0, from - Math.round(o.learn * ms));
  const stop = Math.min(s.length, start + Math.round((o.span + 3) * ms));
  const a = linearPrediction(s, learnStart, Math.max(from, learnStart + 1), o.order);
  const r = predictionResidual(s, start, stop, a);
  const e = new Float64Array(r.length + 1);
  for (let i = 0; i < r.length; i++) e[i + 1] = (e[i] as number) + (r[i] as number) ** 2;
  const least = Math.round(0.7 * ms);
  let best = -1,
    bestScore = -Infinity;
  const last = Math.min(r.length - Math.round(1 * ms), Math.round(o.span * ms));
  for (let k = least; k < last; k++) {
    const n1 = k,
      n2 = r.length - k;
    const v1 = (e[k] as number) / n1 + 1e-11,
      v2 = ((e[r.length] as number) - (e[k] as number)) / n2 + 1e-11;
    const score = -0.5 * (n1 * Math.log(v1) + n2 * Math.log(v2));
    if (score > bestScore) {
      bestScore = score;
      best = k;
    }
  }
  if (best < 0) return start;
  const v1 = (e[best] as number) / best + 1e-11;
  const after = Math.min(r.length, best + Math.round(2 * ms));
  const v2 = ((e[after] as number) - (e[best] as number)) / (after - best) + 1e-11;
  if (v2 / v1 < o.ratio) return start;
  const half = best >> 1;
  const h1 = (e[half] as number) / half + 1e-11,
    h2 = ((e[best] as number) - (e[half] as number)) / (best - half) + 1e-11;
  if (h2 / h1 > o.flat) return start;
  return start + best;
}

function glr(
  s: Float32Array,
  rate: number,
  centre: number,
  o: {
    order: number;
    learn: number;
    before: number;
    afterC: number;
    w1: number;
    w2: number;
    thr: number;
    lo: number;
    gapMs: number;
    loMs: number;
  },
): number {
  const ms = rate / 1000;
  const first = Math.max(0, Math.round(centre - o.before * ms));
  const last = Math.min(s.length, Math.round(centre + o.afterC * ms));
  const stop = Math.min(s.length, last + Math.round(10 * ms));
  const learnStart = Math.max(0, first - Math.round(o.learn * ms));
  const a = linearPrediction(s, learnStart, Math.max(first, learnStart + 1), o.order);
  const r = predictionResidual(s, learnStart, stop, a);
  const e = new Float64Array(r.length + 1);
  for (let i = 0; i < r.length; i++) e[i + 1] = (e[i] as number) + (r[i] as number) ** 2;
  const base = first - learnStart;
  const end = r.length;
  const tiny = 1e-11;
  const W1 = Math.round(o.w1 * ms),
    W2 = Math.round(o.w2 * ms);
  let best = base,
    bestScore = -Infinity;
  for (let k = base; k < last - learnStart; k++) {
    const a0 = Math.max(0, k - W1),
      b0 = Math.min(end, k + W2);
    const n1 = Math.max(1, k - a0),
      n2 = b0 - k;
    const s1 = (e[k] as number) - (e[a0] as number),
      s2 = (e[b0] as number) - (e[k] as number);
    const v1 = s1 / n1 + tiny,
      v2 = s2 / n2 + tiny,
      v = (s1 + s2) / (n1 + n2) + tiny;
    if (v2 <= v1) continue;
    let score = 0.5 * ((n1 + n2) * Math.log(v) - n1 * Math.log(v1) - n2 * Math.log(v2));
    const oo = o as { w2b?: number; weight?: number };
    if (oo.w2b) {
      const b1 = Math.min(end, k + Math.round(oo.w2b * ms));
      const m2 = b1 - k;
      const q2 = (e[b1] as number) - (e[k] as number);
      const u2 = q2 / m2 + tiny,
        u = (s1 + q2) / (n1 + m2) + tiny;
      if (u2 > v1) score += (oo.weight ?? 1) * 0.5 * ((n1 + m2) * Math.log(u) - n1 * Math.log(v1) - m2 * Math.log(u2));
    }
    if (score > bestScore) {
      bestScore = score;
      best = k;
    }
  }
  const a0 = Math.max(0, best - W1);
  const before = Math.sqrt(((e[best] as number) - (e[a0] as number)) / Math.max(1, best - a0) + tiny);
  let loud = 0;
  for (let i = best; i < Math.min(end, best + Math.round(8 * ms)); i++) loud = Math.max(loud, Math.abs(r[i] as number));
  const threshold = Math.max(o.thr * before, loud * o.lo);
  const gap = Math.max(2, Math.round(o.gapMs * ms));
  let start = best;
  for (let i = best - 1, quiet = 0; i >= base && quiet < gap; i--) {
    if (Math.abs(r[i] as number) > threshold) {
      start = i;
      quiet = 0;
    } else quiet++;
  }
  if (start === best)
    for (let i = best; i < Math.min(end, best + gap * 2); i++)
      if (Math.abs(r[i] as number) > threshold) {
        start = i;
        break;
      }
  return learnStart + start;
}
const now = (s: Float32Array, rate: number, c: number) =>
  refineStart(s, rate, Math.round(c - (14 * rate) / 1000), Math.round(c + (6 * rate) / 1000)).frame;
run('now', now);
const D = { order: 32, learn: 40, before: 22, afterC: 6, w1: 12, w2: 6, thr: 4, lo: 0.01, gapMs: 0.8, loMs: 0 };

const E = { ...D, order: 20, learn: 30, before: 14, w1: 6, w2: 3, gapMs: 1.2 };
run('E', (s, r, c) => glr(s, r, c, E));
