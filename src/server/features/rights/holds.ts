/**
 * What keeps media in the house: what they, their sets and their lots restrict on a day, and what
 * restricts the media that an image of theirs was made from. Whoever has said to whom and why may
 * take it out all the same, for a while.
 */
import { and, eq, gt, inArray, sql, type SQL } from 'drizzle-orm';
import { dayOf } from '@/core/description/day';
import type { Level } from '@/core/description/inherited';
import { holdsOn, type Hold } from '@/core/description/rights';
import { said, type Said } from '@/core/said';
import type { Executor } from '@/server/platform/db/database';
import { UserError } from '@/server/platform/errors';
import { isInUse } from '../media/in-use';
import { levelOf, type Owner } from '../media/owners';
import { media } from '../media/tables';
import { mediaOfCopies } from './media-of';
import { rightsIn, type RightsColumns } from './rights';
import { permits } from './tables';

/** What keeps a medium in the house, and the name of what says so. */
interface HoldOfMedium extends Omit<Hold, 'from'> {
  mediumId: number;
  code: string;
  /** Where it is said: of it, of its set or its lot, or of what its image was made from. */
  from: Level | 'source';
  name: string;
}

/** An image made from one that was made from one …: no way back is longer. */
const MAX_STEPS = 20;

/** Of an assembly `a`: what it began with, and what files were put on it from. */
const SOURCES_OF_ASSEMBLY = sql`select a.base_id as copy_id
  union select v.fair_copy_id from jsonb_array_elements(a.edits) with ordinality put (edit, number)
    join files f on f.id = substring(put.edit ->> 'source' from '^file:(\\d+)$')::int
    join volumes v on v.id = f.volume_id
    where put.number <= a.done`;

/** Rights that may hold a medium, by the way from it: none where it is said of it. */
interface Found extends Owner, RightsColumns {
  asked: number;
  askedCode: string;
  steps: number;
  code: string;
}

async function rightsAlong(db: Executor, mediumIds: readonly number[]): Promise<Found[]> {
  const { rows } = await db.execute<Found & Record<string, unknown>>(sql`
    with recursive line (asked, id, steps) as (
      select id, id, 0 from media where id = any(${sql.param([...mediumIds])}::int[])
      union
      select line.asked, base.medium_id, line.steps + 1 from line
        join fair_copies made on made.medium_id = line.id
        join assemblies a on a.copy_id = made.id
        cross join lateral (${SOURCES_OF_ASSEMBLY}) source
        join fair_copies base on base.id = source.copy_id
        where line.steps < ${MAX_STEPS} and base.medium_id <> line.id),
    nearest as (select asked, id, min(steps) as steps from line group by asked, id),
    closed as (select * from rights where is_restricted or is_personal),
    along as (select nearest.asked, nearest.steps, m.code, m.id, m.set_name, m.lot
      from nearest join media m on m.id = nearest.id),
    met as (select along.asked, along.steps, along.code, r.* from along join closed r on r.medium_id = along.id
      union all select along.asked, along.steps, along.code, r.*
        from along join closed r on r.set_name = along.set_name
      union all select along.asked, along.steps, along.code, r.*
        from along join closed r on r.lot_name = along.lot)
    select met.asked, met.steps, asked.code as "askedCode", met.code, statement, words,
      met.medium_id as "mediumId", met.set_name as "setName", lot_name as "lotName", reason,
      is_restricted as "isRestricted", opens_on as "opensOn", is_personal as "isPersonal"
    from met join media asked on asked.id = met.asked
    order by asked.code, met.steps, met.code, met.id`);
  return rows;
}

function holdsIn(found: Found, day: string): HoldOfMedium[] {
  const { asked, askedCode, steps, code, setName, lotName } = found;
  const level = levelOf(found);
  return holdsOn({ [level]: rightsIn(found) }, day).map((hold) => ({
    ...hold,
    ...{ mediumId: asked, code: askedCode },
    ...(steps > 0
      ? { from: 'source', name: code }
      : { from: level, name: setName ?? lotName ?? code }),
  }));
}

/** All that holds of media on a day, by their codes and the nearest first. */
export async function holdsOf(
  db: Executor,
  mediumIds: readonly number[],
  day = dayOf(new Date()),
): Promise<HoldOfMedium[]> {
  if (mediumIds.length === 0) return [];
  return (await rightsAlong(db, mediumIds)).flatMap((found) => holdsIn(found, day));
}

/** Those of the media that are held today. */
export async function heldAmong(
  db: Executor,
  mediumIds: readonly number[],
): Promise<ReadonlySet<number>> {
  return new Set((await holdsOf(db, mediumIds)).map(({ mediumId }) => mediumId));
}

/** Media in use of a lot, a set or what else names them: which may leave, and how many stay. */
export async function mayLeaveOf(
  db: Executor,
  named: SQL,
): Promise<{ mediumIds: number[]; stays: number }> {
  const rows = await db.select({ id: media.id }).from(media).where(and(isInUse, named));
  const ids = rows.map(({ id }) => id);
  const held = await heldAmong(db, ids);
  return { mediumIds: ids.filter((id) => !held.has(id)), stays: held.size };
}

/** Whether it has to be permitted now, or may have been when what begins now was asked for. */
type Permitted = 'now' | 'ever';

/** Those of the media that an operator may take out all the same. */
async function permitted(
  db: Executor,
  mediumIds: readonly number[],
  operatorId: number,
  when: Permitted,
): Promise<Set<number>> {
  const rows = await db
    .select({ mediumId: permits.mediumId })
    .from(permits)
    .where(
      and(
        inArray(permits.mediumId, [...mediumIds]),
        eq(permits.operatorId, operatorId),
        when === 'now' ? gt(permits.endsAt, sql`now()`) : undefined,
      ),
    );
  return new Set(rows.map(({ mediumId }) => mediumId));
}

const holdSaid = ({ from, name, reason, opensOn, isPersonal }: HoldOfMedium): Said =>
  said('rights.hold', { from, name, reason, opensOn, isPersonal });

const MAX_TOLD = 6;

/**
 * Refuses to let leave what is held: who would take it has to say to whom and why first.
 *
 * Throws UserError, 403, `rights.isHeld`.
 */
export async function refuseHeld(
  db: Executor,
  mediumIds: readonly number[],
  operatorId: number,
  when: Permitted = 'now',
): Promise<void> {
  const holds = await holdsOf(db, mediumIds);
  if (holds.length === 0) return;
  const ids = holds.map(({ mediumId }) => mediumId);
  const allowed = await permitted(db, ids, operatorId, when);
  const left = holds.filter(({ mediumId }) => !allowed.has(mediumId));
  if (left.length === 0) return;
  const codes = [...new Set(left.map(({ code }) => code))];
  throw new UserError(
    said('rights.isHeld', {
      codes: codes.slice(0, MAX_TOLD),
      all: codes.length,
      holds: left.slice(0, MAX_TOLD).map(holdSaid),
    }),
    403,
  );
}

/** The same of the media whose images they are. */
export const refuseHeldCopies = async (
  db: Executor,
  copyIds: readonly number[],
  operatorId: number,
  when: Permitted = 'now',
): Promise<void> => refuseHeld(db, await mediaOfCopies(db, copyIds), operatorId, when);
