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

/** A sample for strokes of some velocities. */
const FileZone = z.object({
  sample: z.string(),
  lowVelocity: z.number().int().min(1).max(127),
  highVelocity: z.number().int().min(1).max(127),
  levelDb: z.number(),
});
export type Zone = z.infer<typeof FileZone>;

const FilePad = z.object({
  name: Name,
  family: FamilyField.nullable(),
  /** Path of its WAV file, relative to this file; of several that for the hardest strokes. */
  sample: z.string(),
  /** All its WAV files, where they differ by velocity, softest first. */
  zones: z.array(FileZone).optional(),
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

/** A pad as stored in the file; the `levelDb` of zones is the part of its level that is not in their WAV files. */
export function filePad(pad: Pad, zones: readonly Zone[]): FilePad {
  const { sample, levelDb, lowVelocity, highVelocity } = zones.at(-1) as Zone;
  const settings = sparse(told, { ...pad, levelDb });
  const isOne = zones.length === 1 && lowVelocity === 1 && highVelocity === 127;
  const more = isOne ? {} : { zones };
  return FilePad.parse({ name: pad.name, family: pad.family, sample, ...more, note: noteOf(pad), settings });
}

export function kitFile(name: string, pads: readonly FilePad[]): KitFile {
  return { $schema: `./${KIT_SCHEMA_FILE}`, version: 1, name, pads: [...pads] };
}

/** JSON Schema 2020-12 of a kit's file, with limits, units and initial values. */
export function kitSchema(): object {
  return z.toJSONSchema(KitFile, { io: 'input' });
}
