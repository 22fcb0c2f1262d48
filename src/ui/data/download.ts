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
