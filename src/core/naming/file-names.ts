import type { Family } from '../family';
import { plausibleTempo } from '../signal/units';

/** Facts in a file name about its sound. */
export interface NamedSound {
  readonly family: Family | null;
  readonly tempoBpm: number | null;
  /** As written: "F#m", "A minor". */
  readonly key: string | null;
  /** MIDI note with the octave that makes middle C (60) C4, where a note with an octave is named. */
  readonly note: number | null;
}

/**
 * Words that name drum sounds, by family: whole words, or word starts before a digit. Common practice; longer phrases
 * first, because "open hat" must not be read as "hat".
 */
const WORDS: readonly (readonly [Family, readonly string[]])[] = [
  [
    'open hat',
    [
      'open hat',
      'open hihat',
      'open hi hat',
      'hat open',
      'hihat open',
      'hi hat open',
      'hh open',
      'open hh',
      'ohh',
      'oh',
      'ophat',
    ],
  ],
  [
    'closed hat',
    [
      'closed hat',
      'closed hihat',
      'closed hi hat',
      'hat closed',
      'hihat closed',
      'hi hat closed',
      'hh closed',
      'closed hh',
      'pedal hat',
      'chh',
      'ch',
      'clhat',
      'hi hat',
      'hihat',
      'hat',
      'hats',
      'hh',
    ],
  ],
  ['rim', ['rim shot', 'rimshot', 'side stick', 'sidestick', 'cross stick', 'rim', 'rs']],
  ['clap', ['hand clap', 'handclap', 'clap', 'claps', 'clp', 'cp']],
  ['kick', ['bass drum', 'kick drum', 'kick', 'kicks', 'kik', 'bd', 'kd']],
  ['snare', ['snare drum', 'snare', 'snares', 'snr', 'sd', 'sn']],
  ['tom', ['floor tom', 'tom tom', 'tom', 'toms', 'lt', 'mt', 'ht']],
  ['cymbal', ['crash', 'ride', 'splash', 'china', 'cymbal', 'cym', 'cy']],
  [
    'percussion',
    [
      'percussion',
      'perc',
      'conga',
      'bongo',
      'shaker',
      'tambourine',
      'tamb',
      'cowbell',
      'bell',
      'block',
      'woodblock',
      'clave',
      'claves',
      'maraca',
      'maracas',
      'cabasa',
      'guiro',
      'timbale',
      'triangle',
      'agogo',
      'djembe',
      'cajon',
      'castanets',
    ],
  ],
  ['voice', ['vocal', 'voice', 'vox', 'shout', 'breath']],
  ['effect', ['effect', 'fx', 'sfx', 'noise', 'riser', 'sweep', 'impact', 'zap', 'laser', 'vinyl', 'foley']],
  [
    'tonal',
    [
      'bass',
      'chord',
      'stab',
      'pluck',
      'synth',
      'pad',
      'lead',
      'keys',
      'piano',
      'organ',
      'marimba',
      'vibraphone',
      'glockenspiel',
      'gong',
      'chime',
      'bells',
      'tone',
    ],
  ],
];

const PITCH: Readonly<Record<string, number>> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };

/** Reads family, tempo, key and note from a file name; null for each that is missing. */
export function readFileName(fileName: string): NamedSound {
  const base = (fileName.split(/[\\/]/).at(-1) ?? '').replace(/\.[A-Za-z0-9]{1,5}$/, '');
  // "KickDrum_01-120BPM" as words: split at case changes, punctuation, and between letters and digits.
  const spaced = base
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/[_\-.,()[\]{}+&]+/g, ' ')
    .replace(/([A-Za-z]{2,})(\d)/g, '$1 $2');
  const words = ` ${spaced.toLowerCase().replace(/\s+/g, ' ')} `;
  return { family: familyIn(words), tempoBpm: tempoIn(base), key: keyIn(base), note: noteIn(base) };
}

function familyIn(words: string): Family | null {
  let best: { family: Family; length: number; at: number } | null = null;
  for (const [family, list] of WORDS) {
    for (const word of list) {
      const at = words.indexOf(` ${word} `);
      if (at < 0) continue;
      // The longest phrase wins; of two as long the first.
      if (!best || word.length > best.length || (word.length === best.length && at < best.at))
        best = { family, length: word.length, at };
    }
  }
  return best?.family ?? null;
}

function tempoIn(base: string): number | null {
  const match =
    /(?:^|[^\d.,])(\d{2,3}(?:[.,]\d+)?)[\s_-]*bpm/i.exec(base) ?? /bpm[\s_-]*(\d{2,3}(?:[.,]\d+)?)(?!\d)/i.exec(base);
  return match ? plausibleTempo(Number.parseFloat((match[1] as string).replace(',', '.'))) : null;
}

function keyIn(base: string): string | null {
  const match = /(?:^|[\s_\-([])([A-G](?:#|b|♯|♭)?)[\s_-]?(maj(?:or)?|min(?:or)?|m)(?=$|[\s_\-)\].\d])/.exec(base);
  if (!match) return null;
  const minor = /^m(in(or)?)?$/.test(match[2] as string);
  return `${match[1]}${minor ? ' minor' : ' major'}`;
}

function noteIn(base: string): number | null {
  const match = /(?:^|[\s_\-([])([A-G])(#|b|♯|♭|s)?(-?\d)(?=$|[\s_\-)\].])/.exec(base);
  if (!match) return null;
  const pitch = PITCH[match[1] as string] as number;
  const accidental = match[2] === undefined ? 0 : match[2] === 'b' || match[2] === '♭' ? -1 : 1;
  const note = (Number(match[3]) + 1) * 12 + pitch + accidental;
  return note >= 0 && note <= 127 ? note : null;
}
