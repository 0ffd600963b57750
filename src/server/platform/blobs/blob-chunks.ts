/** How the store lays bytes down: chunks of one size with their digests, and the row that speaks of them. */
import { createHash } from 'node:crypto';
import { eq } from 'drizzle-orm';
import type { Executor } from '../db/database';
import { blobs } from './tables';

export const CHUNK_BYTES = 256 * 1024;

/** From this many on they come and go as copy streams, which are faster than rows. */
export const COPY_FROM = 3;

export interface Blob {
  id: string;
  size: number;
  sparse: boolean;
  sha256: string | null;
  /** Of a sealed sparse one: the chunks that were written. */
  chunks: number | null;
  /** Found damaged, and not yet sound again. */
  damagedChunk: number | null;
}

export const digestOf = (chunk: Uint8Array): Buffer => createHash('sha256').update(chunk).digest();

export async function blobOf(db: Executor, id: string): Promise<Blob> {
  const [row] = await db.select().from(blobs).where(eq(blobs.id, id));
  if (!row) throw new Error(`there is no blob ${id}`);
  // The one that holds the bytes says whether it has holes, and what became of it.
  const [holder] = row.sameAs
    ? await db.select().from(blobs).where(eq(blobs.id, row.sameAs))
    : [row];
  const { id: own, sparse, chunks, damagedChunk } = holder!;
  return { id: own, size: row.size, sha256: row.sha256, sparse, chunks, damagedChunk };
}
