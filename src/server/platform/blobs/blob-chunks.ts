/** How the store lays bytes down: chunks of one size, and the row that speaks of them. */
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
}

export async function blobOf(db: Executor, id: string): Promise<Blob> {
  const [row] = await db.select().from(blobs).where(eq(blobs.id, id));
  if (!row) throw new Error(`there is no blob ${id}`);
  // The one that holds the bytes says whether it has holes.
  const [holder] = row.sameAs
    ? await db.select({ sparse: blobs.sparse }).from(blobs).where(eq(blobs.id, row.sameAs))
    : [row];
  return { id: row.sameAs ?? row.id, size: row.size, sparse: holder!.sparse, sha256: row.sha256 };
}
