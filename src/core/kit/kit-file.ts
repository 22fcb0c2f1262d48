import { z } from 'zod';
import { FamilyField, Name } from '../model';
import { LONGEST_NAME } from '../naming/names';
import type { Parameters } from '../parameter/parameter';
import { shapeOf } from '../parameter/schema';
import { sparse } from '../parameter/values';
import { KIT_PADS } from '../play/limits';
import { Source } from '../rights/source';
import { LIVE_NAMES, LIVE_PARAMETERS, type LiveName } from '../treatment/live';
import type { Busing } from './buses';
import { noteOf } from './layout';
import { type Bus, Kit, type Pad } from './model';
import { BUS_KINDS, BUS_PARAMETERS, KIT_PARAMETERS, PAD_PARAMETERS } from './parameters';
import { LEFT_TO_PLAYER } from './told-in-sfz';

/** The note is a field of its own: it has no initial value. */
const PAD_TOLD = Object.fromEntries(
  LEFT_TO_PLAYER.filter((key) => key !== 'note').map((key) => [key, PAD_PARAMETERS[key]]),
);

/** What a kit does to all its pads is in their settings and files; these are left. */
const { transpose: _transpose, levelDb: _level, attackMs: _attack, tailMs: _tail, ...KIT_TOLD } = KIT_PARAMETERS;

/** Samples lie in one folder, beside the description; no other path is read. */
const SamplePath = z
  .string()
  .max(300)
  .regex(/^samples\/(?!\.)[^/\\:*?"<>|\u0000-\u001f]+\.wav$/, 'A sample is named samples/NAME.wav.');

/** A sample for strokes of some velocities; of several for the same ones each is a take. */
const FileZone = z
  .object({
    sample: SamplePath,
    lowVelocity: z.number().int().min(1).max(127),
    highVelocity: z.number().int().min(1).max(127),
    /** First and last frame that repeat while it loops. */
    loop: z.object({ start: z.number().int().min(0), end: z.number().int().min(0) }).nullable(),
  })
  .refine(
    (zone) => zone.lowVelocity <= zone.highVelocity,
    'A range of velocity goes from the lower to the higher one.',
  );
export type Zone = z.infer<typeof FileZone>;

const FilePad = z.object({
  /** Its place, counted from the left end of the lowest row. */
  position: z
    .number()
    .int()
    .min(0)
    .max(KIT_PADS - 1),
  name: Name,
  family: FamilyField.nullable(),
  /** What it is in the kit's layout; empty where it has no role. */
  role: z.string().max(LONGEST_NAME),
  note: z.number().int().min(0).max(127),
  /** Index into the kit's `buses` of the one it plays on; null for none. */
  bus: z.number().int().min(0).nullable(),
  /** Indices into the kit's `sources` of the recordings heard on it. */
  sources: z.array(z.number().int().min(0)).max(1000),
  /** Its WAV files, softest first; none where its role waits for a sound. */
  zones: z.array(FileZone).max(1000),
  settings: z.object(shapeOf(PAD_TOLD)).partial(),
});
export type FilePad = z.infer<typeof FilePad>;

function stepOf<N extends LiveName>(processor: N) {
  const settings = z.object(shapeOf(LIVE_PARAMETERS[processor] as Parameters)).partial();
  return z.object({ processor: z.literal(processor), active: z.boolean(), settings });
}
const [first, ...others] = LIVE_NAMES.map(stepOf) as [ReturnType<typeof stepOf>, ...ReturnType<typeof stepOf>[]];

const FileBus = z.object({
  name: Name,
  kind: z.enum(BUS_KINDS),
  settings: z.object(shapeOf(BUS_PARAMETERS)).partial(),
  steps: z.array(z.discriminatedUnion('processor', [first, ...others])).max(100),
});
export type FileBus = z.infer<typeof FileBus>;

export const KIT_FILE_VERSION = 2;

/**
 * A kit as a JSON file beside its samples: all that is not in the WAV files. Settings are told where they differ from the
 * initial values.
 */
export const KitFile = z.object({
  $schema: z.string().max(200),
  version: z.literal(KIT_FILE_VERSION),
  ...Kit.pick({ name: true, author: true, about: true, words: true, notes: true }).shape,
  /** What its chances begin from, so that they fall alike wherever it is opened. */
  seed: z.number().int().min(0).max(0xffffff).nullable(),
  settings: z.object(shapeOf(KIT_TOLD)).partial(),
  sources: z.array(Source).max(10_000),
  buses: z.array(FileBus).max(100),
  pads: z.array(FilePad).max(KIT_PADS),
});
export type KitFile = z.infer<typeof KitFile>;

/** Name of the JSON Schema beside a kit's file. */
export const KIT_SCHEMA_FILE = 'kit.schema.json';

/** A pad as the file stores it; `levelDb` is the part of its level that the WAV files do not contain. */
export function filePad(
  pad: Pad,
  zones: readonly Zone[],
  levelDb: number,
  told: { readonly bus: number | null; readonly sources: readonly number[] } = { bus: null, sources: [] },
): FilePad {
  const { position, name, family, role } = pad;
  const settings = sparse(PAD_TOLD, { ...pad, levelDb });
  return FilePad.parse({ position, name, family, role, note: noteOf(pad), ...told, zones, settings });
}

/** A bus as stored in the file. */
export function fileBus(bus: Bus, busSteps: Busing['busSteps']): FileBus {
  const steps = busSteps.filter(({ busId }) => busId === bus.id);
  return FileBus.parse({
    name: bus.name,
    kind: bus.kind,
    settings: sparse(BUS_PARAMETERS, bus),
    steps: steps.map(({ processor, active, ...step }) => ({
      processor,
      active,
      settings: sparse(LIVE_PARAMETERS[processor] as Parameters, step as Readonly<Record<string, unknown>>),
    })),
  });
}

/** What a kit says of itself. */
export type ToldKit = Pick<Kit, 'name'> & Partial<Omit<Kit, 'id' | 'name'>>;

export function kitFile(
  kit: ToldKit,
  more: Pick<KitFile, 'pads'> & Partial<Pick<KitFile, 'sources' | 'buses'>>,
): KitFile {
  const { name, author = '', about = '', words = [], notes = '', seed = null } = kit;
  const settings = sparse(KIT_TOLD, kit);
  const { sources = [], buses = [], pads } = more;
  return {
    $schema: `./${KIT_SCHEMA_FILE}`,
    version: KIT_FILE_VERSION,
    ...{ name, author, about, words, notes, seed, settings },
    ...{ sources, buses, pads },
  };
}

/** JSON Schema 2020-12 of a kit's file, with limits, units and initial values. */
export function kitSchema(): object {
  return z.toJSONSchema(KitFile, { io: 'input' });
}
