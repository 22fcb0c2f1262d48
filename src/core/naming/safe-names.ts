/**
 * Names of files that are written for other programs and other systems. Package `sanitize-filename` covers only the rules of the file
 * systems (separators, control characters, device names, 255 bytes); text that turns around or cannot be seen, and the words of an SFZ
 * file, it does not, so all rules stand here.
 */

/** Bytes of UTF-8 that a part of a path has at most on common file systems (ext4, NTFS in 255 units, APFS). */
const MOST_BYTES = 255;
/** What is put behind a name: a number against clashes, words such as " (private)", an extension. */
const KEPT_BYTES = 55;
const MOST_LETTERS = 80;

/** Device names of Windows, with or without an extension (Microsoft, "Naming Files, Paths, and Namespaces"). */
const RESERVED = /^(con|prn|aux|nul|conin\$|conout\$|com[0-9\u00b9\u00b2\u00b3]|lpt[0-9\u00b9\u00b2\u00b3])(\.|$)/i;

/**
 * Characters that are not seen, that turn the direction of writing, or that end a line (Unicode categories Cc, Cf, Zl, Zp), those of
 * no fixed meaning (Co, Cn) and halves of pairs (Cs).
 */
const UNSEEN = /[\p{Cc}\p{Cf}\p{Zl}\p{Zp}\p{Co}\p{Cn}\p{Cs}]+/gu;

/**
 * A name as a file name that every common file system and every reader of an SFZ file takes: no separators, quotes or device names, at
 * most 80 letters and 200 bytes. `=` is left out, since a blank and a word before it begin the next opcode of an SFZ file, and `$`, since
 * it begins a variable there.
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

/** One line of text for a file of another kind, as a comment: nothing in it ends the line or is not seen. */
export function oneLine(text: string): string {
  return text.toWellFormed().replace(UNSEEN, ' ').replace(/\s+/g, ' ').trim();
}

/** As many whole letters as have room, a letter being what a person takes for one (UAX #29, grapheme clusters). */
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
