/** A station's head was cleaned: what waited for it goes on. */
import { and, eq } from 'drizzle-orm';
import type { Database, Executor } from '@/server/platform/db/database';
import { afterCleaning } from '@/core/reading/plan/plan';
import { sittings, tracks } from '../sittings/tables';
import { stations } from './tables';
import { UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { note } from '../ledger/ledger';
import { wakeJob } from '@/server/platform/jobs/enqueue';
import { lockStation } from './station-use';
import { withBench } from './drive-hands';
import { said } from '@/core/said';

/**
 * Notes that a station's head was cleaned. A sitting that found it dirty goes on by it, and reads
 * once more what failed;
 * else the drive must be empty, for with a disk in it the head can't be reached.
 */
export async function cleanHead(
  db: Database,
  operatorId: number,
  stationId: number,
): Promise<void> {
  const mayBeCleaned = async (tx: Executor) => {
    const station = await lockStation(tx, stationId);
    // Only the sitting whose own disk is in: one that was put aside must neither go on with another
    // disk nor keep the head from being cleaned.
    const [dirty] =
      station.mediumId === null
        ? []
        : await tx
            .select()
            .from(sittings)
            .where(
              and(
                eq(sittings.stationId, stationId),
                eq(sittings.mediumId, station.mediumId),
                eq(sittings.state, 'dirty'),
              ),
            )
            .for('update');
    if (station.mediumId && !dirty)
      throw new UserError(said('stations.takeTheDiskOut', { stationId }));
    return { station, dirty };
  };
  const asked = await db.transaction(mayBeCleaned);
  const { drive } = asked.station;
  await withBench(async (bench) => {
    if (bench.simulated) await bench.hand({ op: 'hand-clean', drive });
    if (asked.dirty && !(await bench.status(drive)).medium)
      throw new UserError(said('stations.putTheDiskBack', { stationId }));
  });
  await db.transaction(async (tx) => {
    const { station, dirty } = await mayBeCleaned(tx);
    await tx
      .update(stations)
      .set({ readingsSinceCleaning: 0, sheddingSinceCleaning: 0 })
      .where(eq(stations.id, stationId));
    await note(tx, {
      operatorId,
      kind: 'cleaned',
      stationId,
      sittingId: dirty?.id,
      mediumId: dirty?.mediumId,
      what: said('stations.headOfStationCleaned', {
        stationId,
        readingsSinceCleaning: station.readingsSinceCleaning,
      }),
    });
    if (dirty) await goOnClean(tx, dirty);
    await announce(tx, { kind: 'stations' });
  });
}

/** What failed under the dirty head is read once more. */
async function goOnClean(tx: Executor, sitting: typeof sittings.$inferSelect): Promise<void> {
  const { id, stationId, mediumId } = sitting;
  const read = await tx.select().from(tracks).where(eq(tracks.sittingId, id));
  for (const { cylinder, head, progress } of read)
    await tx
      .update(tracks)
      .set({ progress: afterCleaning(progress) })
      .where(and(eq(tracks.sittingId, id), eq(tracks.cylinder, cylinder), eq(tracks.head, head)));
  await tx
    .update(sittings)
    .set({ state: 'waiting', now: said('stations.goingOnWithA') })
    .where(eq(sittings.id, id));
  await wakeJob(tx, 'sitting', { sittingId: id });
  await announce(tx, { kind: 'sitting', sittingId: id, stationId, mediumId });
}
