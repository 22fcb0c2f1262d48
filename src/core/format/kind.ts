/** The kinds of file that can be read, recognised by content. */
export const FILE_KINDS = ['wav', 'aiff', 'flac', 'mp3', 'ogg', 'mp4', 'adts'] as const;
export type FileKind = (typeof FILE_KINDS)[number];

/** Bytes from the start of a file that `recogniseKind` needs, after an ID3v2 tag. */
export const HEAD_BYTES = 16;

/** Where sound begins after an ID3v2 tag (ID3 2.4 structure, section 3.1), or 0 where there is no such tag. */
export function id3Length(head: Uint8Array): number {
  if (head.length < 10 || text(head, 0, 3) !== 'ID3') return 0;
  const [a, b, c, d] = head.subarray(6, 10) as unknown as [number, number, number, number];
  if ((a | b | c | d) & 0x80) return 0;
  const footer = (head[5] as number) & 0x10 ? 10 : 0;
  return 10 + (a << 21) + (b << 14) + (c << 7) + d + footer;
}

/**
 * The kind of a file by its first bytes, after an ID3v2 tag where there is one, or null. Names are ignored, because
 * they may be wrong. Sources: RFC 9639 (FLAC), RFC 3533 (Ogg), ISO/IEC 14496-12 (MP4), 11172-3 and 13818-7 (MPEG audio,
 * ADTS).
 */
export function recogniseKind(head: Uint8Array): FileKind | null {
  const first = text(head, 0, 4);
  const form = text(head, 8, 12);
  if ((first === 'RIFF' || first === 'RF64' || first === 'BW64') && form === 'WAVE') return 'wav';
  if (first === 'FORM' && (form === 'AIFF' || form === 'AIFC')) return 'aiff';
  if (first === 'fLaC') return 'flac';
  if (first === 'OggS') return 'ogg';
  if (text(head, 4, 8) === 'ftyp') return 'mp4';
  if (first.startsWith('ID3')) return 'mp3';
  if (head[0] === 0xff && ((head[1] as number) & 0xe0) === 0xe0) {
    const layer = ((head[1] as number) >> 1) & 3;
    // Layer 0 is reserved in MPEG audio, which distinguishes an ADTS header.
    if (layer === 0) return ((head[1] as number) & 0xf0) === 0xf0 ? 'adts' : null;
    const bitrate = (head[2] as number) >> 4;
    const rate = ((head[2] as number) >> 2) & 3;
    return bitrate !== 15 && rate !== 3 ? 'mp3' : null;
  }
  return null;
}

const NAMES: Readonly<Record<FileKind, string>> = {
  wav: 'a WAV file',
  aiff: 'an AIFF file',
  flac: 'a FLAC file',
  mp3: 'an MP3 file',
  ogg: 'an Ogg file',
  mp4: 'an MP4 file',
  adts: 'an AAC stream',
};

/** A description of a file by its first bytes, readable or not; null for nothing known. */
export function nameKind(head: Uint8Array): string | null {
  const kind = recogniseKind(head);
  return kind ? NAMES[kind] : guessOther(head);
}

/** A description of an unreadable file by its first bytes, or null. */
export function guessOther(head: Uint8Array): string | null {
  const first = text(head, 0, 4);
  if (first === 'RIFX') return 'a big-endian WAV file (RIFX)';
  if (first === 'RIFF') return `a RIFF file of another kind (${text(head, 8, 12).trim()})`;
  if (first === 'FORM') return `an IFF file of another kind (${text(head, 8, 12).trim()})`;
  if (first === 'caff') return 'a CAF file';
  if (first === 'MThd') return 'a MIDI file';
  if (first === 'wvpk') return 'a WavPack file';
  if (first === '\x1aE\xdf\xa3') return 'a Matroska or WebM file';
  if (first.startsWith('PK')) return 'a zip file';
  if (first.startsWith('\x89PNG') || first === 'GIF8' || first.startsWith('\xff\xd8\xff')) return 'a picture';
  if (first === '%PDF') return 'a PDF document';
  return null;
}

export const READABLE = 'WAV, AIFF, FLAC, MP3, Ogg Vorbis, Opus and M4A/AAC files can be read';

function text(bytes: Uint8Array, from: number, to: number): string {
  return String.fromCharCode(...bytes.subarray(from, to));
}
