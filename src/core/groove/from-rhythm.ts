import type { HeardSlice } from '../describe/hearing';
import { FAMILIES, type Family } from '../family';
import { freePosition, noteOf, noteOfPlace } from '../kit/layout';
import { generalMidiLayout } from '../kit/layouts';
import { velocityUnder } from '../play/gains';
import type { Rhythm } from '../rhythm/rhythm';
import { toDb } from '../signal/units';
import type { WholeGroove } from './midi';
import { type BeatUnit, type GrooveNote, type GrooveRow, type Meter, MOST_BARS, TICKS_PER_QUARTER } from './model';
import { NOTE_INITIAL } from './parameters';
import { barTicks } from './time';

/** A drum of a recording: its family, and which pad of a kit plays it, where one is known. */
export interface HeardDrum {
  readonly family: Family;
  readonly role?: string;
  readonly note?: number;
}

/** What is known of a stroke's slice. */
export type StruckSlice = Pick<HeardSlice, 'family' | 'guess' | 'also' | 'alsoDb'>;

/**
 * Further families to be played with a slice, and how far under it each is, in dB: those heard in it, and the one that it
 * is taken for by itself where its shelf has another.
 */
function furtherIn({ family, guess, also, alsoDb }: StruckSlice) {
  const heard = also.map((other, n) => ({ family: other, db: alsoDb[n] ?? 0 }));
  if (guess.family === family || also.includes(guess.family)) return heard;
  return [...heard, { family: guess.family, db: 0 }];
}

const USUAL_BPM = 120;
const BEAT_UNITS: readonly number[] = [1, 2, 4, 8, 16];
const ROLES = new Map(generalMidiLayout().map((place) => [noteOf(place), place.role]));

/**
 * The rhythm of a recording as a groove: a row for each of its drums, on the notes that General MIDI has for their families,
 * unless the drums say otherwise; the player's own timing. `sliceAt` gives the slice that begins at a frame: further families
 * that sound in it are struck too. A pickup stands at the end of the first bar. `rangeDb` is by how much the softest velocity is softer. Null without strokes.
 */
export function grooveFromRhythm(
  rhythm: Rhythm,
  drums: readonly HeardDrum[],
  name: string,
  newId: () => string,
  {
    sliceAt = () => undefined,
    rangeDb = 40,
  }: { sliceAt?: (frame: number) => StruckSlice | undefined; rangeDb?: number } = {},
): WholeGroove | null {
  if (rhythm.notes.length === 0) return null;
  const meter: Meter = {
    bar: 0,
    beats: Math.max(1, Math.min(32, rhythm.beats)),
    beatUnit: (BEAT_UNITS.includes(rhythm.beatUnit) ? rhythm.beatUnit : 4) as BeatUnit,
  };
  const bar = barTicks(meter);
  const first = Math.min(...rhythm.notes.map(({ quarters }) => quarters)) * TICKS_PER_QUARTER;
  // What lies a hair before the first beat is of it, not a pickup.
  const before = first < -NEAR_TICKS ? Math.ceil(-first / bar) * bar : 0;
  const rows = rowsOf(drums, newId);
  const extra = new Map<Family, GrooveRow>();
  const rowOfFamily = (family: Family): GrooveRow => {
    const known = rows.find((row) => row.family === family) ?? extra.get(family);
    if (known) return known;
    const [made] = rowsOf([{ family }], newId, rows.length + extra.size) as [GrooveRow];
    extra.set(family, made);
    return made;
  };
  const notes = rhythm.notes.flatMap(({ quarters, group, velocity, frame }): GrooveNote[] => {
    const tick = Math.max(0, Math.round(quarters * TICKS_PER_QUARTER) + before);
    if (tick >= MOST_BARS * bar) return [];
    const own = rows[group];
    const slice = sliceAt(frame);
    const others = (slice ? furtherIn(slice) : [])
      .filter(({ family }) => family !== own?.family)
      .map(({ family, db }) => ({ row: rowOfFamily(family), db }));
    return [...(own ? [{ row: own, db: 0 }] : []), ...others].map(({ row, db }) => {
      const struck = Math.max(1, Math.round(velocityUnder(-toDb(velocity) - db, rangeDb)));
      return { id: newId(), rowId: row.id, tick, length: TICKS_PER_QUARTER / 4, ...NOTE_INITIAL, velocity: struck };
    });
  });
  const last = Math.max(0, ...notes.map(({ tick }) => tick));
  const bars = Math.min(MOST_BARS, Math.floor(last / bar) + 1);
  const bpm = Math.max(20, Math.min(400, rhythm.bpm ?? USUAL_BPM));
  const groove = { name, bars, meters: [meter], bpm, swing: 0.5, swingOf: 16 as const };
  return { groove, rows: [...rows, ...extra.values()], notes, lanes: [] };
}

/** Strokes up to a 32nd before a beat belong to it. */
const NEAR_TICKS = TICKS_PER_QUARTER / 8;

/** A row for each drum; of a family each next one has the next note that General MIDI has for it. */
function rowsOf(drums: readonly HeardDrum[], newId: () => string, from = 0): GrooveRow[] {
  const taken = new Set<number>();
  const placed = new Map<HeardDrum, number>();
  // As sounds are laid on a kit: kicks before toms, snares before claps.
  for (const drum of [...drums].sort((a, b) => FAMILIES.indexOf(a.family) - FAMILIES.indexOf(b.family))) {
    const position = freePosition(taken, drum.family) ?? 0;
    taken.add(position);
    placed.set(drum, noteOfPlace(position));
  }
  return drums.map((drum, i): GrooveRow => {
    const note = drum.note ?? (placed.get(drum) as number);
    const role = drum.role ?? ROLES.get(note) ?? '';
    return {
      id: newId(),
      grooveId: '',
      position: from + i,
      role,
      note,
      family: drum.family,
      muted: false,
      alone: false,
    };
  });
}
