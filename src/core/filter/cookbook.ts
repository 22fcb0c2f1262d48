import type { Biquad } from './biquad';

// Robert Bristow-Johnson, "Audio EQ Cookbook" (W3C Working Group Note, 2021). Frequencies in hertz, gains in dB.

/** Frequencies closer to half the sample rate than this share of it are taken down: the formulas degenerate there. */
const HIGHEST = 0.49;

function angle(hz: number, sampleRate: number): number {
  return 2 * Math.PI * Math.min(hz / sampleRate, HIGHEST);
}

/** Alpha for a bandwidth in octaves between the -3 dB points (for a bell, between the points of half its gain). */
function alphaOf(w: number, octaves: number): number {
  return Math.sin(w) * Math.sinh(((Math.LN2 / 2) * octaves * w) / Math.sin(w));
}

function section(b0: number, b1: number, b2: number, a0: number, a1: number, a2: number): Biquad {
  return { b: [b0 / a0, b1 / a0, b2 / a0], a: [a1 / a0, a2 / a0] };
}

/** A peaking equaliser. */
export function bell(hz: number, gainDb: number, octaves: number, sampleRate: number): Biquad {
  const w = angle(hz, sampleRate);
  const [alpha, gain, c] = [alphaOf(w, octaves), 10 ** (gainDb / 40), Math.cos(w)];
  return section(1 + alpha * gain, -2 * c, 1 - alpha * gain, 1 + alpha / gain, -2 * c, 1 - alpha / gain);
}

/** Takes out one frequency. */
export function notch(hz: number, octaves: number, sampleRate: number): Biquad {
  const w = angle(hz, sampleRate);
  const [alpha, c] = [alphaOf(w, octaves), Math.cos(w)];
  return section(1, -2 * c, 1, 1 + alpha, -2 * c, 1 - alpha);
}

/** Leaves one band, 0 dB at its middle. */
export function bandPass(hz: number, octaves: number, sampleRate: number): Biquad {
  const w = angle(hz, sampleRate);
  const [alpha, c] = [alphaOf(w, octaves), Math.cos(w)];
  return section(alpha, 0, -alpha, 1 + alpha, -2 * c, 1 - alpha);
}

/** A low shelf (`side` 1) or a high one (-1), of a slope up to 1: the steepest without overshoot. */
export function shelf(side: 1 | -1, hz: number, gainDb: number, slope: number, sampleRate: number): Biquad {
  const w = angle(hz, sampleRate);
  const gain = 10 ** (gainDb / 40);
  const c = side * Math.cos(w);
  const alpha = (Math.sin(w) / 2) * Math.sqrt((gain + 1 / gain) * (1 / slope - 1) + 2);
  const root = 2 * Math.sqrt(gain) * alpha;
  return section(
    gain * (gain + 1 - (gain - 1) * c + root),
    side * 2 * gain * (gain - 1 - (gain + 1) * c),
    gain * (gain + 1 - (gain - 1) * c - root),
    gain + 1 + (gain - 1) * c + root,
    side * -2 * (gain - 1 + (gain + 1) * c),
    gain + 1 + (gain - 1) * c - root,
  );
}

/** A low-pass (`side` 1) or high-pass (-1) section of a quality factor. */
export function pass(side: 1 | -1, hz: number, q: number, sampleRate: number): Biquad {
  const w = angle(hz, sampleRate);
  const [alpha, c] = [Math.sin(w) / (2 * q), Math.cos(w)];
  const edge = 1 - side * c;
  return section(edge / 2, side * edge, edge / 2, 1 + alpha, -2 * c, 1 - alpha);
}

/** An all-pass: its magnitude is flat, and its phase shift is 180 degrees at `hz`. */
export function allPass(hz: number, q: number, sampleRate: number): Biquad {
  const w = angle(hz, sampleRate);
  const [alpha, c] = [Math.sin(w) / (2 * q), Math.cos(w)];
  return section(1 - alpha, -2 * c, 1 + alpha, 1 + alpha, -2 * c, 1 - alpha);
}

/** A first-order low-pass (`side` 1) or high-pass (-1) by the bilinear transform. */
export function firstOrderPass(side: 1 | -1, hz: number, sampleRate: number): Biquad {
  const k = Math.tan(angle(hz, sampleRate) / 2);
  return side === 1 ? section(k, k, 0, 1 + k, k - 1, 0) : section(1, -1, 0, 1 + k, k - 1, 0);
}

/**
 * A Butterworth low-pass (`side` 1) or high-pass (-1) of any order: 6 dB an octave for each (S. Butterworth, "On the
 * theory of filter amplifiers", 1930; poles evenly spaced on the circle, bilinear transform).
 */
export function butterworth(side: 1 | -1, hz: number, order: number, sampleRate: number): Biquad[] {
  const sections = Array.from({ length: Math.floor(order / 2) }, (_, k) =>
    pass(side, hz, 1 / (2 * Math.cos(((2 * k + 1 + (order % 2)) * Math.PI) / (2 * order))), sampleRate),
  );
  return order % 2 === 1 ? [firstOrderPass(side, hz, sampleRate), ...sections] : sections;
}
