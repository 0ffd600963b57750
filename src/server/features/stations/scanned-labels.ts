/** Labels that were scanned: which medium it is, and whether it is where it should be. */
import { eq } from 'drizzle-orm';
import { normalizeCode } from '@/core/medium-code';
import type { Database, Executor } from '@/server/platform/db/database';
import { mediumByCode } from '../media/media';
import { media } from '../media/tables';
import { stations } from './tables';
import { UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { note } from '../ledger/ledger';
import type { Scanned } from './stations';
import { said } from '@/core/said';

export async function noteConfirmed(
  tx: Executor,
  operatorId: number,
  stationId: number,
  { id, code }: { id: number; code: string },
): Promise<void> {
  await tx.update(stations).set({ confirmedAt: new Date() }).where(eq(stations.id, stationId));
  await note(tx, {
    operatorId,
    kind: 'confirmed',
    mediumId: id,
    stationId,
    what: said('stations.theLabelOfWas', { code, stationId }),
  });
  await announce(tx, { kind: 'stations' });
}

/**
 * A label was scanned: where its medium should be in a drive, that it is the one is confirmed.
 * `stationId` is the station
 * that the person looks at: one that should hold another medium is named, and nothing is confirmed.
 */
export async function takeScan(
  db: Database,
  operatorId: number,
  scanned: string,
  stationId: number | null,
): Promise<Scanned> {
  return db.transaction(async (tx) => {
    const medium = await mediumByCode(tx, normalizeCode(scanned));
    const [station] = await tx.select().from(stations).where(eq(stations.mediumId, medium.id));
    if (stationId !== null && station?.id !== stationId) {
      const [shown] = await tx
        .select({ code: media.code })
        .from(stations)
        .innerJoin(media, eq(media.id, stations.mediumId))
        .where(eq(stations.id, stationId));
      if (shown)
        throw new UserError(
          said('stations.stationShouldHoldAnd', {
            stationId,
            code: shown.code,
            code2: medium.code,
          }),
          409,
        );
    }
    if (!station)
      return {
        code: medium.code,
        station: null,
        said: `${medium.code}, ${medium.title}: in no station.`,
      };
    await noteConfirmed(tx, operatorId, station.id, medium);
    return {
      code: medium.code,
      station: station.id,
      said: `${medium.code} is what is in station ${station.id}.`,
    };
  });
}
