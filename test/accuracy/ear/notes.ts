import { RATE, renderNotes } from '../fluid';
import { cached, trimmed } from './percussion';

/**
 * Programs of the GM Level 1 sound set (MIDI Association RP-003), counted from 0, that are no percussion: what is struck and tuned, as bars, bells
 * and kettledrums, is left out on both sides, and so are the percussive programs.
 */
const PROGRAMS = Array.from({ length: 128 }, (_, program) => program).filter(
  (p) => !((p >= 8 && p <= 15) || p === 47 || p === 108 || (p >= 112 && p <= 119)),
);
/** Guitars' frets, breaths, birds and the other effects of the set begin here: they are given time to sound. */
const EFFECTS = 120;
const KEYS = [36, 48, 60, 72];
const SPACE_S = 2;
const SHORTEST = 1000;

/** Notes and effects of a SoundFont, no drums, each trimmed as a kit's sounds are. */
export function otherSounds(font: string, name: string, folder: string): Float32Array[] {
  return PROGRAMS.flatMap((program) => {
    const notes = KEYS.map((key, i) => ({
      tick: i * SPACE_S * 960,
      key,
      velocity: 100,
      channel: 0,
      lengthTicks: program >= EFFECTS ? 1500 : 240,
    }));
    const samples = cached(folder, `notes ${name} ${program}`, () =>
      renderNotes([font], notes, 120, KEYS.length * SPACE_S + 1, folder, [], [[0, program]]),
    );
    return KEYS.flatMap((_, i) => {
      const sound = trimmed(samples.subarray(i * SPACE_S * RATE, (i + 1) * SPACE_S * RATE));
      return sound && sound.length > SHORTEST ? [sound] : [];
    });
  });
}
