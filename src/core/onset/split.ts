import { z } from 'zod';
import { Frame } from '../model';

/** The ways in which a recording is split. `marks`: at the marks that its file came with. */
export const SPLIT_METHODS = ['attack', 'silence', 'grid', 'marks'] as const;
export const SplitMethod = z.enum(SPLIT_METHODS);
export type SplitMethod = z.infer<typeof SplitMethod>;

/** Which part of the spectrum an attack is looked for in. */
export const BANDS = ['all', 'low', 'mid', 'high'] as const;
export const Band = z.enum(BANDS);
export type Band = z.infer<typeof Band>;

/** Lengths of the grid's steps: note values, T for triplets. */
export const NOTE_VALUES = ['bar', '1/2', '1/4', '1/4T', '1/8', '1/8T', '1/16', '1/16T', '1/32'] as const;
export const NoteValue = z.enum(NOTE_VALUES);
export type NoteValue = z.infer<typeof NoteValue>;

/** By attack: which of the candidates become slices. Sensitivity 0 keeps only the surest, 1 every candidate. */
export const AttackSplit = z.object({
  sensitivity: z.number().min(0).max(1),
  spacingMs: z.number().min(5).max(1000),
  band: Band,
  /** At most this many slices, whatever they are found by; null for all. Of attacks the strongest are kept. */
  strongest: z.number().int().min(1).max(100000).nullable(),
  /** Every slice starts this much before its attack. */
  preRollMs: z.number().min(0).max(500),
});
export type AttackSplit = z.infer<typeof AttackSplit>;

/** By silence: takes of single sounds with gaps between them. */
export const SilenceSplit = z.object({
  /** Level in dBFS over which there is sound; null for the one suggested by the room tone. */
  thresholdDb: z.number().min(-120).max(0).nullable(),
  shortestSoundMs: z.number().min(2).max(10000),
  shortestGapMs: z.number().min(5).max(20000),
  leadInMs: z.number().min(0).max(2000),
  tailMs: z.number().min(0).max(10000),
});
export type SilenceSplit = z.infer<typeof SilenceSplit>;

/** By grid: bars and beats. Tempo counts quarter notes. */
export const GridSplit = z.object({
  /** Quarter notes a minute; null for the one that was estimated. */
  tempoBpm: z.number().min(20).max(400).nullable(),
  beats: z.number().int().min(1).max(32),
  beatUnit: z.union([z.literal(2), z.literal(4), z.literal(8), z.literal(16)]),
  /** Where the first bar begins; null for the estimated one. */
  downbeatFrame: Frame.nullable(),
  noteValue: NoteValue,
  /** 0: lines as a clock has them; 1: at the player's own strokes, as far as they are near. */
  pull: z.number().min(0).max(1),
});
export type GridSplit = z.infer<typeof GridSplit>;

/** How a recording is split: the method, and the settings of every one of them, so that none is lost by looking at another. */
export const Split = z.object({
  method: SplitMethod,
  ...AttackSplit.shape,
  ...SilenceSplit.shape,
  ...GridSplit.shape,
});
export type Split = z.infer<typeof Split>;

export const DEFAULT_SPLIT: Split = {
  method: 'attack',
  sensitivity: 0.5,
  spacingMs: 20,
  band: 'all',
  strongest: null,
  preRollMs: 0,
  thresholdDb: null,
  shortestSoundMs: 20,
  shortestGapMs: 120,
  leadInMs: 2,
  tailMs: 60,
  tempoBpm: null,
  beats: 4,
  beatUnit: 4,
  downbeatFrame: null,
  noteValue: '1/8',
  pull: 0,
};

/** A stretch of a recording, half-open [startFrame, endFrame). */
export interface Region {
  readonly startFrame: number;
  readonly endFrame: number;
}
