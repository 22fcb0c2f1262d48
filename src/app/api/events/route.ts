import type { ServerEvent } from '@/contract/edits';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

export const dynamic = 'force-dynamic';

/** A reader that has not taken so much is cut off: it connects again and asks for everything anew. */
const MOST_WAITING_BYTES = 256 * 1024;
const BEAT_MS = 20_000;

/** The event stream (WHATWG server-sent events): what changed, as it changes. A comment now and then keeps it open. */
export const GET = guard({}, ({ request }) => {
  const { events } = workspace();
  const text = new TextEncoder();
  const body = new ReadableStream<Uint8Array>(
    {
      start(controller) {
        const say = (line: string) => {
          if ((controller.desiredSize ?? 0) <= 0) {
            end();
            controller.error(new Error('The events are not read.'));
          } else controller.enqueue(text.encode(line));
        };
        const stop = events.listen((event: ServerEvent) => say(`data: ${JSON.stringify(event)}\n\n`));
        const beat = setInterval(() => say(': still here\n\n'), BEAT_MS);
        const end = () => {
          stop();
          clearInterval(beat);
        };
        request.signal.addEventListener('abort', () => {
          end();
          try {
            controller.close();
          } catch {
            // Closed from the other side already.
          }
        });
        say(': hello\n\n');
      },
    },
    new ByteLengthQueuingStrategy({ highWaterMark: MOST_WAITING_BYTES }),
  );
  return new Response(body, {
    headers: {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store, no-transform',
      'X-Accel-Buffering': 'no',
    },
  });
});
