/**
 * File names for other programs and systems. The package `sanitize-filename` covers only file systems (separators,
 * control characters, device names, 255 bytes), not bidirectional or invisible text or the syntax of SFZ files, so all
 * rules are here.
 */

/** Most bytes of UTF-8 in a path component on common file systems (ext4, NTFS in 255 units, APFS). */
const MOST_BYTES = 255;
/** Reserved for what is appended: a number against clashes, words such as " (private)", an extension. */
const KEPT_BYTES = 55;
const MOST_LETTERS = 80;

/** Device names of Windows, with or without an extension (Microsoft, "Naming Files, Paths, and Namespaces"). */
const RESERVED = /^(con|prn|aux|nul|conin\$|conout\$|com[0-9\u00b9\u00b2\u00b3]|lpt[0-9\u00b9\u00b2\u00b3])(\.|$)/i;

/**
 * Characters that are invisible, change the writing direction, or end a line (Unicode categories Cc, Cf, Zl, Zp), those
 * without a fixed meaning (Co, Cn) and lone surrogates (Cs).
 */
const UNSEEN = /[\p{Cc}\p{Cf}\p{Zl}\p{Zp}\p{Co}\p{Cn}\p{Cs}]+/gu;

/**
 * A file name that every common file system and every reader of SFZ files accepts: no separators, quotes or device
 * names, at most 80 letters and 200 bytes. `=` is removed, because with a word before it an SFZ opcode begins, and `$`,
 * because it begins a variable there.
 */
export function safeFileName(name: string): string {
  const plain = name
    .toWellFormed()
    .normalize('NFC')
    .replace(UNSEEN, ' ')
    .replace(/[<>:"/\\|?*'=$\ufffd]+/g, '-')
    .replace(/\s+/g, ' ')
    .replace(/^[.\s-]+|[.\s-]+$/g, '');
  const short = shortened(plain, MOST_LETTERS, MOST_BYTES - KEPT_BYTES).replace(/[.\s-]+$/, '');
  return short === '' || RESERVED.test(short) ? `sound ${short}`.trim() : short;
}

/** Text as one line of a comment in another kind of file, without line ends or invisible characters. */
export function oneLine(text: string): string {
  return text.toWellFormed().replace(UNSEEN, ' ').replace(/\s+/g, ' ').trim();
}

/** The longest prefix of whole graphemes (UAX #29) that fits. */
function shortened(text: string, letters: number, bytes: number): string {
  const size = new TextEncoder();
  let out = '';
  let used = 0;
  let count = 0;
  for (const { segment } of new Intl.Segmenter('en', { granularity: 'grapheme' }).segment(text)) {
    used += size.encode(segment).length;
    if (used > bytes || ++count > letters) break;
    out += segment;
  }
  return out;
}
