import { z } from 'zod';
import { RecordGrooveRequest } from '@/contract/hits';
import { Id } from '@/core/model';
import { downloadOf } from '@/server/exporting/download';
import { recordGroove } from '@/server/exporting/groove-recording';
import { answerPrint } from '@/server/hits/print';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

const Query = z.object({
  kit: Id,
  for: z.enum(['share', 'self']).default('share'),
  stems: z.enum(['pads', 'buses', 'none']).default('none'),
  seams: z.enum(['yes', 'no']).default('no'),
  rate: z.coerce.number().int().min(8000).max(192_000).default(48_000),
});

/** A groove played by a kit: a zip of WAV files, the whole and on wish stems a pad or a bus, with its tail or as a loop that seams. */
export const GET = guard({ query: Query }, async ({ params, query, request }) => {
  const made = await workspace().threads.maker.bundle({
    grooveId: params.id ?? '',
    kitId: query.kit,
    options: {
      isPrivate: query.for === 'self',
      stems: query.stems === 'none' ? null : query.stems,
      seams: query.seams === 'yes',
      sampleRate: query.rate,
    },
  });
  return downloadOf(made, request.method);
});

/** The same as a recording of the workspace: of everything, or of one pad; answers as an import does. */
export const POST = guard({ body: RecordGrooveRequest }, async ({ params, body }) =>
  answerPrint(workspace(), recordGroove(workspace(), params.id ?? '', body), body.tab),
);
