/**
 * What every return tells of itself, to a disk or to a device of blocks: where it is, what it asks,
 * how it ended.
 */
import { eq } from 'drizzle-orm';
import { media } from '../media/tables';
import { writebacks } from './tables';
import { announce } from '@/server/platform/events';
import type { JobContext } from '@/server/platform/jobs/engine';
import { note } from '../ledger/ledger';
import type { WritebackState } from '@/server/states';
import { said, type Said } from '@/core/said';

export interface WritebackFacts {
  row: typeof writebacks.$inferSelect;
  target: typeof media.$inferSelect;
  /** The medium whose image is written. */
  sourceId: number;
}

type Row = WritebackFacts['row'];

export async function setWritebackState(
  { commit }: JobContext,
  { id, stationId }: Row,
  state: WritebackState,
  now: Said,
): Promise<void> {
  await commit(async (tx) => {
    await tx.update(writebacks).set({ state, now }).where(eq(writebacks.id, id));
    await announce(tx, { kind: 'writeback', writebackId: id, stationId });
  });
}

export async function isCancelled(db: JobContext['db'], id: number): Promise<boolean> {
  const [row] = await db
    .select({ cancelled: writebacks.cancelled })
    .from(writebacks)
    .where(eq(writebacks.id, id));
  return row?.cancelled ?? true;
}

/** Asks whether what is on the target may go; nothing was written. */
export async function askBefore(
  context: JobContext,
  { row, target }: WritebackFacts,
  what: Said,
): Promise<void> {
  await setWritebackState(
    context,
    row,
    'asks',
    said('writebacks.isNotBlankNothing', { code: target.code, what }),
  );
  await context.commit((tx) =>
    note(tx, {
      operatorId: row.startedBy,
      kind: 'writeback-asked',
      mediumId: target.id,
      stationId: row.stationId,
      writebackId: row.id,
      what: said('writebacks.isNotBlankNothing', { code: target.code, what }),
    }),
  );
}

export async function endWriteback(
  { commit }: JobContext,
  { row, target, sourceId }: WritebackFacts,
  state: 'proved' | 'unproved' | 'failed',
  now: Said,
): Promise<void> {
  await commit(async (tx) => {
    await tx
      .update(writebacks)
      .set({ state, now, endedAt: new Date() })
      .where(eq(writebacks.id, row.id));
    await note(tx, {
      operatorId: row.startedBy,
      kind: 'writeback-ended',
      mediumId: sourceId,
      stationId: row.stationId,
      writebackId: row.id,
      what: said('writebacks.writeBackTo', { code: target.code, now }),
    });
    await announce(tx, { kind: 'writeback', writebackId: row.id, stationId: row.stationId });
  });
}

export const endGivenUp = (
  context: JobContext,
  facts: WritebackFacts,
  written: Said,
): Promise<void> =>
  endWriteback(
    context,
    facts,
    'failed',
    said('writebacks.givenUpWrittenNothing', { written, code: facts.target.code }),
  );
