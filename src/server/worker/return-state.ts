/**
 * What every return tells of itself, to a disk or to a device of blocks: where it is, what it asks,
 * how it ended.
 */
import { eq } from 'drizzle-orm';
import { media, returns } from '../db/schema';
import { announce } from '../events';
import type { JobContext } from '../jobs/runner';
import { note } from '../services/ledger';
import type { ReturnState } from '../states';

export interface ReturnFacts {
  row: typeof returns.$inferSelect;
  target: typeof media.$inferSelect;
  /** The medium whose image is written. */
  sourceId: number;
}

type Row = ReturnFacts['row'];

export async function setReturnState(
  { commit }: JobContext,
  { id, stationId }: Row,
  state: ReturnState,
  now: string,
): Promise<void> {
  await commit(async (tx) => {
    await tx.update(returns).set({ state, now }).where(eq(returns.id, id));
    await announce(tx, { kind: 'return', returnId: id, stationId });
  });
}

export async function isCancelled(db: JobContext['db'], id: number): Promise<boolean> {
  const [row] = await db
    .select({ cancelled: returns.cancelled })
    .from(returns)
    .where(eq(returns.id, id));
  return row?.cancelled ?? true;
}

/** Asks whether what is on the target may go; nothing was written. */
export async function askBefore(
  context: JobContext,
  { row, target }: ReturnFacts,
  what: string,
): Promise<void> {
  await setReturnState(
    context,
    row,
    'asks',
    `${target.code} is not blank: ${what}. Nothing was written.`,
  );
  await context.commit((tx) =>
    note(tx, {
      operatorId: row.startedBy,
      kind: 'return-asked',
      mediumId: target.id,
      stationId: row.stationId,
      returnId: row.id,
      what: `${target.code} is not blank: ${what}. Nothing was written.`,
    }),
  );
}

export async function endReturn(
  { commit }: JobContext,
  { row, target, sourceId }: ReturnFacts,
  state: 'proved' | 'unproved' | 'failed',
  now: string,
): Promise<void> {
  await commit(async (tx) => {
    await tx.update(returns).set({ state, now, endedAt: new Date() }).where(eq(returns.id, row.id));
    await note(tx, {
      operatorId: row.startedBy,
      kind: 'return-ended',
      mediumId: sourceId,
      stationId: row.stationId,
      returnId: row.id,
      what: `Return to ${target.code}: ${now}`,
    });
    await announce(tx, { kind: 'return', returnId: row.id, stationId: row.stationId });
  });
}

export const endGivenUp = (
  context: JobContext,
  facts: ReturnFacts,
  written: string,
): Promise<void> =>
  endReturn(
    context,
    facts,
    'failed',
    `Given up: ${written} written. Nothing is claimed of ${facts.target.code}; what ` +
      'it was to be made from is as it was.',
  );
