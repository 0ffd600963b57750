/** The state of a sitting, changed with its line in the ledger and told to the pages. */
import type { Said } from '@/core/said';
import { eq } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import { sittings } from './tables';
import { announce } from '@/server/platform/events';
import type { JobContext, JobOutcome } from '@/server/platform/jobs/engine';
import { note } from '../ledger/ledger';
import type { SittingState } from '@/server/states';

type Sitting = Pick<typeof sittings.$inferSelect, 'id' | 'stationId' | 'mediumId' | 'startedBy'>;

export const tellSitting = (tx: Executor, { id, stationId, mediumId }: Sitting): Promise<void> =>
  announce(tx, { kind: 'sitting', sittingId: id, stationId, mediumId });

async function change(
  commit: JobContext['commit'],
  sitting: Sitting,
  values: Partial<typeof sittings.$inferInsert> & { now: Said },
  kind: 'sitting-held' | 'sitting-resumed' | 'sitting-paused',
): Promise<void> {
  const { id, mediumId, stationId, startedBy } = sitting;
  await commit(async (tx) => {
    await tx.update(sittings).set(values).where(eq(sittings.id, id));
    await note(tx, {
      operatorId: startedBy,
      kind,
      mediumId,
      stationId,
      sittingId: id,
      what: values.now,
    });
    await tellSitting(tx, sitting);
  });
}

export const setSittingState = (
  commit: JobContext['commit'],
  sitting: Sitting,
  state: SittingState,
  now: Said,
  kind: 'sitting-held' | 'sitting-resumed',
) => change(commit, sitting, { state, now }, kind);

/** The row stays done until a person goes on: no sweep may take it up. */
export async function pauseSitting(
  commit: JobContext['commit'],
  sitting: Sitting,
  now: Said,
): Promise<JobOutcome> {
  await change(commit, sitting, { state: 'paused', now, requestedAction: null }, 'sitting-paused');
  return 'done';
}
