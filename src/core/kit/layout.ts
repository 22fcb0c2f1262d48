import type { Family } from '../family';
import { KIT_PADS } from '../play/limits';
import { BANK_SIZE } from './parameters';

/** A row of eight pads, matching a row of the computer keyboard. */
export interface Row {
  readonly role: string;
  readonly families: readonly Family[];
  /** Physical keys (KeyboardEvent.code, W3C UI Events) and their caps on a US keyboard. */
  readonly codes: readonly string[];
  readonly caps: readonly string[];
  readonly notes: readonly number[];
}

/**
 * The four rows from the bottom up. Notes follow the General MIDI percussion key map (MIDI Association RP-003, GM Level
 * 1), so that any groove written for it plays: kicks 35-36, snares 38 and 40, closed hat 42, open hat 46 and so on.
 */
export const ROWS: readonly Row[] = [
  {
    role: 'kicks, toms',
    families: ['kick', 'tom'],
    codes: ['KeyZ', 'KeyX', 'KeyC', 'KeyV', 'KeyB', 'KeyN', 'KeyM', 'Comma'],
    caps: ['Z', 'X', 'C', 'V', 'B', 'N', 'M', ','],
    notes: [36, 35, 43, 47, 50, 41, 45, 48],
  },
  {
    role: 'snares, claps',
    families: ['snare', 'rim', 'clap'],
    codes: ['KeyA', 'KeyS', 'KeyD', 'KeyF', 'KeyG', 'KeyH', 'KeyJ', 'KeyK'],
    caps: ['A', 'S', 'D', 'F', 'G', 'H', 'J', 'K'],
    notes: [38, 40, 37, 39, 75, 76, 77, 58],
  },
  {
    role: 'hats, cymbals',
    families: ['closed hat', 'open hat', 'cymbal'],
    codes: ['KeyQ', 'KeyW', 'KeyE', 'KeyR', 'KeyT', 'KeyY', 'KeyU', 'KeyI'],
    caps: ['Q', 'W', 'E', 'R', 'T', 'Y', 'U', 'I'],
    notes: [42, 44, 46, 49, 51, 53, 57, 55],
  },
  {
    role: 'tuned, odd',
    families: ['percussion', 'tonal', 'voice', 'effect'],
    codes: ['Digit1', 'Digit2', 'Digit3', 'Digit4', 'Digit5', 'Digit6', 'Digit7', 'Digit8'],
    caps: ['1', '2', '3', '4', '5', '6', '7', '8'],
    notes: [81, 54, 56, 60, 61, 64, 69, 70],
  },
];

/** The row of a place in any bank. */
export function rowOf(position: number): Row {
  return ROWS[Math.floor((position % BANK_SIZE) / 8)] as Row;
}

/** The notes of all places: the first bank's by their roles, those of the others the rest in rising order. */
const NOTES = ((): readonly number[] => {
  const first = ROWS.flatMap((row) => row.notes);
  const rest = Array.from({ length: KIT_PADS }, (_, note) => note).filter((note) => !first.includes(note));
  return [...first, ...rest];
})();

/** The MIDI note of a place, for pads without their own. */
export function noteOfPlace(position: number): number {
  return NOTES[position] as number;
}

/** The MIDI note that plays a pad. */
export function noteOf({ position, note }: { readonly position: number; readonly note: number | null }): number {
  return note ?? noteOfPlace(position);
}

/** What the General MIDI percussion key map calls the notes of the pads, as families. */
const FAMILY_OF_NOTE: ReadonlyMap<number, Family> = new Map([
  ...[35, 36].map((note) => [note, 'kick'] as const),
  ...[41, 43, 45, 47, 48, 50].map((note) => [note, 'tom'] as const),
  ...[38, 40].map((note) => [note, 'snare'] as const),
  [37, 'rim'],
  [39, 'clap'],
  ...[42, 44].map((note) => [note, 'closed hat'] as const),
  [46, 'open hat'],
  ...[49, 51, 53, 55, 57].map((note) => [note, 'cymbal'] as const),
]);

/** The family of a pad's role: a sound without a family gets it when laid there. */
export function familyOfPad(position: number): Family {
  return FAMILY_OF_NOTE.get(noteOfPlace(position)) ?? 'percussion';
}

/** Rows of eight that a kit has, and the highest that can be the lowest of the four under the hands. */
export const ROW_COUNT = KIT_PADS / 8;
export const HIGHEST_FIRST_ROW = ROW_COUNT - ROWS.length;

/** The pad position of a physical key, or null; `firstRow` is the lowest row under the hands. */
export function positionOfKey(code: string, firstRow = 0): number | null {
  for (const [r, row] of ROWS.entries()) {
    const column = row.codes.indexOf(code);
    if (column >= 0) return (firstRow + r) * 8 + column;
  }
  return null;
}

/** The US cap of a pad's key in its own bank. */
export function capOf(position: number): string {
  return rowOf(position).caps[position % 8] as string;
}

/** A place in words: its key, and its bank where that is not the first. */
export function placeName(position: number): string {
  const bank = Math.floor(position / BANK_SIZE) + 1;
  return bank === 1 ? capOf(position) : `${capOf(position)} of bank ${bank}`;
}

/** The places of the first bank, and those of the others. */
const PLACES = Array.from({ length: BANK_SIZE }, (_, position) => position);
const LATER = Array.from({ length: KIT_PADS - BANK_SIZE }, (_, i) => BANK_SIZE + i);
const ODD_ROW = ROWS.length - 1;
const isIn = (row: number) => (position: number) => Math.floor(position / 8) === row;

/** Places in the order in which a sound of a family takes them, each once. */
function placesFor(family: Family | null): number[] {
  const home = ROWS.findIndex((row) => family !== null && row.families.includes(family));
  const own = PLACES.filter((position) => home >= 0 && home < ODD_ROW && familyOfPad(position) === family);
  const unclaimed = PLACES.filter((position) => familyOfPad(position) === 'percussion');
  return [
    ...new Set([
      ...own,
      // Beside its like, on a note without another role; then in the odd row, and only then on another role's note.
      ...unclaimed.filter(isIn(home)),
      ...PLACES.filter(isIn(ODD_ROW)),
      ...unclaimed,
      ...PLACES.filter(isIn(home)),
      ...PLACES,
      ...LATER,
    ]),
  ];
}

/**
 * The next free position for a sound: on a note of its role, else on one without a role. Sounds without a family go to
 * the odd row, those for which the first bank has no place to the next one. Null when all are taken.
 */
export function freePosition(taken: ReadonlySet<number>, family: Family | null): number | null {
  return placesFor(family).find((position) => !taken.has(position)) ?? null;
}
