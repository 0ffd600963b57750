/** A blob put back under the name that it had. */
import { eq, sql } from 'drizzle-orm';
import type { Database } from '../db/database';
import { appendBlob, writeBlob } from './blob-store';
import { blobChunks, blobs } from './tables';

interface BlobToRestore {
  id: string;
  size: number;
  sparse: boolean;
  sha256: string;
  /** Of one that has the bytes of another. */
  sameAs: string | null;
}

const isZeros = (bytes: Uint8Array): boolean => bytes.every((byte) => byte === 0);

/** Its bytes, where there are any; they are checked like all others, when it is their turn. */
export async function restoreBlob(
  db: Database,
  { id, size, sparse, sha256, sameAs }: BlobToRestore,
  parts: AsyncIterable<Uint8Array> | null,
): Promise<void> {
  const state = sameAs ? 'same' : 'growing';
  const grown = sameAs || sparse ? size : 0;
  await db.insert(blobs).values({ id, state, size: grown, sparse, sha256, sameAs });
  if (sameAs) return;
  let at = 0;
  for await (const part of parts ?? []) {
    if (!sparse) await db.transaction((tx) => appendBlob(tx, id, part));
    else if (!isZeros(part)) await db.transaction((tx) => writeBlob(tx, id, at, part));
    at += part.length;
  }
  await db
    .update(blobs)
    .set({
      ...{ state: 'sealed', size, dueAt: new Date() },
      chunks: sparse
        ? sql`(select count(*)::int from ${blobChunks} where ${blobChunks.blobId} = ${id})`
        : null,
    })
    .where(eq(blobs.id, id));
}
