/**
 * Sittings that paused because the disk that holds everything was nearly full go on by themselves
 * once there is room again; those that a person paused do not.
 */
import { and, eq, sql } from 'drizzle-orm';
import { said } from '@/core/said';
import { hasRoomToGoOn } from '@/server/platform/blobs/store-room';
import type { Database, Executor } from '@/server/platform/db/database';
import { UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { lockSitting } from '../stations/station-use';
import { goOnOrStop } from './sittings';
import { sittings } from './tables';

const PAUSED_FOR_ROOM = 'platform.pausedForRoom';

export async function goOnWithRoom(db: Database): Promise<void> {
  const paused = await db
    .select({ id: sittings.id })
    .from(sittings)
    .where(and(eq(sittings.state, 'paused'), sql`${sittings.now} ->> 'code' = ${PAUSED_FOR_ROOM}`));
  if (paused.length === 0) return;
  if (!(await hasRoomToGoOn())) return;
  for (const { id } of paused)
    await db
      .transaction((tx) => goOn(tx, id))
      .catch((error) => {
        // Another medium is in its drive by now: a person says what becomes of it.
        if (!(error instanceof UserError)) throw error;
      });
}

/** Another worker, or a person, may have been there first. */
async function goOn(tx: Executor, id: number): Promise<void> {
  const sitting = await lockSitting(tx, id);
  const { state, now, startedBy, stationId, mediumId } = sitting;
  if (state !== 'paused' || now.code !== PAUSED_FOR_ROOM) return;
  await goOnOrStop(tx, startedBy, sitting, false, said('sittings.goneOnWithRoom'));
  await announce(tx, { kind: 'sitting', sittingId: id, stationId, mediumId });
}
