/** What is kept of a medium as its fair copy. */
import { desc, eq, inArray } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies, files, volumes } from './tables';

export async function latestFairCopy(db: Executor, mediumId: number) {
  const [copy] = await db
    .select()
    .from(fairCopies)
    .where(eq(fairCopies.mediumId, mediumId))
    .orderBy(desc(fairCopies.id))
    .limit(1);
  return copy ?? null;
}

/** The volumes of a fair copy, each with its entries in their own order. */
export async function contentsOf(db: Executor, fairCopyId: number) {
  const rows = await db
    .select()
    .from(volumes)
    .where(eq(volumes.fairCopyId, fairCopyId))
    .orderBy(volumes.offset, volumes.id);
  if (rows.length === 0) return [];
  const entries = await db
    .select()
    .from(files)
    .where(
      inArray(
        files.volumeId,
        rows.map(({ id }) => id),
      ),
    )
    .orderBy(files.volumeId, files.position);
  return rows.map((volume) => ({
    ...volume,
    entries: entries.filter(({ volumeId }) => volumeId === volume.id),
  }));
}
