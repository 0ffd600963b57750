/**
 * Downloads under a passphrase, in the age format, version 1: encrypted on a thread of its own,
 * piece by piece.
 */
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { z } from 'zod';
import type { FromThread, ToThread } from '@/node/protect-thread';
import { UserError } from '../errors';
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

function encrypted(
  plain: ReadableStream<Uint8Array>,
  passphrase: string,
): ReadableStream<Uint8Array> {
  // The built thread lies in `build/` of the folder that all processes are started in.
  const worker = new Worker(join(process.cwd(), 'build', 'protect-thread.js'));
  const tell = (message: ToThread) => worker.postMessage(message);
  const source = plain.getReader();
  let answer: {
    resolve: (bytes: Uint8Array | null) => void;
    reject: (error: unknown) => void;
  } | null = null;
  worker.on('message', (message: FromThread) => {
    if (message.kind === 'secret') return answer?.resolve(message.bytes);
    source.read().then(
      ({ done, value }) => tell({ kind: 'plain', bytes: done ? null : value }),
      (error) => answer?.reject(error),
    );
  });
  worker.on('error', (error) => answer?.reject(error));
  tell({ kind: 'begin', passphrase });
  return new ReadableStream<Uint8Array>({
    async pull(controller) {
      try {
        const bytes = await new Promise<Uint8Array | null>((resolve, reject) => {
          answer = { resolve, reject };
          tell({ kind: 'next' });
        });
        if (bytes) return controller.enqueue(bytes);
        controller.close();
      } catch (error) {
        controller.error(error);
      }
      await worker.terminate();
    },
    async cancel(reason) {
      await source.cancel(reason);
      await worker.terminate();
    },
  });
}
