import { z } from 'zod';
import { GREATEST_RATE, LEAST_RATE } from '@/core/format/pcm';
import { Id } from '@/core/model';
import { downloadOf } from '@/server/exporting/download';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

const Query = z.object({
  /** Ids, comma-separated. */
  ids: z
    .string()
    .max(100_000)
    .transform((text) => text.split(','))
    .pipe(z.array(Id).min(1).max(2000)),
  /** Without one each hit has its recording's. */
  rate: z.coerce
    .number()
    .int()
    .refine(
      (hz) => hz >= LEAST_RATE && hz <= GREATEST_RATE,
      `A sample rate lies between ${LEAST_RATE} and ${GREATEST_RATE} Hz.`,
    )
    .optional(),
  encoding: z.enum(['s16', 's24', 'f32']).default('s24'),
});

/** Chosen hits as a zip of WAVs with their names, as they sound. */
export const GET = guard({ query: Query }, async ({ query: { ids, rate, encoding }, request }) => {
  const made = await workspace().threads.maker.bundle({
    hitIds: ids,
    options: { sampleRate: rate ?? null, encoding },
  });
  return downloadOf(made, request.method);
});
