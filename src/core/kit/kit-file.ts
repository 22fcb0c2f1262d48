import { z } from 'zod';
import { FamilyField, Name } from '../model';
import { shapeOf } from '../parameter/schema';
import { sparse } from '../parameter/values';
import { noteOf } from './layout';
import type { Pad } from './model';
import { PAD_PARAMETERS } from './parameters';
import { LEFT_TO_PLAYER } from './told-in-sfz';

/** The note stands beside the settings: it is never the initial one. */
const told = Object.fromEntries(
  LEFT_TO_PLAYER.filter((key) => key !== 'note').map((key) => [key, PAD_PARAMETERS[key]]),
);

const FilePad = z.object({
  name: Name,
  family: FamilyField.nullable(),
  /** Path of its WAV file, from this file's folder. */
  sample: z.string(),
  note: z.number().int().min(0).max(127),
  settings: z.object(shapeOf(told)).partial(),
});
type FilePad = z.infer<typeof FilePad>;

/** A kit as a file beside its samples: what is not in the WAV files, where it differs from the initial value. */
export const KitFile = z.object({
  $schema: z.string(),
  version: z.literal(1),
  name: Name,
  pads: z.array(FilePad),
});
export type KitFile = z.infer<typeof KitFile>;

/** Name of the JSON Schema that lies beside a kit's file. */
export const KIT_SCHEMA_FILE = 'kit.schema.json';

/** A pad as the file has it; `levelDb` is the part of its level that is not in the WAV file. */
export function filePad(pad: Pad, sample: string, levelDb: number): FilePad {
  const settings = sparse(told, { ...pad, levelDb });
  return FilePad.parse({ name: pad.name, family: pad.family, sample, note: noteOf(pad), settings });
}

export function kitFile(name: string, pads: readonly FilePad[]): KitFile {
  return { $schema: `./${KIT_SCHEMA_FILE}`, version: 1, name, pads: [...pads] };
}

/** Limits, units and initial values of everything in a kit's file, as JSON Schema 2020-12. */
export function kitSchema(): object {
  return z.toJSONSchema(KitFile, { io: 'input' });
}
