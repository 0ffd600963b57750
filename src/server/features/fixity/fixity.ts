/**
 * What is kept is checked against its digests: in turn, and before its turn where somebody asks for
 * it. What is found is told in the ledger, and on the page of the medium.
 */
import { eq, sql, type SQL } from 'drizzle-orm';
import { z } from 'zod';
import { said } from '@/core/said';
import { tell } from '@/messages/tell';
import { CHUNK_BYTES } from '@/server/platform/blobs/blob-chunks';
import { blobToCheck, checkBlob, fixityOfStore } from '@/server/platform/blobs/fixity';
import type { CheckedBlob } from '@/server/platform/blobs/fixity';
import { blobs } from '@/server/platform/blobs/tables';
import { config } from '@/server/platform/config';
import type { Database, Executor } from '@/server/platform/db/database';
import { notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { fairCopies, files, volumes } from '../copies/tables';
import { note } from '../ledger/ledger';
import { askForLedgerCheck, sealsOfLedger } from '../ledger/seals';
import { attachments, media } from '../media/tables';
import { sittings } from '../sittings/tables';
import { speakerOfBlob } from './blob-names';

export const FixityWanted = z.strictObject({
  /** A medium's code, or a lot; everything where neither is given. */
  code: z.string().max(40).optional(),
  lot: z.string().max(200).optional(),
});
export type FixityWanted = z.output<typeof FixityWanted>;

/** Asks for a check before its turn; gives how many blobs it is of. */
export async function askForCheck(
  db: Database,
  operatorId: number,
  { code, lot }: FixityWanted,
): Promise<{ asked: number }> {
  return db.transaction(async (tx) => {
    const these = code ? sql`${media.code} = ${code}` : sql`${media.lot} = ${lot ?? ''}`;
    const asked = await tx
      .update(blobs)
      .set({ dueAt: sql`coalesce(${blobs.dueAt}, now())` })
      .where(
        code || lot
          ? sql`${blobs.state} = 'sealed' and ${blobs.id} in ${blobsOf(these)}`
          : eq(blobs.state, 'sealed'),
      )
      .returning({ id: blobs.id });
    if (asked.length === 0 && (code || lot))
      throw notFound(said('fixity.thingKeptOf', { of: code ?? lot! }));
    if (!code && !lot) await askForLedgerCheck(tx);
    await note(tx, {
      operatorId,
      kind: 'fixity',
      what: said('fixity.askedFor', { blobs: asked.length, of: code ?? lot ?? null }),
    });
    await announce(tx, { kind: 'fixity' });
    return { asked: asked.length };
  });
}

/** What a check found, where it is news. */
export async function tellOfCheck(
  tx: Executor,
  { id, damagedChunk, isNews }: CheckedBlob,
): Promise<void> {
  if (!isNews) return;
  await announce(tx, { kind: 'fixity' });
  const speaker = await speakerOfBlob(tx, id);
  const what = speaker?.what ?? said('platform.whatIsStoredHere');
  await note(tx, {
    operatorId: null,
    kind: 'fixity',
    mediumId: speaker?.mediumId ?? null,
    what:
      damagedChunk === null
        ? said('fixity.isSoundAgain', { what })
        : said('fixity.isDamaged', { what, offset: damagedChunk * CHUNK_BYTES }),
  });
}

/**
 * Checks the next blob whose turn it is; false where it is no blob's. `between` is waited for after
 * each piece of it, told whether somebody asked for the check, and may end it by an error.
 */
export async function checkNext(
  db: Database,
  between: (isAsked: boolean) => Promise<void> = async () => undefined,
): Promise<boolean> {
  const next = await blobToCheck(db, config().SPINDLE_CHECK_DAYS);
  if (!next) return false;
  await checkBlob(db, next.id, tellOfCheck, () => between(next.isAsked));
  return true;
}

/** What is known of what is kept: how much, when it was looked at, what is damaged and what hangs on it. */
export async function fixityView(db: Executor) {
  const { damaged, ...store } = await fixityOfStore(db);
  return {
    ...store,
    everyDays: config().SPINDLE_CHECK_DAYS,
    ledger: await sealsOfLedger(db),
    damaged: await Promise.all(
      damaged.map(async ({ id, damagedAt, damagedChunk }) => {
        const speaker = await speakerOfBlob(db, id);
        return {
          id,
          damagedAt,
          offset: (damagedChunk ?? 0) * CHUNK_BYTES,
          what: tell(speaker?.what ?? said('platform.whatIsStoredHere')),
          code: speaker?.code ?? null,
          files: speaker?.copyId && speaker.isImage ? await filesOn(db, speaker.copyId) : null,
        };
      }),
    ),
  };
}

/** Files of an image. */
async function filesOn(db: Executor, copyId: number): Promise<number> {
  const [row] = await db
    .select({ files: sql<number>`count(*)::int` })
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .where(eq(volumes.fairCopyId, copyId));
  return row!.files;
}

/** What is damaged of one medium, in a sentence each. */
export async function damageOfMedium(db: Executor, mediumId: number): Promise<string[]> {
  const rows = await db
    .select({ id: blobs.id, damagedChunk: blobs.damagedChunk })
    .from(blobs)
    .where(
      sql`${blobs.damagedAt} is not null and ${blobs.id} in ${blobsOf(sql`${media.id} = ${mediumId}`)}`,
    );
  return Promise.all(
    rows.map(async ({ id, damagedChunk }) => {
      const speaker = await speakerOfBlob(db, id, mediumId);
      const what = speaker?.what ?? said('platform.whatIsStoredHere');
      return tell(said('fixity.isDamaged', { what, offset: damagedChunk! * CHUNK_BYTES }));
    }),
  );
}

/** Blobs that hold the bytes of media: their copies, captures and papers. */
const blobsOf = (these: SQL): SQL => sql`(
  select coalesce(b.same_as, b.id) from blobs b where b.id in (
    select unnest(array[${fairCopies.imageBlob}, ${fairCopies.sidecarBlob}, ${fairCopies.captureBlob}])
      from ${fairCopies} join ${media} on ${media.id} = ${fairCopies.mediumId} where ${these}
    union all select ${sittings.captureBlob} from ${sittings}
      join ${media} on ${media.id} = ${sittings.mediumId} where ${these}
    union all select ${attachments.blobId} from ${attachments}
      join ${media} on ${media.id} = ${attachments.mediumId} where ${these}))`;
