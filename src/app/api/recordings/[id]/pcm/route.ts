import { z } from 'zod';
import { LARGEST_PCM_BYTES } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { BYTES_PER_SAMPLE } from '@/core/format/pcm';
import { guard } from '@/server/http/guard';
import { readFormat, readPcmBytes } from '@/server/importing/pcm';
import { workspace } from '@/server/workspace';

const Frames = z.coerce.number().int().min(0);

/** Samples [start, start + frames) in the source's own encoding, channels interleaved. They never change. */
export const GET = guard({ query: z.object({ start: Frames, frames: Frames }) }, ({ params, query }) => {
  const { db } = workspace();
  const id = params.id ?? '';
  const format = readFormat(db, id);
  if (query.frames * format.channelCount * BYTES_PER_SAMPLE[format.encoding] > LARGEST_PCM_BYTES) {
    throw new UndercroftError(
      'too-large',
      `At most ${LARGEST_PCM_BYTES / 1024 / 1024} MB of samples are sent at once.`,
      'query.frames',
    );
  }
  const bytes = readPcmBytes(db, id, format, query.start, query.start + query.frames);
  return new Response(bytes, {
    headers: {
      'Content-Type': 'application/octet-stream',
      'Cache-Control': 'private, max-age=31536000, immutable',
      ETag: `"${id}-${query.start}-${query.frames}"`,
    },
  });
});
