import { z } from 'zod';
import { TICKS_PER_QUARTER } from '../midi/write';
import { FamilyField, Id, Name } from '../model';
import { LONGEST_NAME } from '../naming/names';
import { shapeOf } from '../parameter/schema';
import { GROOVE_PARAMETERS, NOTE_PARAMETERS, ROW_PARAMETERS } from './parameters';

/** Most bars of a groove. */
export const MOST_BARS = 64;
/** A groove has the ticks of the MIDI files that are written: fine enough for the timing of hands. */
export { TICKS_PER_QUARTER };
/** Longest groove, in ticks: so many bars of the longest signature. */
export const LAST_TICK = MOST_BARS * 32 * 4 * TICKS_PER_QUARTER;
/** Most notes of a groove. */
export const MOST_NOTES = 12_000;

const BEAT_UNITS = [1, 2, 4, 8, 16] as const;
export type BeatUnit = (typeof BEAT_UNITS)[number];
export const BeatUnitField = z.union(BEAT_UNITS.map((unit) => z.literal(unit)));

/** From this bar on (0 is the first) so many beats of this unit make a bar. */
const Meter = z.object({
  bar: z
    .number()
    .int()
    .min(0)
    .max(MOST_BARS - 1),
  beats: z.number().int().min(1).max(32),
  beatUnit: BeatUnitField,
});
export type Meter = z.infer<typeof Meter>;

/** A rhythm of notes that are addressed to roles, so that it plays any kit. */
export const Groove = z.object({
  id: Id,
  name: Name,
  bars: z.number().int().min(1).max(MOST_BARS),
  /** In order of their bars, the first at bar 0. */
  meters: z.array(Meter).min(1).max(MOST_BARS),
  ...shapeOf(GROOVE_PARAMETERS),
});
export type Groove = z.infer<typeof Groove>;

/** What plays a row of a groove: the pad of this role, else that of this note, else one of this family. */
export const GrooveRow = z.object({
  id: Id,
  grooveId: Id,
  /** Order of rows that no pad of the kit has. */
  position: z.number().min(-1e6).max(1e6),
  role: z.string().max(LONGEST_NAME),
  note: z.number().int().min(0).max(127),
  family: FamilyField.nullable(),
  ...shapeOf(ROW_PARAMETERS),
});
export type GrooveRow = z.infer<typeof GrooveRow>;

/** Most points of a lane. */
export const MOST_LANE_POINTS = 8192;
/** Most lanes of a groove. */
export const MOST_LANES = 64;

const LanePoint = z.object({
  tick: z.number().int().min(0).max(LAST_TICK),
  value: z.number().min(-1e6).max(1e6),
});
/** A value at a time; two at the same tick are a jump. */
export type LanePoint = z.infer<typeof LanePoint>;

/**
 * A parameter over time: of what plays a row, of one of its steps, of a bus, or of the whole kit where it names neither row
 * nor bus. Between its points it goes in a line, as the parameter's bar has it, or holds each value until the next.
 */
export const GrooveLane = z.object({
  id: Id,
  grooveId: Id,
  rowId: Id.nullable(),
  /** A bus by its name; the room's and the echo's by what they are. */
  bus: z.string().max(LONGEST_NAME),
  /** A live step by its processor and which of those it is: "saturation 1"; empty for the pad's or the bus's own. */
  step: z.string().max(40),
  /** The parameter's name; one of a list's has its place: "points.0.gainDb". */
  parameter: z.string().min(1).max(60),
  holds: z.boolean(),
  /** In order of time; without any it moves nothing. */
  points: z.array(LanePoint).max(MOST_LANE_POINTS),
});
export type GrooveLane = z.infer<typeof GrooveLane>;

/** A note of a row: one stroke, or several as a roll. */
export const GrooveNote = z.object({
  id: Id,
  rowId: Id,
  /** When it begins, in ticks from the first bar. */
  tick: z
    .number()
    .int()
    .min(0)
    .max(LAST_TICK - 1),
  /** Duration in ticks; the strokes of a roll are spread evenly over it. */
  length: z.number().int().min(1).max(LAST_TICK),
  ...shapeOf(NOTE_PARAMETERS),
});
export type GrooveNote = z.infer<typeof GrooveNote>;
