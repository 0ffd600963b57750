/**
 * Worker threads of Node that decode tracks; they start when first needed and do not keep a process
 * alive.
 */
import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import { ThreadQueue, type DecodeThread } from '@/core/reading/threads/thread-queue';

const MAX_THREADS = 8;
const NURSERY_MB = 64;

function startThread(file: string | URL): DecodeThread {
  // Thousands of short-lived objects a disk: with the default nursery a thread spends a third of
  // its time collecting.
  const worker = new Worker(file, { resourceLimits: { maxYoungGenerationSizeMb: NURSERY_MB } });
  return {
    // Only while a job is under way does a thread hold the process.
    send: (message) => {
      worker.ref();
      worker.postMessage(message, [message.job.flux]);
    },
    listen(answer, died) {
      worker.unref();
      worker.on('message', (message) => {
        worker.unref();
        answer(message);
      });
      worker.on('error', died);
      worker.on('exit', (code) => {
        if (code !== 0) died(new Error(`a decoding thread ended with ${code}`));
      });
    },
    end: () => void worker.terminate(),
  };
}

/** `file` is the built `decode-thread.js`. */
export function decodePool(
  file: string | URL,
  threads = Math.min(MAX_THREADS, availableParallelism()),
): ThreadQueue {
  return new ThreadQueue(threads, () => startThread(file));
}
