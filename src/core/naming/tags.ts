/** Parses tags separated by commas: trimmed, each once, in the order typed. */
export function parseTags(text: string): string[] {
  const tags = text.split(',').map((tag) => [...tag.replace(/\s+/g, ' ').trim()].slice(0, 40).join(''));
  return [...new Set(tags.filter((tag) => tag !== ''))].slice(0, 30);
}
