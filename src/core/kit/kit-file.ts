import { z } from 'zod';
import { FamilyField, Name } from '../model';
import { shapeOf } from '../parameter/schema';
import { sparse } from '../parameter/values';
import { noteOf } from './layout';
import type { Pad } from './model';
import { PAD_PARAMETERS } from './parameters';
import { LEFT_TO_PLAYER } from './told-in-sfz';

/** The note is a field of its own: it has no initial value. */
const told = Object.fromEntries(
  LEFT_TO_PLAYER.filter((key) => key !== 'note').map((key) => [key, PAD_PARAMETERS[key]]),
);

const FilePad = z.object({
  name: Name,
  family: FamilyField.nullable(),
  /** Path of its WAV file, relative to this file. */
  sample: z.string(),
  note: z.number().int().min(0).max(127),
  settings: z.object(shapeOf(told)).partial(),
});
type FilePad = z.infer<typeof FilePad>;

/**
 * A kit as a JSON file beside its samples: settings that are not in the WAV files, where they differ from the initial
 * values.
 */
export const KitFile = z.object({
  $schema: z.string(),
  version: z.literal(1),
  name: Name,
  pads: z.array(FilePad),
});
export type KitFile = z.infer<typeof KitFile>;

/** Name of the JSON Schema beside a kit's file. */
export const KIT_SCHEMA_FILE = 'kit.schema.json';

/** A pad as stored in the file; `levelDb` is the part of its level that is not in the WAV file. */
export function filePad(pad: Pad, sample: string, levelDb: number): FilePad {
  const settings = sparse(told, { ...pad, levelDb });
  return FilePad.parse({ name: pad.name, family: pad.family, sample, note: noteOf(pad), settings });
}

export function kitFile(name: string, pads: readonly FilePad[]): KitFile {
  return { $schema: `./${KIT_SCHEMA_FILE}`, version: 1, name, pads: [...pads] };
}

/** JSON Schema 2020-12 of a kit's file, with limits, units and initial values. */
export function kitSchema(): object {
  return z.toJSONSchema(KitFile, { io: 'input' });
}
