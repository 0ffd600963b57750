/** Write-backs that wait for the next blank in a station, first come first. */
import { tellIfAny } from '@/messages/tell';
import { eq } from 'drizzle-orm';
import { z } from 'zod';
import type { Database, Executor } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { writebackQueue } from './tables';
import { UserError, notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { lockStation } from '../stations/station-use';
import { note } from '../ledger/ledger';
import { refuseHeldCopies } from '../rights/holds';
import { WritebackRequest, type Wish, startWritebackIn } from './start-writeback';
import { said } from '@/core/said';

/** Puts write-backs in a station's queue, whatever is in it now. */
export async function queueWritebacks(
  db: Database,
  operatorId: number,
  input: z.input<typeof WritebackRequest>,
): Promise<void> {
  const { count, ...wish } = WritebackRequest.parse(input);
  await db.transaction(async (tx) => {
    const [copy] = await tx
      .select({ id: fairCopies.id })
      .from(fairCopies)
      .where(eq(fairCopies.id, wish.fairCopyId));
    if (!copy) throw notFound(said('platform.suchFairCopy'));
    await lockStation(tx, wish.stationId);
    await refuseHeldCopies(tx, [wish.fairCopyId], operatorId);
    await queueIn(tx, operatorId, wish, count);
  });
}

export async function queueIn(
  tx: Executor,
  operatorId: number,
  wish: Wish,
  count: number,
): Promise<void> {
  if (count === 0) return;
  await tx
    .insert(writebackQueue)
    .values(Array.from({ length: count }, () => ({ ...wish, startedBy: operatorId })));
  await note(tx, {
    operatorId,
    kind: 'writeback-queued',
    stationId: wish.stationId,
    what: said('writebacks.moreWriteBacksWait', { count, stationId: wish.stationId }),
  });
  await announce(tx, { kind: 'writeback', writebackId: 0, stationId: wish.stationId });
}

/**
 * A blank came into a station: the first return that waits there begins. One that this blank can't
 * take stays, with the reason.
 */
export async function startQueued(tx: Executor, stationId: number): Promise<void> {
  const [next] = await tx
    .select()
    .from(writebackQueue)
    .where(eq(writebackQueue.stationId, stationId))
    .orderBy(writebackQueue.id)
    .limit(1);
  if (!next) return;
  try {
    await refuseHeldCopies(tx, [next.fairCopyId], next.startedBy, 'ever');
    await startWritebackIn(tx, next.startedBy, next);
    await tx.delete(writebackQueue).where(eq(writebackQueue.id, next.id));
  } catch (error) {
    if (!(error instanceof UserError)) throw error;
    await tx
      .update(writebackQueue)
      .set({ trouble: error.said })
      .where(eq(writebackQueue.id, next.id));
    await announce(tx, { kind: 'writeback', writebackId: 0, stationId });
  }
}

/** Takes back what waits at a station. */
export async function emptyQueue(
  db: Database,
  operatorId: number,
  stationId: number,
): Promise<void> {
  await db.transaction(async (tx) => {
    const gone = await tx
      .delete(writebackQueue)
      .where(eq(writebackQueue.stationId, stationId))
      .returning({ id: writebackQueue.id });
    if (gone.length === 0) throw new UserError(said('writebacks.nothingWaitsForA', { stationId }));
    await note(tx, {
      operatorId,
      kind: 'writeback-queued',
      stationId,
      what: said('writebacks.writebacksThatWaitedAt', { gone: gone.length, stationId }),
    });
    await announce(tx, { kind: 'writeback', writebackId: 0, stationId });
  });
}

/** What waits for blanks, by station. */
export async function listQueue(db: Executor) {
  const rows = await db
    .select({
      id: writebackQueue.id,
      stationId: writebackQueue.stationId,
      source: media.code,
      title: media.title,
      trouble: writebackQueue.trouble,
    })
    .from(writebackQueue)
    .innerJoin(fairCopies, eq(fairCopies.id, writebackQueue.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .orderBy(writebackQueue.id);
  return rows.map((row) => ({ ...row, trouble: tellIfAny(row.trouble) }));
}
