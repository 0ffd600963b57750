/** Self-tests of drives with a reference disk: asked for here, done by the worker. */
import { and, eq, inArray } from 'drizzle-orm';
import type { Database } from '@/server/platform/db/database';
import { media } from '../media/tables';
import { selfTests } from './tables';
import { UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { enqueue, stationResource } from '@/server/platform/jobs/enqueue';
import { note } from '../ledger/ledger';
import { lockStation, refuseWhileBusy } from './station-use';
import { said } from '@/core/said';

export async function startSelfTest(
  db: Database,
  operatorId: number,
  stationId: number,
): Promise<number> {
  return db.transaction(async (tx) => {
    const station = await lockStation(tx, stationId);
    await refuseWhileBusy(tx, stationId);
    const [medium] =
      station.mediumId === null
        ? []
        : await tx.select().from(media).where(eq(media.id, station.mediumId));
    if (!medium?.isReference)
      throw new UserError(said('stations.putAReferenceDisk', { stationId }));
    const [test] = await tx
      .insert(selfTests)
      .values({
        stationId,
        mediumId: medium.id,
        state: 'waiting',
        now: said('platform.waitingForAWorker'),
        startedBy: operatorId,
      })
      .returning({ id: selfTests.id });
    await note(tx, {
      operatorId,
      kind: 'self-test',
      stationId,
      mediumId: medium.id,
      what: said('stations.stationTestedWith', {
        stationId,
        model: station.model,
        serial: station.serial,
        code: medium.code,
      }),
    });
    await announce(tx, { kind: 'stations' });
    await enqueue(
      tx,
      'self-test',
      { selfTestId: test!.id },
      { resource: stationResource(stationId) },
    );
    return test!.id;
  });
}

/** Gives up a test that runs, or waits for a bench or a disk that does not come. */
export async function endSelfTest(
  db: Database,
  operatorId: number,
  stationId: number,
): Promise<void> {
  await db.transaction(async (tx) => {
    await lockStation(tx, stationId);
    const [test] = await tx
      .update(selfTests)
      .set({ state: 'failed', now: said('stations.givenUpByHand'), endedAt: new Date() })
      .where(
        and(
          eq(selfTests.stationId, stationId),
          inArray(selfTests.state, ['waiting', 'reading', 'held']),
        ),
      )
      .returning({ id: selfTests.id });
    if (!test) throw new UserError(said('stations.stationIsNotBeing', { stationId }));
    await note(tx, {
      operatorId,
      kind: 'self-test',
      stationId,
      what: said('stations.theTestOfStation', { stationId }),
    });
    await announce(tx, { kind: 'stations' });
  });
}
