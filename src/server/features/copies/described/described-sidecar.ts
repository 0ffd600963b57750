/**
 * A sidecar on its way out: as it was stored with the copy, and with how it was made and what is
 * registered and said of the medium today put in front.
 */
import { createHash } from 'node:crypto';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import { refuseDamaged, streamBlob } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import { mediumRecord } from '../../descriptions/medium-record';
import type { media } from '../../media/tables';
import type { fairCopies } from '../tables';
import { howMade } from './how-made';

/** `{` of the stored object, which the record is put behind. */
const OPENING_BYTES = 1;

interface DescribedSidecar {
  size: number;
  /** Changes with what is stored and with what is said. */
  tag: string;
  stream(start?: number, end?: number): AsyncGenerator<Uint8Array>;
}

export async function describedSidecar(
  db: Executor,
  blob: string,
  copy: typeof fairCopies.$inferSelect,
  medium: typeof media.$inferSelect,
): Promise<DescribedSidecar> {
  await refuseDamaged(db, blob);
  const stored = await blobOf(db, blob);
  const record = JSON.stringify(await mediumRecord(db, medium));
  const made = JSON.stringify(await howMade(db, copy));
  const front = new TextEncoder().encode(`{\n "record": ${record},\n "made": ${made},`);
  const size = front.length + stored.size - OPENING_BYTES;
  // No digest of what leaves, and not to be taken for one.
  const tag = `described-${createHash('sha256')
    .update(stored.sha256 ?? '')
    .update(front)
    .digest('hex')}`;
  async function* stream(start = 0, end = size): AsyncGenerator<Uint8Array> {
    if (start < front.length) yield front.subarray(start, Math.min(end, front.length));
    const shift = OPENING_BYTES - front.length;
    if (end > front.length)
      yield* streamBlob(db, blob, Math.max(start, front.length) + shift, end + shift);
  }
  return { size, tag, stream };
}
