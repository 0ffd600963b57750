/** A sitting that asked how far to read goes on, as it was answered. */
import { eq } from 'drizzle-orm';
import { said, type Said } from '@/core/said';
import type { Executor } from '@/server/platform/db/database';
import { announce } from '@/server/platform/events';
import { wakeJob } from '@/server/platform/jobs/enqueue';
import { note } from '../ledger/ledger';
import { sittings } from './tables';

type Sitting = typeof sittings.$inferSelect;

/** `range` is the policy with how far to read in it, and `what` the same as the ledger says it. */
export async function readOn(
  tx: Executor,
  operatorId: number,
  { id, stationId, mediumId }: Pick<Sitting, 'id' | 'stationId' | 'mediumId'>,
  range: Partial<Pick<Sitting, 'policy' | 'blockPolicy'>>,
  what: Said,
): Promise<void> {
  await tx
    .update(sittings)
    .set({ ...range, state: 'waiting', now: said('platform.waitingForAWorker') })
    .where(eq(sittings.id, id));
  await wakeJob(tx, 'sitting', { sittingId: id });
  await note(tx, { operatorId, kind: 'sitting-resumed', mediumId, stationId, sittingId: id, what });
  await announce(tx, { kind: 'sitting', sittingId: id, stationId, mediumId });
}
