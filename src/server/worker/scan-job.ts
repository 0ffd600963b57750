/** Holds the newest copy of every medium against the signature rules, one transaction a copy. */
import { inArray, sql } from 'drizzle-orm';
import { blobSource } from '../blobs/blob-store';
import { fairCopies } from '../db/schema';
import { announce } from '../events';
import type { JobContext, JobOutcome } from '../jobs/runner';
import { allRules, scanCopy } from '../services/signatures';

/** `subject` is who asked for it. */
export async function runScan({
  db,
  commit,
  signal,
  subject: operatorId,
}: JobContext): Promise<JobOutcome> {
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
    await commit(async (tx) => {
      await scanCopy(tx, id, await blobSource(tx, imageBlob), { operatorId, mediumId }, rules);
      await announce(tx, { kind: 'media' });
    });
  }
  return 'done';
}
