import { safeFileName } from '@/core/naming/safe-names';
import { LENGTH_HEADER } from '../http/door';
import type { MadeBundle } from '../jobs/maker';

/** A zip as a download; its length is told beforehand. For HEAD its headers alone: the work is given up. */
export async function downloadOf({ name, isPrivate, bytes, stream }: MadeBundle, method: string): Promise<Response> {
  const file = `${safeFileName(name)}${isPrivate ? ' (private)' : ''}.zip`;
  const ascii = file.replace(/[^\x20-\x7e]/g, '_');
  const headers = {
    'Content-Type': 'application/zip',
    [LENGTH_HEADER]: String(bytes),
    'Content-Disposition': `attachment; filename="${ascii}"; filename*=UTF-8''${encodeURIComponent(file)}`,
    'Cache-Control': 'no-store',
  };
  if (method !== 'HEAD') return new Response(stream, { headers });
  await stream.cancel();
  return new Response(null, { headers });
}
