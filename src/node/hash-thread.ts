/**
 * A thread that works out SHA-256 of streams, several at a time, piece by piece: whoever reads them
 * goes on reading meanwhile.
 */
import { createHash, type Hash } from 'node:crypto';
import { parentPort } from 'node:worker_threads';

export type ToHashThread = { id: number; bytes: Uint8Array } | { id: number; end: true };
/** A piece was taken; or the digest in hexadecimal. */
export type FromHashThread = { id: number; digest: string | null };

const running = new Map<number, Hash>();
const port = parentPort!;

port.on('message', (message: ToHashThread) => {
  const { id } = message;
  const hash = running.get(id) ?? createHash('sha256');
  running.set(id, hash);
  if ('bytes' in message) hash.update(message.bytes);
  else running.delete(id);
  port.postMessage({
    id,
    digest: 'bytes' in message ? null : hash.digest('hex'),
  } satisfies FromHashThread);
});
