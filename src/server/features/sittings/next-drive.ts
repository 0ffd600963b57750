/** In which drive a medium should be read again, by what drives gave of what was left before. */
import { desc, eq, sql } from 'drizzle-orm';
import { readsBlocks } from '@/core/drive-abilities';
import {
  expectedOfDrives,
  type DriveAttempt,
  type ExpectedOfDrive,
} from '@/core/reading/plan/next-drive';
import type { Tally } from '@/core/reading/grades';
import type { Executor } from '@/server/platform/db/database';
import { stations } from '../stations/tables';
import { sittings, tracks } from './tables';

/** What drives gave is counted over so many readings again: heads wear, and are replaced. */
const READINGS_AGAIN = 200;
/** Of the latest sittings, among which they are looked for. */
const SITTINGS_BACK = 2000;
/** A drive whose cylinders lie as far apart as those of the disk, and not twice as far. */
const ALIKE = 0.8;

interface NextDrive extends ExpectedOfDrive {
  readIn: number;
  inDoubt: number;
}

/** Null where nothing is in doubt, no drive read it, or none is likelier than the one that did. */
export async function nextDriveOf(
  db: Executor,
  mediumId: number,
  tally: Tally | null,
): Promise<NextDrive | null> {
  const inDoubt = tally ? tally.doubtful + tally.lost : 0;
  if (inDoubt === 0) return null;
  const [last] = await db
    .select({ station: sittings.stationId, stepping: sittings.stepping, form: stations.form })
    .from(sittings)
    .innerJoin(stations, eq(stations.id, sittings.stationId))
    .where(eq(sittings.mediumId, mediumId))
    .orderBy(desc(sittings.id))
    .limit(1);
  if (!last) return null;
  const rows = await db
    .select({ station: stations.id, abilities: stations.abilities })
    .from(stations)
    .where(eq(stations.form, last.form));
  const all = rows.flatMap(({ station, abilities }) =>
    abilities && !readsBlocks(abilities) ? [{ station, ...abilities }] : [],
  );
  const readIn = all.find(({ station }) => station === last.station);
  if (!readIn) return null;
  const drives = all.filter(
    ({ cylinders }) => cylinders >= (ALIKE * readIn.cylinders) / last.stepping,
  );
  const [best] = expectedOfDrives(readIn, drives, await attemptsOf(db));
  return best && !best.isSame ? { ...best, readIn: readIn.station, inDoubt } : null;
}

/**
 * Of each sitting whose medium had one before: the sectors that the one before had left on its
 * tracks, and how many fewer this one left there; tracks by cylinder of the disk.
 */
async function attemptsOf(db: Executor): Promise<DriveAttempt[]> {
  const { rows } = await db.execute<{
    station: number;
    is_same: boolean;
    of: number;
    gained: number;
  }>(sql`
    select again.station_id as station, again.before_station = again.station_id as is_same,
      sum(${unsound('left_by')})::int as "of",
      sum(greatest(0, ${unsound('left_by')} - ${unsound('now')}))::int as gained
    from (
      select latest.id, latest.station_id, latest.stepping, before.id as before_id,
        before.station_id as before_station, before.stepping as before_stepping
      from ${sittings} latest
      join lateral (
        select id, station_id, stepping from ${sittings} earlier
        where earlier.medium_id = latest.medium_id and earlier.id < latest.id
        order by id desc limit 1
      ) before on true
      where latest.id > (select coalesce(max(id), 0) from ${sittings}) - ${SITTINGS_BACK}
        and latest.ended_at is not null
      order by latest.id desc limit ${READINGS_AGAIN}
    ) again
    join ${tracks} left_by on left_by.sitting_id = again.before_id and ${unsound('left_by')} > 0
    join ${tracks} now on now.sitting_id = again.id and now.head = left_by.head
      and now.cylinder * again.before_stepping = left_by.cylinder * again.stepping
    group by again.id, again.before_id, again.station_id, again.before_station`);
  return rows.map(({ station, is_same, of, gained }) => ({ station, isSame: is_same, of, gained }));
}

const unsound = (table: 'left_by' | 'now') => sql.raw(`(${table}.progress->>'unsound')::int`);
