import { getJson } from './api';

/** Downloads a file. A refusal of the server is thrown with its message, and no file is saved. */
export async function download(href: string): Promise<boolean> {
  const { ok } = await fetch(href, { method: 'HEAD' });
  if (!ok) await getJson(href);
  const link = document.createElement('a');
  link.href = href;
  link.download = '';
  link.click();
  return ok;
}

/** Saves a file that the page made. */
export function saveFile(name: string, content: Blob): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(content);
  link.download = name;
  link.click();
  // The browser has taken it up by then.
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
