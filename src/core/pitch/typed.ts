import { noteToHz } from '../signal/units';
import { PITCH_CLASSES } from './intervals';

const NOTE = /^([A-G])\s*([#♯b♭]?)\s*(-?\d{1,2})\s*([+-]\s*\d{1,3}(?:\.\d+)?)?\s*(?:c|ct|cents?)?$/i;
const HERTZ = /^(\d{1,5}(?:[.,]\d+)?)\s*(?:hz)?$/i;
/** The pitches a hit may have, in hertz. */
const [LOWEST_HZ, HIGHEST_HZ] = [8, 20_000];

/** A typed pitch in hertz: "A2", "C#3 +12", "Bb2 -20 c" or "110.5 Hz"; null where it is none or out of range. */
export function typedPitch(text: string): number | null {
  const plain = text.trim().replaceAll('−', '-');
  const hertz = HERTZ.exec(plain);
  const hz = hertz ? Number((hertz[1] as string).replace(',', '.')) : noteHz(plain);
  return hz !== null && hz >= LOWEST_HZ && hz <= HIGHEST_HZ ? hz : null;
}

function noteHz(text: string): number | null {
  const match = NOTE.exec(text);
  if (!match) return null;
  const [, letter = '', accidental, octave, cents = '0'] = match;
  const natural = PITCH_CLASSES.indexOf(letter.toUpperCase() as (typeof PITCH_CLASSES)[number]);
  const sharp = accidental === '' ? 0 : accidental === '#' || accidental === '♯' ? 1 : -1;
  return noteToHz(12 * (Number(octave) + 1) + natural + sharp + Number(cents.replaceAll(' ', '')) / 100);
}
