/**
 * Work on whole images for a request, on threads of their own: the process goes on answering
 * others. A thread that takes too long is ended.
 */
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { ByteSource } from '@/core/bits/byte-source';
import type {
  FromImageThread,
  ImageAnswer,
  ImageQuestion,
  ImageTaskName,
  ToImageThread,
} from '@/node/image-task';
import { UserError } from '../errors';
import { Turns } from './turns';
import { said } from '@/core/said';

/** Of each kind of work: who makes a volume does not wait for who searches a large image. */
const MAX_THREADS = 2;
const POOL_OF: Record<ImageTaskName, string> = {
  strings: 'looking',
  find: 'looking',
  sounds: 'looking',
  assemble: 'making',
  'as-sample': 'making',
  sound: 'making',
  list: 'making',
};
/** Longest that one request may keep a thread. */
const LIMIT_MS = 120_000;

interface Pool {
  idle: Worker[];
  turns: Turns;
}

const shared = globalThis as { spindleImageThreads?: Map<string, Pool> };

function poolOf(task: ImageTaskName): Pool {
  const pools = (shared.spindleImageThreads ??= new Map());
  const there = pools.get(POOL_OF[task]);
  if (there) return there;
  const made: Pool = { idle: [], turns: new Turns(MAX_THREADS) };
  pools.set(POOL_OF[task], made);
  return made;
}

/** Throws UserError where it takes longer than a request may. */
export async function runImageTask<K extends ImageTaskName>(
  source: ByteSource,
  task: K,
  question: ImageQuestion<K>,
): Promise<ImageAnswer<K>> {
  const pool = poolOf(task);
  return pool.turns.during(async () => {
    const worker = pool.idle.pop() ?? startThread(pool);
    try {
      const answer = await answered(worker, source, task, question);
      giveBack(pool, worker);
      return answer as ImageAnswer<K>;
    } catch (error) {
      await worker.terminate();
      throw error;
    }
  });
}

/** The built thread lies in `build/` of the folder that all processes are started in. */
function startThread(own: Pool): Worker {
  const worker = new Worker(join(process.cwd(), 'build', 'image-thread.js'));
  worker.once('exit', () => {
    own.idle = own.idle.filter((each) => each !== worker);
  });
  return worker;
}

function giveBack(own: Pool, worker: Worker): void {
  worker.removeAllListeners('message');
  worker.removeAllListeners('error');
  // One that fails while it is idle ends, and is no longer handed out.
  worker.on('error', () => undefined);
  worker.unref();
  own.idle.push(worker);
}

function answered<K extends ImageTaskName>(
  worker: Worker,
  source: ByteSource,
  task: K,
  question: ImageQuestion<K>,
): Promise<unknown> {
  const send = (message: ToImageThread) => worker.postMessage(message);
  return new Promise((resolve, reject) => {
    const limit = setTimeout(() => reject(tooLong()), LIMIT_MS);
    const end = (settle: () => void) => {
      clearTimeout(limit);
      settle();
    };
    worker.on('error', (error) => end(() => reject(error)));
    worker.on('message', (message: FromImageThread) => {
      if (message.kind === 'done') return end(() => resolve(message.answer));
      if (message.kind === 'failed') return end(() => reject(new Error(message.message)));
      source.read(message.offset, message.length).then(
        // A copy: the source may keep its own.
        (bytes) => send({ kind: 'bytes', read: message.read, bytes: new Uint8Array(bytes) }),
        (error: Error) => end(() => reject(error)),
      );
    });
    worker.ref();
    send({ kind: 'begin', task, question: question as never, size: source.size });
  });
}

const tooLong = () => new UserError(said('platform.thisTakesLongerThan'), 504);
