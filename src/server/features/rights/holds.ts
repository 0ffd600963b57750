/**
 * What keeps media in the house: what they, their sets and their lots restrict on a day, and what
 * restricts the media that an image of theirs was made from. Whoever has said to whom and why may
 * take it out all the same, for a while.
 */
import { and, eq, gt, inArray, sql } from 'drizzle-orm';
import { dayOf } from '@/core/description/day';
import { said, type Said } from '@/core/said';
import type { Executor } from '@/server/platform/db/database';
import { UserError } from '@/server/platform/errors';
import { mediaOfCopies } from './media-of';
import { permits } from './tables';

/** What keeps a medium in the house. */
interface HoldOfMedium {
  mediumId: number;
  code: string;
  /** Where it is said: of it, of its set or its lot, or of what its image was made from. */
  from: 'medium' | 'set' | 'lot' | 'source';
  /** The name of that. */
  name: string;
  reason: string;
  /** Empty where nobody said a day. */
  opensOn: string;
  isPersonal: boolean;
}

/** An image made from one that was made from one …: no way back is longer. */
const MAX_STEPS = 20;

/** Of an assembly `a`: what it began with, and what files were put on it from. */
const SOURCES_OF_ASSEMBLY = sql`select a.base_id as copy_id
  union select v.fair_copy_id from jsonb_array_elements(a.edits) with ordinality put (edit, number)
    join files f on f.id = substring(put.edit ->> 'source' from '^file:(\\d+)$')::int
    join volumes v on v.id = f.volume_id
    where put.number <= a.done`;

/** All that holds of media on a day, in their order. */
export async function holdsOf(
  db: Executor,
  mediumIds: readonly number[],
  day = dayOf(new Date()),
): Promise<HoldOfMedium[]> {
  if (mediumIds.length === 0) return [];
  const { rows } = await db.execute<HoldOfMedium & Record<string, unknown>>(sql`
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
    closed as (select * from rights r where r.is_personal
      or (r.is_restricted and (r.opens_on = '' or r.opens_on > ${day})))
    select distinct asked.id as "mediumId", asked.code,
      case when nearest.steps > 0 then 'source' when closed.medium_id is not null then 'medium'
        when closed.set_name is not null then 'set' else 'lot' end as "from",
      case when nearest.steps > 0 then m.code
        else coalesce(closed.set_name, closed.lot_name, m.code) end as "name",
      case when kind.personal then '' else closed.reason end as reason,
      case when kind.personal then '' else closed.opens_on end as "opensOn",
      kind.personal as "isPersonal"
    from nearest join media m on m.id = nearest.id join media asked on asked.id = nearest.asked
      join closed on closed.medium_id = m.id
        or closed.set_name = nullif(m.set_name, '') or closed.lot_name = nullif(m.lot, '')
      join (values (false), (true)) as kind (personal)
        on (kind.personal and closed.is_personal) or (not kind.personal and closed.is_restricted
          and (closed.opens_on = '' or closed.opens_on > ${day}))
    order by asked.code, "from", "name", "isPersonal"`);
  return rows;
}

/** Those of the media that are held today. */
export async function heldAmong(
  db: Executor,
  mediumIds: readonly number[],
): Promise<ReadonlySet<number>> {
  return new Set((await holdsOf(db, mediumIds)).map(({ mediumId }) => mediumId));
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
