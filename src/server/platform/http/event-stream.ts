/** Server-sent events (HTML standard, section 9.2): one stream a page, for everything. */

/** A page that hears nothing for more than twice this says so. */
const HEARTBEAT_MS = 2000;
const RETRY_MS = 1000;

type Subscribe = (onEvent: (payload: string) => void) => Promise<() => void>;

/** Ends when the page goes. A payload without text says that some may have been missed. */
export function eventStream(subscribe: Subscribe, signal: AbortSignal): Response {
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
      const unsubscribe = await subscribe((payload) => send(`data: ${payload}\n\n`));
      const heartbeat = setInterval(() => send('event: beat\ndata:\n\n'), HEARTBEAT_MS);
      stop = () => {
        unsubscribe();
        clearInterval(heartbeat);
      };
      signal.addEventListener('abort', () => stop());
      send(`retry: ${RETRY_MS}\n\n`);
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
}
