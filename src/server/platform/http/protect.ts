/**
 * Downloads under a passphrase, in the age format, version 1: encrypted on a thread of its own,
 * piece by piece.
 */
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { z } from 'zod';
import type { FromThread, ToThread } from '@/node/protect-thread';
import { UserError } from '../errors';
import { Turns } from '../threads/turns';
import { said } from '@/core/said';

/** Short ones are found by trying. */
const LEAST = 8;

const Form = z.object({ passphrase: z.string().max(1000) });

/** The same download, protected; nothing of the passphrase is kept anywhere. */
export async function protectedDownload(plain: Response, form: FormData): Promise<Response> {
  const { passphrase } = Form.parse(Object.fromEntries(form));
  if (passphrase.length < LEAST)
    throw new UserError(said('platform.thePassphraseIsToo', { least: LEAST }), 422, 'passphrase');
  if (!plain.ok || !plain.body) return plain;
  const headers = new Headers(plain.headers);
  for (const name of ['content-length', 'etag', 'accept-ranges']) headers.delete(name);
  headers.set('content-type', 'application/octet-stream');
  headers.set(
    'content-disposition',
    (headers.get('content-disposition') ?? 'attachment')
      .replace(/filename="([^"]*)"/, 'filename="$1.age"')
      .replace(/(filename\*=UTF-8''[^;]*)/, '$1.age'),
  );
  return new Response(encrypted(plain.body, passphrase), { headers });
}

/**
 * Pieces that are encrypted at once: one a core. The first of a stream takes longest, and 256 MiB: the
 * key is made of the passphrase (scrypt, RFC 7914, as the age format wants it).
 */
const turns = new Turns(availableParallelism());

/** A thread that encrypts one stream, asked for a piece at a time. */
class Encryption {
  // The built thread lies in `build/` of the folder that all processes are started in.
  private readonly worker = new Worker(join(process.cwd(), 'build', 'protect-thread.js'));
  private answer: {
    resolve: (bytes: Uint8Array | null) => void;
    reject: (error: unknown) => void;
  } | null = null;

  constructor(source: ReadableStreamDefaultReader<Uint8Array>, passphrase: string) {
    this.worker.on('message', (message: FromThread) => {
      if (message.kind === 'secret') return this.answer?.resolve(message.bytes);
      source.read().then(
        ({ done, value }) => this.tell({ kind: 'plain', bytes: done ? null : value }),
        (error) => this.answer?.reject(error),
      );
    });
    this.worker.on('error', (error) => this.answer?.reject(error));
    this.tell({ kind: 'begin', passphrase });
  }

  /** Null where there is no more. */
  next(): Promise<Uint8Array | null> {
    return new Promise((resolve, reject) => {
      this.answer = { resolve, reject };
      this.tell({ kind: 'next' });
    });
  }

  async end(): Promise<void> {
    this.answer?.reject(new Error('given up'));
    await this.worker.terminate();
  }

  private tell(message: ToThread): void {
    this.worker.postMessage(message);
  }
}

function encrypted(
  plain: ReadableStream<Uint8Array>,
  passphrase: string,
): ReadableStream<Uint8Array> {
  const source = plain.getReader();
  let encryption: Encryption | null = null;
  let isGivenUp = false;
  const piece = async () => {
    if (isGivenUp) return null;
    encryption ??= new Encryption(source, passphrase);
    return encryption.next();
  };
  return new ReadableStream<Uint8Array>({
    async pull(controller) {
      try {
        const bytes = await turns.during(piece);
        if (isGivenUp) return;
        if (bytes) return controller.enqueue(bytes);
        controller.close();
      } catch (error) {
        if (!isGivenUp) controller.error(error);
      }
      await encryption?.end();
    },
    async cancel(reason) {
      isGivenUp = true;
      await source.cancel(reason);
      await encryption?.end();
    },
  });
}
