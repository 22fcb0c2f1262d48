import { z } from 'zod';
import { RENDER_HEADERS } from '@/contract/hits';
import { UndercroftError } from '@/core/errors';
import { audioDigest } from '@/core/hit/digest';
import { audioKey } from '@/core/hit/key';
import { treatedHit } from '@/server/hits/treated';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

/** Frames that are sent at a time. */
const PIECE_FRAMES = 65536;

/**
 * The audio of a hit with what is done to it, floats, channels interleaved. `digest` tells which sound is meant (`audioDigest`);
 * refused as stale where the hit sounds otherwise by now, as one that is being turned.
 */
export const GET = guard({ query: z.object({ digest: z.hash('sha256') }) }, async ({ params, query }) => {
  const { db, threads, renders } = workspace();
  const hit = treatedHit(db, params.id ?? '');
  if (!hit) throw new UndercroftError('not-found', 'The hit is not there (any more).');
  if ((await audioDigest(hit)) !== query.digest) throw new UndercroftError('stale', 'The hit sounds otherwise by now.');
  const key = audioKey(hit);
  if (!renders.find(key)) await threads.renders.ensure(hit);
  const found = renders.find(key);
  if (!found) throw new UndercroftError('too-large', 'The sound is too large to be kept.');
  const { sampleRate, channelCount, frames } = found;
  let at = 0;
  const stream = new ReadableStream<Uint8Array>({
    pull(controller) {
      const count = Math.min(PIECE_FRAMES, frames - at);
      if (count > 0) {
        const audio = renders.read(found, at, at + count);
        if (!audio) throw new UndercroftError('interrupted', 'The sound has gone meanwhile; try again.');
        const floats = new Float32Array(count * channelCount);
        for (const [c, channel] of audio.channels.entries())
          for (const [i, x] of channel.entries()) floats[i * channelCount + c] = x;
        controller.enqueue(new Uint8Array(floats.buffer));
        at += count;
      }
      if (at >= frames) controller.close();
    },
  });
  return new Response(stream, {
    headers: {
      'Content-Type': 'application/octet-stream',
      'Cache-Control': 'private, max-age=31536000, immutable',
      [RENDER_HEADERS.sampleRate]: String(sampleRate),
      [RENDER_HEADERS.channelCount]: String(channelCount),
      [RENDER_HEADERS.frames]: String(frames),
    },
  });
});
