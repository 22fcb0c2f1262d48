import { safeFileName } from '@/core/naming/names';
import { kitBundle } from '@/server/exporting/kit-bundle';
import { zipStream } from '@/server/exporting/zip';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

export const GET = guard({}, ({ params }) => {
  const { name, files } = kitBundle(workspace().db, params.id ?? '');
  const file = `${safeFileName(name)}.zip`;
  const ascii = file.replace(/[^\x20-\x7e]/g, '_');
  return new Response(zipStream(files), {
    headers: {
      'Content-Type': 'application/zip',
      'Content-Disposition': `attachment; filename="${ascii}"; filename*=UTF-8''${encodeURIComponent(file)}`,
      'Cache-Control': 'no-store',
    },
  });
});
