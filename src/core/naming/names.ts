import { UndercroftError } from '../errors';

export const LONGEST_NAME = 120;

/**
 * Cleans a typed name: control characters and line breaks become spaces, runs of spaces one, ends trimmed. Slashes and
 * quotes are kept, because they only matter in file names (see `safeFileName`). Throws when nothing is left or when it
 * exceeds 120 characters.
 */
export function cleanName(name: string): string {
  const clean = name
    .toWellFormed()
    .replace(/[\u0000-\u001f\u007f-\u009f\u2028\u2029]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  if (clean === '') throw new UndercroftError('out-of-range', 'A name needs at least one visible character.', 'name');
  if ([...clean].length > LONGEST_NAME) {
    throw new UndercroftError(
      'out-of-range',
      `A name has at most ${LONGEST_NAME} characters; this one has ${[...clean].length}.`,
      'name',
    );
  }
  return clean;
}

/** The title of a file: its name without extension, underscores as spaces, cut to the longest name. */
export function titleFromFileName(fileName: string): string {
  const base = fileName.split(/[\\/]/).at(-1) ?? '';
  const plain = base.replace(/\.[A-Za-z0-9]{1,5}$/, '').replaceAll('_', ' ');
  try {
    return cleanName([...plain].slice(0, LONGEST_NAME).join(''));
  } catch {
    return 'Untitled recording';
  }
}

/** `name`, or where it is taken `name 2`, `name 3`, ...; a number at its end is counted up, in the same width. */
export function freeName(name: string, taken: ReadonlySet<string>): string {
  const lower = new Set([...taken].map((t) => t.toLocaleLowerCase('en')));
  if (!lower.has(name.toLocaleLowerCase('en'))) return name;
  const match = /^(.*\S) (\d{1,6})$/.exec(name);
  const stem = match?.[1] ?? name;
  const width = match?.[2]?.startsWith('0') ? match[2].length : 1;
  for (let n = match ? Number(match[2]) + 1 : 2; ; n++) {
    const next = `${[...stem].slice(0, LONGEST_NAME - 7).join('')} ${String(n).padStart(width, '0')}`;
    if (!lower.has(next.toLocaleLowerCase('en'))) return next;
  }
}

/** Fields of a name pattern. */
export interface NameParts {
  /** Empty where it is not known: the name then omits it. */
  readonly family: string;
  readonly source: string;
  /** Formatted: padded with zeros, so that names sort. */
  readonly number: string;
}

/** A number as wide as the largest of its kind, at least two digits. */
export function paddedNumber(number: number, largest: number): string {
  return String(number).padStart(Math.max(2, String(largest).length), '0');
}

export const DEFAULT_PATTERN = '{family} {source} {number}';

/** Fills a pattern such as `{family} {source} {number}`; unknown fields are left as they are. */
export function nameFromPattern(pattern: string, parts: NameParts): string {
  const filled = pattern.replace(/\{(family|source|number)\}/g, (_, key: keyof NameParts) => parts[key]);
  // An empty field leaves no gap and no hyphen behind.
  const tidy = parts.family === '' ? filled.replace(/^[\s\-_.,]+|[\s\-_.,]+$/g, '') : filled;
  return cleanName([...(tidy || parts.source)].slice(0, LONGEST_NAME).join(''));
}
