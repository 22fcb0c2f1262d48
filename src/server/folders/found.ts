import { type Dirent, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';

/** Extensions that a scan opens. The content decides what a file is. */
const NAMES = /\.(wav|wave|rf64|bwf|aif|aiff|aifc|flac|mp3|ogg|oga|opus|m4a|mp4|aac)$/i;
const MOST_FILES = 100_000;

export interface FoundFile {
  /** For display and as a key: bytes that are not UTF-8 are written as `%E9`. */
  readonly path: string;
  /** For the system, where names are bytes. */
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
 * Sound files under a folder, by path. Files that cannot be read and folders that cannot be opened are listed in
 * `failed`; the rest continues. Names are read as bytes, because a foreign disk may hold some that are not UTF-8.
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
      // Links are not followed: they may form a cycle.
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

/** A name as text; invalid bytes are percent-encoded, so that different names stay different. */
export function readable(name: Uint8Array): string {
  try {
    return strict.decode(name);
  } catch {
    return letters(name);
  }
}

/** The longest valid UTF-8 runs as text, bytes between them as `%E9`. */
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
