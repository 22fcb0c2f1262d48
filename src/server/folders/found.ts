import { type Dirent, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';

/** Names that sound files go by: what a scan opens. What they really are, their content tells. */
const NAMES = /\.(wav|wave|rf64|bwf|aif|aiff|aifc|flac|mp3|ogg|oga|opus|m4a|mp4|aac)$/i;
const MOST_FILES = 100_000;

export interface FoundFile {
  /** For people and for the list of what was met: bytes that are no UTF-8 are written as `%E9`. */
  readonly path: string;
  /** As the system has it: names are bytes there. */
  readonly place: Buffer;
  readonly bytes: number;
  readonly modifiedAt: number;
}

export interface Failure {
  readonly path: string;
  readonly reason: string;
}

const SEPARATOR = Buffer.from('/');
const strict = new TextDecoder('utf-8', { fatal: true });

/**
 * Sound files under a folder, by path; each that cannot be looked at, and each folder that cannot be opened, is named in `failed` and
 * the rest goes on. Names are read as bytes, since a disk from elsewhere may hold some that are no UTF-8.
 */
export function soundFilesUnder(root: string, failed: Failure[]): FoundFile[] {
  const found: FoundFile[] = [];
  const folders: { place: Buffer; path: string }[] = [{ place: Buffer.from(root), path: root }];
  for (let folder = folders.pop(); folder !== undefined && found.length < MOST_FILES; folder = folders.pop()) {
    let entries: Dirent<Buffer>[];
    try {
      entries = readdirSync(/*turbopackIgnore: true*/ folder.place, { withFileTypes: true, encoding: 'buffer' });
    } catch (error) {
      failed.push({ path: folder.path, reason: `The folder cannot be opened: ${(error as Error).message}` });
      continue;
    }
    for (const entry of entries) {
      const name = readable(entry.name);
      if (name.startsWith('.')) continue;
      const path = join(folder.path, name);
      const place = Buffer.concat([folder.place, SEPARATOR, entry.name]);
      // Links are not followed: they may lead round in a ring.
      if (entry.isDirectory()) folders.push({ place, path });
      else if (entry.isFile() && NAMES.test(name)) {
        try {
          const { size, mtimeMs } = statSync(/*turbopackIgnore: true*/ place);
          found.push({ path, place, bytes: size, modifiedAt: Math.round(mtimeMs) });
        } catch (error) {
          failed.push({ path, reason: `The file cannot be opened: ${(error as Error).message}` });
        }
      }
    }
  }
  return found.sort((a, b) => (a.path < b.path ? -1 : 1));
}

/** A name in letters; bytes that are none are written with a percent sign, so that two names stay two. */
export function readable(name: Uint8Array): string {
  try {
    return strict.decode(name);
  } catch {
    return letters(name);
  }
}

/** The longest runs that are UTF-8 as letters, the bytes between them as `%E9`. */
function letters(name: Uint8Array): string {
  let text = '';
  for (let at = 0; at < name.length; ) {
    const length = [4, 3, 2, 1].find((n) => at + n <= name.length && isLetter(name.subarray(at, at + n)));
    if (length === undefined) text += `%${(name[at] as number).toString(16).toUpperCase().padStart(2, '0')}`;
    else text += strict.decode(name.subarray(at, at + length));
    at += length ?? 1;
  }
  return text;
}

function isLetter(bytes: Uint8Array): boolean {
  try {
    return [...strict.decode(bytes)].length === 1;
  } catch {
    return false;
  }
}
