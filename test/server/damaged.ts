import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

/** A second of sound as ffmpeg writes it; `args` tell the kind. */
export function madeByFfmpeg(folder: string, name: string, ...args: string[]): Uint8Array<ArrayBuffer> {
  const path = join(folder, name);
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'sine=440:d=1:r=44100', ...args, path]);
  return Uint8Array.from(readFileSync(path));
}

/**
 * An M4A whose table says that one chunk holds two thousand million packets (ISO/IEC 14496-12, 8.7.4): whoever goes through them one
 * by one does not come to an end.
 */
export function endlessM4a(folder: string): Uint8Array<ArrayBuffer> {
  const file = madeByFfmpeg(folder, 'endless.m4a', '-c:a', 'aac');
  const at = Buffer.from(file.buffer).indexOf('stsc');
  // Version and flags, the number of entries, then of the first one its first chunk and its packets a chunk.
  new DataView(file.buffer).setUint32(at + 16, 0x7fffffff, false);
  return file;
}

/** Text as ID3v2 has it, its length in seven bits a byte (ID3 2.4 structure, section 3.1). */
export function id3Tag(body: Uint8Array): Uint8Array {
  const size = [21, 14, 7, 0].map((shift) => (body.length >> shift) & 0x7f);
  return Uint8Array.from([...new TextEncoder().encode('ID3'), 3, 0, 0, ...size, ...body]);
}
