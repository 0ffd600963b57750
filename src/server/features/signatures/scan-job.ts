/**
 * Holds the newest copy of every medium against the signature rules; what is found is kept in one
 * transaction a copy.
 */
import { inArray, sql } from 'drizzle-orm';
import { blobSource } from '@/server/platform/blobs/read-blob';
import { fairCopies } from '../copies/tables';
import { announce } from '@/server/platform/events';
import type { JobContext, JobOutcome } from '@/server/platform/jobs/engine';
import { allRules, keepFindings, scanSource } from './signatures';

export async function runScan({
  db,
  commit,
  signal,
  payload: { operatorId },
}: JobContext<'scan'>): Promise<JobOutcome> {
  const latest = db
    .select({ id: sql<number>`max(${fairCopies.id})` })
    .from(fairCopies)
    .groupBy(fairCopies.mediumId);
  const copies = await db
    .select({ id: fairCopies.id, mediumId: fairCopies.mediumId, imageBlob: fairCopies.imageBlob })
    .from(fairCopies)
    .where(inArray(fairCopies.id, latest));
  const rules = await allRules(db);
  for (const { id, mediumId, imageBlob } of copies) {
    if (signal.aborted) return 'again';
    const scan = await scanSource(db, await blobSource(db, imageBlob), rules);
    await commit(async (tx) => {
      await keepFindings(tx, id, scan, { operatorId, mediumId });
      await announce(tx, { kind: 'media' });
    });
  }
  return 'done';
}
