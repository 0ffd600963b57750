/** What is of no medium, in the second store: papers of lots and sets, bags as they came, receipts. */
import { asc, isNotNull, isNull } from 'drizzle-orm';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import { streamBlob } from '@/server/platform/blobs/read-blob';
import type { Database } from '@/server/platform/db/database';
import { cameBags } from '../bags/tables';
import { attachments } from '../media/tables';
import { receipts } from '../receipts/tables';
import type { DraftVersion } from './draft-version';

async function addBlob(db: Database, draft: DraftVersion, id: string, path: string): Promise<void> {
  const { sha256 } = await blobOf(db, id);
  await draft.add({ path, stream: () => streamBlob(db, id), sha256: sha256! });
}

/** One part of a path. */
const asName = (text: string): string => text.replaceAll('/', '_');

export async function addHouse(db: Database, draft: DraftVersion): Promise<void> {
  const papers = await db
    .select()
    .from(attachments)
    .where(isNull(attachments.mediumId))
    .orderBy(asc(attachments.id));
  for (const { name, lotName, setName, blobId } of papers) {
    const owner = lotName === null ? `sets/${asName(setName!)}` : `lots/${asName(lotName)}`;
    await addBlob(db, draft, blobId, `papers/${owner}/${asName(name)}`);
  }
  const bags = await db
    .select()
    .from(cameBags)
    .where(isNotNull(cameBags.blobId))
    .orderBy(asc(cameBags.id));
  for (const { name, blobId } of bags) await addBlob(db, draft, blobId!, `bags/${asName(name)}`);
  for (const { id, blobId } of await db.select().from(receipts).orderBy(asc(receipts.id)))
    await addBlob(db, draft, blobId, `receipts/receipt-${id}.pdf`);
}
