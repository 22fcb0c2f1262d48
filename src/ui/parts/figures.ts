import { hzToNote } from '@/core/signal/units';
import { nameOfNote } from './note-names';

/** Formats figures: a true minus, tabular digits, always with a unit. */

export function minus(text: string): string {
  return text.replace('-', '−');
}

export function decibels(db: number, digits = 1): string {
  return Number.isFinite(db) ? `${minus(db.toFixed(digits))} dB` : '−∞ dB';
}

/** A confidence, 0..1: 99 % at most, as no guess is certain. */
export function sureness(confidence: number): string {
  return `${Math.min(99, Math.round(confidence * 100))} %`;
}

export function seconds(value: number, digits = 4): string {
  return `${value.toFixed(digits)} s`;
}

/** A length: ms below a second, s below two minutes, then minutes and seconds. */
export function length(value: number): string {
  if (value < 1) return `${Math.round(value * 1000)} ms`;
  if (value < 120) return `${value.toFixed(2)} s`;
  const minutes = Math.floor(value / 60);
  return `${minutes} min ${Math.round(value - minutes * 60)} s`;
}

const DEPTH: Record<string, string> = {
  u8: '8-bit',
  s16: '16-bit',
  s24: '24-bit',
  s32: '32-bit',
  f32: '32-bit float',
  f64: '64-bit float',
};
const SIDES: Record<number, string> = { 1: 'mono', 2: 'stereo' };

/** Rate, depth and channels of a recording in words. */
export function formatOf(r: { sampleRate: number; encoding: string; channelCount: number }): string {
  const rate = `${(r.sampleRate / 1000).toLocaleString('en', { maximumFractionDigits: 2 })} kHz`;
  return `${rate} · ${DEPTH[r.encoding] ?? r.encoding} · ${SIDES[r.channelCount] ?? `${r.channelCount} channels`}`;
}

/** A position in time: minutes, seconds and tenths, hours where there are any. */
export function clock(value: number): string {
  const tenths = Math.round(value * 10);
  const s = (tenths % 600) / 10;
  const m = Math.floor(tenths / 600) % 60;
  const h = Math.floor(tenths / 36000);
  const rest = `${m}:${s.toFixed(1).padStart(4, '0')}`;
  return h > 0 ? `${h}:${rest.padStart(7, '0')}` : rest;
}

/** A pitch as its nearest note and the cents off it: "G2 +47". */
export function pitch(hz: number): string {
  const { note, cents } = hzToNote(hz);
  const whole = Math.round(cents);
  return `${nameOfNote(note)} ${minus(`${whole >= 0 ? '+' : ''}${whole}`)}`;
}
