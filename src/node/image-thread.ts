/** A thread that looks through images, one at a time; their bytes come as it asks for them. */
import { parentPort } from 'node:worker_threads';
import type { ByteSource } from '@/core/bits/byte-source';
import { IMAGE_TASKS, type FromImageThread, type ToImageThread } from './image-task';

const port = parentPort!;
const say = (message: FromImageThread) => port.postMessage(message);
const reads = new Map<number, (bytes: Uint8Array) => void>();
let lastRead = 0;

function askedSource(size: number): ByteSource {
  return {
    size,
    read: (offset, length) =>
      new Promise((resolve) => {
        reads.set(++lastRead, resolve);
        say({ kind: 'read', read: lastRead, offset, length });
      }),
  };
}

async function begin({ task, question, size }: ToImageThread & { kind: 'begin' }): Promise<void> {
  try {
    say({ kind: 'done', answer: await IMAGE_TASKS[task](askedSource(size), question) });
  } catch (error) {
    say({ kind: 'failed', message: (error as Error).message });
  }
}

port.on('message', (message: ToImageThread) => {
  if (message.kind === 'begin') return void begin(message);
  reads.get(message.read)?.(message.bytes);
  reads.delete(message.read);
});
