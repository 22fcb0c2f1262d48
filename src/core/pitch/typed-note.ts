const PITCHES: Readonly<Record<string, number>> = { c: 0, d: 2, e: 4, f: 5, g: 7, a: 9, b: 11 };

/**
 * The MIDI note of a typed number or name, like `38`, `F#2` or `Bb1`; null where it is none. `middleOctave` is the octave
 * number of middle C (60).
 */
export function typedNote(text: string, middleOctave = 4): number | null {
  const plain = text.trim().replace('♯', '#').replace('♭', 'b').replace('−', '-');
  const named = /^([a-gA-G])([#b]?)(-?\d)$/.exec(plain);
  const pitch = named && PITCHES[(named[1] as string).toLowerCase()];
  const sharp = named?.[2] === '#' ? 1 : named?.[2] === 'b' ? -1 : 0;
  const note =
    named && pitch !== undefined && pitch !== null
      ? (Number(named[3]) + 5 - middleOctave) * 12 + pitch + sharp
      : /^\d{1,3}$/.test(plain)
        ? Number(plain)
        : Number.NaN;
  return note >= 0 && note <= 127 ? note : null;
}
