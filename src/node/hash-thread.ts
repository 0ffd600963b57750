/**
 * A thread that works out digests of streams, several at a time, piece by piece: whoever reads them
 * goes on reading meanwhile.
 */
import { createHash, type Hash } from 'node:crypto';
import { parentPort } from 'node:worker_threads';

export type HashAlgorithm = 'sha512' | 'sha384' | 'sha256' | 'sha224' | 'sha1' | 'md5';

interface OfStream {
  id: number;
  algorithm: HashAlgorithm;
}
export type ToHashThread = OfStream & ({ bytes: Uint8Array } | { end: true });
/** A piece was taken; or the digest in hexadecimal. */
export type FromHashThread = { id: number; digest: string | null };

const running = new Map<number, Hash>();
const port = parentPort!;

port.on('message', (message: ToHashThread) => {
  const { id, algorithm } = message;
  const hash = running.get(id) ?? createHash(algorithm);
  running.set(id, hash);
  if ('bytes' in message) hash.update(message.bytes);
  else running.delete(id);
  port.postMessage({
    id,
    digest: 'bytes' in message ? null : hash.digest('hex'),
  } satisfies FromHashThread);
});
