/** When, by whom and with what a copy was made, as it leaves the house. */
import { and, asc, eq, lte } from 'drizzle-orm';
import type { HowMade } from '@/core/description/how-made';
import type { Executor } from '@/server/platform/db/database';
import { operators } from '../../operators/tables';
import { sittings } from '../../sittings/tables';
import { stations } from '../../stations/tables';
import type { fairCopies } from '../tables';

type Copy = typeof fairCopies.$inferSelect;

/** Sittings told of one copy: a disk is read so often and no more. */
const MAX_READINGS = 500;

export async function howMade(db: Executor, copy: Copy): Promise<HowMade> {
  const [maker] = await db.select().from(operators).where(eq(operators.id, copy.madeBy));
  const readings = await db
    .select({
      startedAt: sittings.startedAt,
      by: operators.name,
      station: stations.id,
      model: stations.model,
      serial: stations.serial,
    })
    .from(sittings)
    .innerJoin(operators, eq(operators.id, sittings.startedBy))
    .innerJoin(stations, eq(stations.id, sittings.stationId))
    .where(and(eq(sittings.mediumId, copy.mediumId), lte(sittings.startedAt, copy.madeAt)))
    .orderBy(asc(sittings.id))
    .limit(MAX_READINGS);
  return {
    ...{ at: copy.madeAt.toISOString(), by: maker!.name, program: copy.program },
    from: copy.source,
    readings: readings.map(({ startedAt, model, serial, ...reading }) => ({
      ...{ startedAt: startedAt.toISOString(), ...reading },
      drive: [model, serial].filter(Boolean).join(', '),
    })),
  };
}
