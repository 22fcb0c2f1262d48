import { clip } from '../parameter/values';
import { type Move, moveToScale, SCALES, type ScaleName } from '../pitch/intervals';
import { hzToNote, noteToHz, pitchRatio } from '../signal/units';
import { PAD_PARAMETERS, type PadValues } from './parameters';

/** A kit's key: its tonic as a pitch class, 0 for C, and the scale on it. */
export interface Key {
  readonly tonic: number;
  readonly scale: ScaleName;
}

type Tuned = Pick<PadValues, 'semitones' | 'cents'>;

/** The frequency at which a pad sounds a root, under a kit's transposition. */
export function soundingHz(rootHz: number, { semitones, cents }: Tuned, transpose = 0): number {
  return rootHz * pitchRatio(semitones + transpose, cents);
}

/** The cents that must be added to a pitch to reach the nearest note of the key. */
export function centsToKey(hz: number, { tonic, scale }: Key): number {
  const { semitones, cents } = moveToScale(hz, tonic, scale);
  return 100 * semitones + cents;
}

/** Adds a move to a tuning; the sum is split into whole semitones and at most 50 cents to either side. */
export function movedBy({ semitones, cents }: Tuned, move: Move): Tuned {
  const all = 100 * (semitones + move.semitones) + cents + move.cents;
  const whole = clip(PAD_PARAMETERS.semitones, Math.round(all / 100));
  return { semitones: whole, cents: clip(PAD_PARAMETERS.cents, all - 100 * whole, 0.1) };
}

/** The tuning with which a pad's root is the nearest note of the key. */
export function tunedToKey(rootHz: number, tune: Tuned, key: Key, transpose = 0): Tuned {
  return movedBy(tune, moveToScale(soundingHz(rootHz, tune, transpose), key.tonic, key.scale));
}

/**
 * The first `count` steps of a scale over a pitch, in semitones of it: up the key from the nearest of its notes where the
 * pitch is known, and from the pitch as a tonic where it is not.
 */
export function scaleSteps(count: number, { tonic, scale }: Key, hz: number | null): Move[] {
  const within: readonly number[] = SCALES[scale];
  if (hz === null)
    return Array.from({ length: count }, (_, i) => ({
      semitones: 12 * Math.floor(i / within.length) + (within[i % within.length] as number),
      cents: 0,
    }));
  const first = moveToScale(hz, tonic, scale);
  const note = hzToNote(hz).note + first.semitones;
  const steps: Move[] = [];
  for (let n = note; steps.length < count; n++)
    if (within.includes((((n - tonic) % 12) + 12) % 12))
      steps.push({ semitones: first.semitones + n - note, cents: first.cents });
  return steps;
}

/**
 * Steps typed as semitones (`-5, 0, +7`) or as notes (`C3 E3 G3`), which need a root; `noteOf` reads a note. The text that
 * could not be read where there is one.
 */
export function typedSteps(
  text: string,
  rootHz: number | null,
  noteOf: (name: string) => number | null,
): { readonly steps: readonly Move[] } | { readonly unread: string } {
  const steps: Move[] = [];
  for (const word of text.split(/[\s,;]+/).filter((part) => part !== '')) {
    const plain = word.replace('−', '-');
    if (/^[+-]?\d{1,2}$/.test(plain) && Math.abs(Number(plain)) <= PAD_PARAMETERS.semitones.high) {
      steps.push({ semitones: Number(plain), cents: 0 });
      continue;
    }
    const note = /^[a-gA-G]/.test(plain) ? noteOf(plain) : null;
    if (note === null || rootHz === null) return { unread: word };
    const cents = 1200 * Math.log2(noteToHz(note) / rootHz);
    const semitones = Math.round(cents / 100);
    steps.push({ semitones, cents: cents - 100 * semitones });
  }
  return { steps };
}
