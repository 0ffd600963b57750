/** What was put on volumes that are put together and lies nowhere else: files of people's own. */
import { sql } from 'drizzle-orm';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import { streamBlob } from '@/server/platform/blobs/read-blob';
import type { Database } from '@/server/platform/db/database';
import type { DraftVersion } from './draft-version';
import { ASSEMBLIES_OF_HOUSE, ASSEMBLIES_OF_MEDIUM, blobsOfAssemblies } from './row-owners';

export async function addAssemblyBlobs(
  db: Database,
  draft: DraftVersion,
  mediumId: number | null,
): Promise<void> {
  const of = mediumId === null ? ASSEMBLIES_OF_HOUSE : ASSEMBLIES_OF_MEDIUM;
  const named = blobsOfAssemblies(of.replaceAll('$1', String(mediumId)));
  const { rows } = await db.execute<{ id: string }>(
    sql.raw(`select b.id from blobs b where b.id in (${named}) order by b.id`),
  );
  for (const { id } of rows) {
    const { sha256 } = await blobOf(db, id);
    if (sha256)
      await draft.add({ path: `assemblies/${id}`, stream: () => streamBlob(db, id), sha256 });
  }
}
