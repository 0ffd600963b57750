/**
 * Sweeps up what nobody needs any more: ZIPs that were made to be taken out, uploads that were never
 * ended, rows of jobs long done, bytes that nothing refers to. Nothing that was read from a medium
 * is ever among it. And makes anew what is made of the ledger and lacks. Any number of workers may sweep at once.
 */
import { and, eq, inArray, lt, sql, type SQL } from 'drizzle-orm';
import { dropGrowing } from '@/server/platform/blobs/blob-store';
import { blobChunks, blobs } from '@/server/platform/blobs/tables';
import { config } from '@/server/platform/config';
import type { Database, Executor } from '@/server/platform/db/database';
import { announce } from '@/server/platform/events';
import { jobs } from '@/server/platform/jobs/tables';
import { assemblies } from '../assemblies/tables';
import { receipts } from '../receipts/tables';
import { cameBags } from '../bags/tables';
import { fairCopies } from '../copies/tables';
import { extracts } from '../extracts/tables';
import { uploads } from '../intake/tables';
import { indexOlderEntries } from '../ledger/ledger-words';
import { attachments } from '../media/tables';
import { sittings } from '../sittings/tables';

/** Bytes without a row that refers to them may be on their way to one. */
const UNREFERENCED_DAYS = 2;
/** Blobs swept with one look: the next look takes the next ones. */
const BLOBS_AT_ONCE = 500;

interface Swept {
  extracts: number;
  uploads: number;
  jobs: number;
  blobs: number;
  /** Entries of the ledger that can be found by their words since. */
  entries: number;
}

export async function sweep(db: Database): Promise<Swept> {
  return {
    extracts: await expireExtracts(db),
    uploads: await endUploads(db),
    jobs: await forgetJobs(db),
    blobs: await dropUnreferenced(db),
    entries: await indexOlderEntries(db),
  };
}

const daysAgo = (days: number): SQL => sql`now() - make_interval(days => ${days})`;

/** The ZIP goes, the row stays and says so. */
async function expireExtracts(db: Database): Promise<number> {
  return db.transaction(async (tx) => {
    const gone = await tx
      .update(extracts)
      .set({ state: 'expired', blobId: null })
      .where(
        and(
          eq(extracts.state, 'done'),
          lt(extracts.endedAt, daysAgo(config().SPINDLE_KEEP_EXTRACTS_DAYS)),
        ),
      )
      .returning({ id: extracts.id });
    if (gone.length > 0) await announce(tx, { kind: 'extracts' });
    return gone.length;
  });
}

/** Uploads that broke off and nobody went on with; and rows of those that ended long ago. */
async function endUploads(db: Database): Promise<number> {
  return db.transaction(async (tx) => {
    const gone = await tx
      .delete(uploads)
      .where(
        and(
          inArray(uploads.state, ['coming', 'done', 'refused']),
          lt(uploads.cameAt, daysAgo(config().SPINDLE_KEEP_UPLOADS_DAYS)),
        ),
      )
      .returning({ state: uploads.state, blobId: uploads.blobId });
    for (const { state, blobId } of gone)
      if (state === 'coming' && blobId) await dropGrowing(tx, blobId);
    if (gone.length > 0) await announce(tx, { kind: 'uploads' });
    return gone.length;
  });
}

async function forgetJobs(db: Database): Promise<number> {
  const gone = await db
    .delete(jobs)
    .where(
      and(
        inArray(jobs.state, ['done', 'failed']),
        lt(jobs.endedAt, daysAgo(config().SPINDLE_KEEP_JOBS_DAYS)),
      ),
    )
    .returning({ id: jobs.id });
  return gone.length;
}

async function dropUnreferenced(db: Database): Promise<number> {
  const candidates = await db
    .select({ id: blobs.id })
    .from(blobs)
    .where(
      and(lt(blobs.createdAt, daysAgo(UNREFERENCED_DAYS)), sql`not ${isReferenced(sql`blobs.id`)}`),
    )
    .limit(BLOBS_AT_ONCE);
  let dropped = 0;
  for (const { id } of candidates)
    if (await db.transaction((tx) => dropIfUnreferenced(tx, id))) dropped++;
  return dropped;
}

/** Looked at once more under its lock: who seals the same bytes may have pointed to it meanwhile. */
async function dropIfUnreferenced(tx: Executor, id: string): Promise<boolean> {
  const [row] = await tx.select().from(blobs).where(eq(blobs.id, id)).for('update');
  if (!row) return false;
  const [free] = await tx
    .select({ id: blobs.id })
    .from(blobs)
    .where(and(eq(blobs.id, id), sql`not ${isReferenced(sql`blobs.id`)}`));
  if (!free) return false;
  await tx.delete(blobChunks).where(eq(blobChunks.blobId, id));
  await tx.delete(blobs).where(eq(blobs.id, id));
  return true;
}

/** Every place that may speak of a blob; an assembly's changes name theirs as `blob:` and the id. */
const isReferenced = (id: SQL): SQL => sql`(
  exists (select 1 from ${fairCopies}
    where ${id} in (${fairCopies.imageBlob}, ${fairCopies.sidecarBlob}, ${fairCopies.captureBlob}))
  or exists (select 1 from ${sittings} where ${sittings.captureBlob} = ${id})
  or exists (select 1 from ${attachments} where ${attachments.blobId} = ${id})
  or exists (select 1 from ${extracts} where ${extracts.blobId} = ${id})
  or exists (select 1 from ${uploads} where ${uploads.blobId} = ${id})
  or exists (select 1 from ${cameBags} where ${cameBags.blobId} = ${id})
  or exists (select 1 from ${receipts} where ${receipts.blobId} = ${id})
  or exists (select 1 from blobs b where b.same_as = ${id})
  or exists (select 1 from ${assemblies}
    where ${assemblies.edits}::text like '%blob:' || ${id} || '%'))`;
