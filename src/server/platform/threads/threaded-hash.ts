/**
 * Digests on a thread of their own, for streams that are long: their reader waits for the next bytes,
 * not for the digest.
 */
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { FromHashThread, HashAlgorithm, ToHashThread } from '@/node/hash-thread';

/** Bytes under way before the reader waits. */
const MAX_UNDER_WAY = 8 << 20;

interface Thread {
  worker: Worker;
  next: number;
  /** Messages not answered yet: only then does the thread hold the process. */
  unanswered: number;
  open: Map<number, ThreadedHash>;
}

const shared = globalThis as { spindleHasher?: Thread | null };

/** The built thread lies in `build/` of the folder that all processes are started in. */
function thread(): Thread {
  if (shared.spindleHasher) return shared.spindleHasher;
  const worker = new Worker(join(process.cwd(), 'build', 'hash-thread.js'));
  const made: Thread = { worker, next: 1, unanswered: 0, open: new Map() };
  worker.on('message', ({ id, digest }: FromHashThread) => {
    if (--made.unanswered === 0) worker.unref();
    made.open.get(id)?.answer(digest);
  });
  worker.on('error', (error) => {
    if (shared.spindleHasher === made) shared.spindleHasher = null;
    for (const hash of made.open.values()) hash.fail(error);
  });
  worker.unref();
  return (shared.spindleHasher = made);
}

export class ThreadedHash {
  private readonly thread = thread();
  private readonly id = this.thread.next++;
  /** Sizes of the pieces that are not answered yet, in the order they went. */
  private readonly underWay: number[] = [];
  private waiting: (() => void)[] = [];
  private digested: string | null = null;
  private failed: Error | null = null;
  private isOver = false;

  constructor(private readonly algorithm: HashAlgorithm = 'sha256') {
    this.thread.open.set(this.id, this);
  }

  /** Takes a copy of the bytes; resolves when there is room for more. */
  async update(bytes: Uint8Array): Promise<void> {
    if (this.isOver) return;
    // Not `slice`: of a Buffer it would be a view, and the transfer would take the reader's own
    // memory.
    const copy = new Uint8Array(bytes);
    this.underWay.push(copy.length);
    this.send({ ...this.stream, bytes: copy }, [copy.buffer]);
    while (!this.isOver && this.underWay.reduce((sum, size) => sum + size, 0) > MAX_UNDER_WAY)
      await this.answered();
  }

  /** Lower-case hexadecimal; the hash can't be used after. Throws where it was given up. */
  async digest(): Promise<string> {
    if (this.isOver) throw new Error('this digest was given up, or given already');
    this.underWay.push(0);
    this.isOver = true;
    this.send({ ...this.stream, end: true });
    while (this.digested === null) {
      await this.answered();
      if (!this.thread.open.has(this.id)) throw new Error('this digest was given up');
    }
    this.thread.open.delete(this.id);
    return this.digested;
  }

  /** Gives it up, if it is not over. */
  drop(): void {
    if (!this.isOver && !this.failed) this.send({ ...this.stream, end: true });
    this.isOver = true;
    this.thread.open.delete(this.id);
    this.wake();
  }

  answer(digest: string | null): void {
    this.underWay.shift();
    this.digested = digest;
    this.wake();
  }

  fail(error: Error): void {
    this.failed = error;
    this.wake();
  }

  private wake(): void {
    for (const resolve of this.waiting.splice(0)) resolve();
  }

  private get stream() {
    return { id: this.id, algorithm: this.algorithm };
  }

  private send(message: ToHashThread, moved: ArrayBuffer[] = []): void {
    if (this.failed) throw this.failed;
    this.thread.unanswered++;
    this.thread.worker.ref();
    this.thread.worker.postMessage(message, moved);
  }

  private async answered(): Promise<void> {
    await new Promise<void>((resolve) => this.waiting.push(resolve));
    if (this.failed) throw this.failed;
  }
}

/** The digest of a stream. */
export async function digestOfStream(
  parts: AsyncIterable<Uint8Array>,
  algorithm: HashAlgorithm = 'sha256',
): Promise<string> {
  const hash = new ThreadedHash(algorithm);
  try {
    for await (const part of parts) await hash.update(part);
    return await hash.digest();
  } finally {
    hash.drop();
  }
}
