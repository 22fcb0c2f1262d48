import { z } from 'zod';
import { plausibleTempo } from '../signal/units';

/** A mark or a region a file names: `length` 0 for a point. Frames of the recording. */
export const SaidMark = z.object({ frame: z.number(), length: z.number(), label: z.string() });
export type SaidMark = z.infer<typeof SaidMark>;

/**
 * Metadata of a file about its sound: shown to the person and offered to Slice and to hits, never exported
 * automatically. Texts are verbatim, without control characters, cut at 500 characters.
 */
export const Said = z.object({
  tags: z.array(z.object({ name: z.string(), text: z.string() })),
  tempoBpm: z.number().nullable(),
  key: z.string().nullable(),
  marks: z.array(SaidMark),
  /** Half-open loop stretches. */
  loops: z.array(z.object({ startFrame: z.number(), endFrame: z.number() })),
  /** MIDI note given by the file, with cents above it. */
  rootNote: z.number().nullable(),
  rootCents: z.number(),
  /** Frames since midnight at which the recording began (EBU Tech 3285). */
  timeReference: z.number().nullable(),
  /** Frames removed at a lossy file's ends as encoder delay; null where the file does not tell. */
  delay: z.object({ startFrames: z.number(), endFrames: z.number() }).nullable(),
});
export type Said = z.infer<typeof Said>;

export function emptySaid(): Said {
  return {
    tags: [],
    tempoBpm: null,
    key: null,
    marks: [],
    loops: [],
    rootNote: null,
    rootCents: 0,
    timeReference: null,
    delay: null,
  };
}

const LONGEST_TEXT = 500;
/** Most marks that are kept; only a corrupt file has more. */
export const MOST_MARKS = 5000;
const MOST_TAGS = 60;

/** Text for display: control characters as spaces, ends trimmed, cut. */
export function plainText(text: string): string {
  return [...text.replace(/[\u0000-\u001f\u007f-\u009f\u2028\u2029]+/g, ' ').trim()].slice(0, LONGEST_TEXT).join('');
}

/** Adds a tag unless it is empty, known, or one too many. Well-known tags are parsed too. */
export function addTag(said: Said, name: string, text: string): void {
  const plain = plainText(text);
  if (plain === '' || said.tags.length >= MOST_TAGS) return;
  if (said.tags.some((t) => t.name === name && t.text === plain)) return;
  said.tags.push({ name, text: plain });
  if (name === 'tempo') said.tempoBpm ??= plausibleTempo(Number.parseFloat(plain.replace(',', '.')));
  if (name === 'key') said.key ??= plain.slice(0, 20);
}

/** Marks in order, inside the recording, each once. */
export function tidyMarks(marks: readonly SaidMark[], frames: number): SaidMark[] {
  const inside = marks
    .filter((m) => m.frame >= 0 && m.frame < frames && m.length >= 0)
    .map((m) => ({ ...m, label: plainText(m.label), length: Math.min(m.length, frames - m.frame) }))
    .sort((a, b) => a.frame - b.frame || b.length - a.length);
  return inside
    .filter((m, i) => i === 0 || m.frame !== inside[i - 1]?.frame || m.length !== inside[i - 1]?.length)
    .slice(0, MOST_MARKS);
}
