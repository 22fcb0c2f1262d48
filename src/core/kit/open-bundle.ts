import { type UnzipFileInfo, unzipSync } from 'fflate';
import type { z } from 'zod';
import { UndercroftError } from '../errors';
import { readWav } from '../format/wav';
import { frameCount } from '../signal/audio';
import { KIT_FILE_VERSION, KIT_SCHEMA_FILE, KitFile } from './kit-file';

/** Most that a bundle may unpack to, and most files in it. */
export const MOST_BUNDLE_BYTES = 1024 * 1024 * 1024;
const MOST_FILES = 20_000;
const MOST_DESCRIPTION_BYTES = 16 * 1024 * 1024;
const SAMPLE = /^samples\/[^/\\]+\.wav$/;
/** A folder that somebody packed a bundle in again is passed over. */
const IN_A_FOLDER = /^[^/\\]+\//;

/** A bundle that was read: what it says, and its samples by their paths. */
export interface OpenedBundle {
  readonly file: KitFile;
  readonly samples: ReadonlyMap<string, Uint8Array>;
}

/**
 * Reads a bundle: a zip with a description and the samples that it names. Nothing else in it is looked at, and no path in
 * it leads anywhere but into the bundle. Throws `refused` or `too-large` with what is wrong and what would be right.
 */
export function openBundle(zip: Uint8Array): OpenedBundle {
  const files = unpacked(zip);
  const file = descriptionIn(files);
  const samples = new Map<string, Uint8Array>();
  for (const { name, zones } of file.pads)
    for (const { sample } of zones) {
      const bytes = files.get(sample);
      if (!bytes) throw refused(`The pad ${name} plays ${sample}, which is not in the bundle.`);
      samples.set(sample, bytes);
    }
  requireWhole(file);
  return { file, samples };
}

/** Reads every sample to its end. Throws `refused` naming the first that cannot be read, or is not what it is said to be. */
export function requireSamples({ file, samples }: OpenedBundle): { readonly seconds: number } {
  const lengths = new Map<string, number>();
  let seconds = 0;
  for (const [path, bytes] of samples) {
    const { audio, notFinite } = readable(path, bytes);
    const frames = frameCount(audio);
    if (frames === 0) throw refused(`The sample ${path} is empty.`);
    if (notFinite > 0) throw refused(`The sample ${path} holds ${notFinite} values that are no numbers.`);
    lengths.set(path, frames);
    seconds += frames / audio.sampleRate;
  }
  for (const { name, zones } of file.pads)
    for (const { sample, loop } of zones)
      if (loop && (loop.end >= (lengths.get(sample) ?? 0) || loop.start >= loop.end))
        throw refused(
          `The loop of the pad ${name} runs from frame ${loop.start} to ${loop.end}; ${sample} has ${lengths.get(sample)}.`,
        );
  return { seconds };
}

function readable(path: string, bytes: Uint8Array) {
  try {
    return readWav(bytes);
  } catch (error) {
    throw refused(`The sample ${path} cannot be read: ${(error as Error).message}`);
  }
}

/** The description and the samples of a zip, by path. Sizes are checked before anything is unpacked. */
function unpacked(zip: Uint8Array): ReadonlyMap<string, Uint8Array> {
  let bytes = 0;
  let count = 0;
  const wanted = (info: UnzipFileInfo) => {
    count++;
    if (count > MOST_FILES) throw new UndercroftError('too-large', `A bundle has up to ${MOST_FILES} files.`);
    const path = info.name.replace(IN_A_FOLDER, (folder) => (folder === 'samples/' ? folder : ''));
    const isDescription = /^[^/\\]+\.json$/.test(path) && path !== KIT_SCHEMA_FILE;
    if (!isDescription && !SAMPLE.test(path)) return false;
    if (isDescription && info.originalSize > MOST_DESCRIPTION_BYTES)
      throw new UndercroftError('too-large', `The description ${path} is too long to be one of a kit.`);
    bytes += info.originalSize;
    if (bytes > MOST_BUNDLE_BYTES)
      throw new UndercroftError(
        'too-large',
        'The bundle would unpack to more than a gigabyte of samples; no kit has so many.',
      );
    return true;
  };
  try {
    const entries = Object.entries(unzipSync(zip, { filter: wanted }));
    return new Map(
      entries.map(([name, data]) => [name.replace(IN_A_FOLDER, (f) => (f === 'samples/' ? f : '')), data]),
    );
  } catch (error) {
    if (error instanceof UndercroftError) throw error;
    throw refused(
      `This is no zip that can be read (${(error as Error).message}). A bundle is the zip that Export makes.`,
    );
  }
}

function descriptionIn(files: ReadonlyMap<string, Uint8Array>): KitFile {
  const [path, ...others] = [...files.keys()].filter((name) => !name.startsWith('samples/'));
  if (path === undefined)
    throw refused('There is no description of a kit in the zip: a bundle has a KIT.json beside its folder of samples.');
  if (others.length > 0)
    throw refused(
      `There are ${others.length + 1} descriptions in the zip (${[path, ...others].join(', ')}); a bundle has one.`,
    );
  let value: unknown;
  try {
    value = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(files.get(path)));
  } catch (error) {
    throw refused(`The description ${path} is no JSON: ${(error as Error).message}`);
  }
  const version = (value as { version?: unknown } | null)?.version;
  if (version !== KIT_FILE_VERSION)
    throw refused(
      typeof version === 'number'
        ? `The description ${path} is of version ${version}; this application reads version ${KIT_FILE_VERSION}.`
        : `The file ${path} is no description of a kit: it has no version.`,
    );
  const read = KitFile.safeParse(value);
  if (!read.success) throw refused(`The description ${path} is wrong: ${firstFault(read.error)}`);
  return read.data;
}

function firstFault({ issues }: z.ZodError): string {
  const [issue] = issues;
  if (!issue) return 'it does not hold by its schema.';
  const more = issues.length > 1 ? ` (and ${issues.length - 1} more)` : '';
  return `${issue.path.join('.') || 'the whole'}: ${issue.message}${more}`;
}

/** Checks what no schema says. */
function requireWhole({ pads, buses, sources }: KitFile): void {
  const taken = new Set<number>();
  for (const { name, position, bus, sources: own, zones, role } of pads) {
    if (taken.has(position))
      throw refused(`Two pads lie at place ${position}, ${name} among them; each has a place of its own.`);
    taken.add(position);
    if (bus !== null && buses[bus]?.kind !== 'bus')
      throw refused(`The pad ${name} plays on bus ${bus}, which the kit has not.`);
    if (own.some((i) => i >= sources.length)) throw refused(`The pad ${name} names a source that is not told.`);
    if (zones.length === 0 && role === '') throw refused(`The pad ${name} has neither a sample nor a role.`);
  }
}

function refused(message: string): UndercroftError {
  return new UndercroftError('refused', message);
}
