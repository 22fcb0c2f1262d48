import { peakOf, rmsOf, stereoFold, toMono, toStereo } from './audio';
import { fromDb, noteName, pitchRatio, toDb } from './units';
import { besselI0, hann, kaiser } from './window';

test('decibels and back; 0 dB is exactly one', () => {
  expect(fromDb(0)).toBe(1);
  expect(toDb(0.5)).toBeCloseTo(-6.0206, 4);
  for (const db of [-60, -3.2, 12]) expect(toDb(fromDb(db))).toBeCloseTo(db, 12);
});

test('an octave is a ratio of two, no shift exactly one (equal temperament)', () => {
  expect(pitchRatio(12)).toBe(2);
  expect(pitchRatio(0, 0)).toBe(1);
  expect(pitchRatio(-1, 100)).toBe(1);
  expect(440 * pitchRatio(3)).toBeCloseTo(523.251, 3); // C5 for A4 = 440 Hz, ISO 16
});

test('middle C is C4, as the MIDI convention here has it', () => {
  expect([60, 36, 81].map((note) => noteName(note))).toEqual(['C4', 'C2', 'A5']);
  expect([60, 36, 0].map((note) => noteName(note, 3))).toEqual(['C3', 'C1', 'C-2']);
});

test('Bessel function and Kaiser window against handbook values', () => {
  // Abramowitz & Stegun, "Handbook of Mathematical Functions", table 9.8: I0(1), I0(5).
  expect(besselI0(1)).toBeCloseTo(1.2660658778, 9);
  expect(besselI0(5)).toBeCloseTo(27.2398718236, 8);
  expect(kaiser(0, 8)).toBe(1);
  expect(kaiser(1, 8)).toBe(0);
});

test('a periodic Hann window overlapped by half sums to one', () => {
  const w = hann(64);
  for (let i = 0; i < 32; i++) expect((w[i] as number) + (w[i + 32] as number)).toBeCloseTo(1, 12);
});

describe('channels', () => {
  const full = (n: number) => Array.from({ length: n }, () => Float32Array.of(1, -1));
  test.each([1, 2, 3, 4, 5, 6, 7, 8])('%i channels at full scale never fold past full scale', (n) => {
    const [left, right] = toStereo({ sampleRate: 48000, channels: full(n) });
    expect(Math.abs(left[0] as number)).toBeLessThanOrEqual(1 + 1e-7);
    expect(Math.abs(right[0] as number)).toBeLessThanOrEqual(1 + 1e-7);
    expect(toMono({ sampleRate: 48000, channels: full(n) })[1]).toBeLessThan(-0.9);
  });

  test('the centre of six channels goes to both sides alike, the low-frequency one to neither', () => {
    const { left, right } = stereoFold(6);
    expect(left[2]).toBe(right[2]);
    expect([left[3], right[3]]).toEqual([0, 0]);
  });

  test('mono is not copied', () => {
    const only = Float32Array.of(1, 2);
    expect(toMono({ sampleRate: 8000, channels: [only] })).toBe(only);
  });

  test('peak and RMS of a sine are 1 and -3 dB', () => {
    const sine = Float32Array.from({ length: 4800 }, (_, i) => Math.sin((2 * Math.PI * i) / 48));
    expect(peakOf([sine])).toBeCloseTo(1, 6);
    expect(toDb(rmsOf([sine]))).toBeCloseTo(-3.0103, 3);
  });
});
