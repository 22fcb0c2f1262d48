import type { ServerEvent } from '@/contract/edits';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

export const dynamic = 'force-dynamic';

/** The event stream (WHATWG server-sent events): what changed, as it changes. A comment now and then keeps it open. */
export const GET = guard({}, ({ request }) => {
  const { events } = workspace();
  const text = new TextEncoder();
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      const say = (line: string) => {
        try {
          controller.enqueue(text.encode(line));
        } catch {
          end();
        }
      };
      const stop = events.listen((event: ServerEvent) => say(`data: ${JSON.stringify(event)}\n\n`));
      const beat = setInterval(() => say(': still here\n\n'), 20_000);
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
  });
  return new Response(body, {
    headers: {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store, no-transform',
      'X-Accel-Buffering': 'no',
    },
  });
});
