/** Whether a station is free: one job at a time, whoever asks. */
import { and, desc, eq, inArray } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import { sittings } from '../sittings/tables';
import { selfTests, stations } from './tables';
import { writebacks } from '../writebacks/tables';
import { UserError, notFound } from '@/server/platform/errors';
import { isRunning } from '@/server/states';
import { said } from '@/core/said';

/**
 * The station's row, held until the transaction ends, so that of two people who start something one
 * comes second.
 */
export async function lockStation(tx: Executor, id: number) {
  const [station] = await tx.select().from(stations).where(eq(stations.id, id)).for('update');
  if (!station) throw notFound(said('stations.station2', { id }));
  return station;
}

/** A sitting's row, held until the transaction ends. */
export async function lockSitting(tx: Executor, id: number) {
  const [sitting] = await tx.select().from(sittings).where(eq(sittings.id, id)).for('update');
  if (!sitting) throw notFound(said('platform.sitting', { id }));
  return sitting;
}

export async function refuseWhileBusy(tx: Executor, stationId: number): Promise<void> {
  const [sitting] = await tx
    .select({ state: sittings.state })
    .from(sittings)
    .where(eq(sittings.stationId, stationId))
    .orderBy(desc(sittings.id))
    .limit(1);
  if (sitting && isRunning(sitting.state))
    throw new UserError(said('stations.stationIsReadingPause', { stationId }));
  const [writeback] = await tx
    .select({ id: writebacks.id })
    .from(writebacks)
    .where(
      and(
        eq(writebacks.stationId, stationId),
        inArray(writebacks.state, ['waiting', 'writing', 'held']),
      ),
    );
  if (writeback) throw new UserError(said('stations.stationIsWritingWait', { stationId }));
  const [test] = await tx
    .select({ id: selfTests.id })
    .from(selfTests)
    .where(
      and(
        eq(selfTests.stationId, stationId),
        inArray(selfTests.state, ['waiting', 'reading', 'held']),
      ),
    );
  if (test) throw new UserError(said('stations.stationIsBeingTested', { stationId }));
}

/** A sitting goes on only with its own medium in the drive, and nothing else at work there. */
export async function refuseElsewhere(
  tx: Executor,
  { stationId, mediumId }: { stationId: number; mediumId: number },
): Promise<void> {
  const station = await lockStation(tx, stationId);
  if (station.mediumId !== mediumId)
    throw new UserError(said('stations.putItsOwnDisk', { stationId }));
  await refuseWhileBusy(tx, stationId);
}
