/** The page's decoding threads: web workers, started when first needed and kept warm. */
import { ThreadQueue, type DecodeThread } from '@/core/reading/threads/thread-queue';
import { say } from '@/messages';

const MAX_THREADS = 4;

function startThread(): DecodeThread {
  const worker = new Worker(new URL('./decode-worker.ts', import.meta.url), { type: 'module' });
  return {
    send: (message) => worker.postMessage(message, [message.job.flux]),
    listen(answer, died) {
      worker.onmessage = ({ data }) => answer(data);
      worker.onerror = ({ message }) => died(new Error(message || say.parts.thePageCouldNotStart));
    },
    end: () => worker.terminate(),
  };
}

let queue: ThreadQueue | null = null;

export function pageWorkers(): ThreadQueue {
  queue ??= new ThreadQueue(Math.min(MAX_THREADS, navigator.hardwareConcurrency || 2), startThread);
  return queue;
}
