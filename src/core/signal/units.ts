/** Conversions between the units of the job. */

/** Amplitude ratio to decibels; 0 gives -Infinity. */
export function toDb(amplitude: number): number {
  return 20 * Math.log10(Math.abs(amplitude));
}

/** Decibels to amplitude ratio; exactly 1 for 0 dB, so that unity gain stays bit-exact. */
export function fromDb(db: number): number {
  return db === 0 ? 1 : 10 ** (db / 20);
}

/** Playback-rate ratio of a pitch shift in semitones and cents; exactly 1 for no shift. Equal temperament. */
export function pitchRatio(semitones: number, cents = 0): number {
  const total = semitones + cents / 100;
  return total === 0 ? 1 : 2 ** (total / 12);
}

const NOTE_NAMES = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'];

/** Name of a MIDI note 0..127; `middleOctave` is the octave number of middle C (60): 4 in most programs, 3 in some. */
export function noteName(note: number, middleOctave = 4): string {
  return `${NOTE_NAMES[((note % 12) + 12) % 12]}${Math.floor(note / 12) - 5 + middleOctave}`;
}

export function framesToSeconds(frames: number, sampleRate: number): number {
  return frames / sampleRate;
}

/** Nearest whole frame to a time in seconds. */
export function secondsToFrames(seconds: number, sampleRate: number): number {
  return Math.round(seconds * sampleRate);
}

export function msToFrames(ms: number, sampleRate: number): number {
  return Math.round((ms / 1000) * sampleRate);
}

/** Frequency of a MIDI note, fractions allowed: equal temperament, A4 (69) at 440 Hz (ISO 16). */
export function noteToHz(note: number): number {
  return 440 * 2 ** ((note - 69) / 12);
}

/** Interval from `reference` to `hz`, in cents. */
export function centsBetween(hz: number, reference: number): number {
  return 1200 * Math.log2(hz / reference);
}

/** The note nearest to a frequency, and how many cents above it the frequency lies (-50 to 50). */
export function hzToNote(hz: number): { note: number; cents: number } {
  const exact = 69 + 12 * Math.log2(hz / 440);
  const note = Math.round(exact);
  return { note, cents: (exact - note) * 100 };
}

/** A plausible tempo in quarter notes a minute; null for numbers that must mean something else. */
export function plausibleTempo(bpm: number): number | null {
  return bpm >= 20 && bpm <= 400 ? bpm : null;
}
