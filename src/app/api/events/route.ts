import { route } from '@/server/http/respond';
import { sharedHub } from '@/server/events';

export const dynamic = 'force-dynamic';

const HEARTBEAT_MS = 15_000;

/** One stream a page, for everything. An empty message says that some may have been missed. */
export const GET = route(async ({ request }) => {
  const encoder = new TextEncoder();
  let stop = () => {};
  const stream = new ReadableStream<Uint8Array>({
    async start(controller) {
      const send = (text: string) => {
        try {
          controller.enqueue(encoder.encode(text));
        } catch {
          stop();
        }
      };
      const unsubscribe = await sharedHub().subscribe((payload) => send(`data: ${payload}\n\n`));
      const heartbeat = setInterval(() => send(': still here\n\n'), HEARTBEAT_MS);
      stop = () => {
        unsubscribe();
        clearInterval(heartbeat);
      };
      request.signal.addEventListener('abort', () => stop());
      send('retry: 1000\n\n');
    },
    cancel: () => stop(),
  });
  return new Response(stream, {
    headers: {
      'content-type': 'text/event-stream',
      'cache-control': 'no-store, no-transform',
      'x-accel-buffering': 'no',
    },
  });
});
