/** Digests of files while they come, kept between the requests that bring their parts. */
import { ThreadedHash } from '@/server/platform/threads/threaded-hash';

export interface RunningDigest {
  /** Bytes that it is of. */
  offset: number;
  hash: ThreadedHash;
}

/**
 * Of uploads that came through this process from their first byte on, between their requests; what
 * went on elsewhere is hashed from the store.
 */
const digests = new Map<string, RunningDigest>();
const MAX_DIGESTS = 64;

/**
 * The digest of all before `offset`, for the one request that goes on from there: two at once would
 * make a digest of both.
 */
export function claimDigest(id: string, offset: number): RunningDigest | null {
  const kept = digests.get(id);
  digests.delete(id);
  if (kept && kept.offset === offset) return kept;
  kept?.hash.drop();
  return offset === 0 ? { offset: 0, hash: new ThreadedHash() } : null;
}

export function keepDigest(id: string, running: RunningDigest): void {
  if (digests.size >= MAX_DIGESTS) forgetDigest(digests.keys().next().value!);
  forgetDigest(id);
  digests.set(id, running);
}

export function forgetDigest(id: string): void {
  digests.get(id)?.hash.drop();
  digests.delete(id);
}
