import { hzToNote } from '../signal/units';

/** Pitch classes from C, as they are written here: sharps only. */
export const PITCH_CLASSES = ['C', 'C♯', 'D', 'D♯', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'A♯', 'B'] as const;

/** Scales as semitones over their tonic. */
export const SCALES = {
  major: [0, 2, 4, 5, 7, 9, 11],
  minor: [0, 2, 3, 5, 7, 8, 10],
  'harmonic minor': [0, 2, 3, 5, 7, 8, 11],
  dorian: [0, 2, 3, 5, 7, 9, 10],
  pentatonic: [0, 2, 4, 7, 9],
  'minor pentatonic': [0, 3, 5, 7, 10],
  fifths: [0, 7],
  chromatic: [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11],
} as const satisfies Record<string, readonly number[]>;
export type ScaleName = keyof typeof SCALES;

/** A change of pitch: whole semitones, and -50 to 50 cents besides. */
export interface Move {
  readonly semitones: number;
  readonly cents: number;
}

const classOf = (note: number) => ((note % 12) + 12) % 12;

/**
 * The two ways from a pitch in hertz to a pitch class (0 for C), the nearer first: down to the next such note under it, and
 * up to the next over it. Of two as near the one down comes first. A pitch within half a semitone of such a note has only
 * the way to it and the octaves beside: that way alone is given.
 */
export function movesTo(hz: number, pitchClass: number): readonly Move[] {
  const { note, cents } = hzToNote(hz);
  const up = classOf(pitchClass - note);
  if (up === 0) return [{ semitones: 0, cents: -cents + 0 }];
  const ways = [up - 12, up].map((semitones): Move => ({ semitones, cents: -cents + 0 }));
  return ways.sort((a, b) => Math.abs(a.semitones) - Math.abs(b.semitones));
}

/** The way from a pitch to the nearest note of a scale on a tonic; the one down where two are as near. */
export function moveToScale(hz: number, tonic: number, scale: ScaleName): Move {
  const { note, cents } = hzToNote(hz);
  const within: readonly number[] = SCALES[scale];
  for (let distance = 0; ; distance++)
    for (const semitones of [-distance, distance])
      if (within.includes(classOf(note + semitones - tonic))) return { semitones: semitones + 0, cents: -cents + 0 };
}
