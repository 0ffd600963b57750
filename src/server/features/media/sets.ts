/** Sets: media that belong together, and which of them are missing. */
import { and, asc, eq, sql } from 'drizzle-orm';
import type { z } from 'zod';
import type { Database, Executor } from '@/server/platform/db/database';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { isInUse } from './in-use';
import { media, sets } from './tables';
import { refuseTaken } from '@/server/platform/db/unique-violation';
import { notFound, UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { note } from '../ledger/ledger';
import type { SetChange } from './new-medium';
import { said } from '@/core/said';

/** Most places of a set that are looked through for missing members. */
const MAX_MEMBERS = 9999;
/** Sets listed at once. */
const MAX_SETS = 200;
/** Members of a set listed at once. */
const MAX_LISTED = 500;

/**
 * Places of a set that no medium has, up to what it should have, or to the highest that is there.
 */
function missingPlaces(members: number | null, there: readonly (number | null)[]): number[] {
  const numbers = new Set(there);
  const last = Math.min(MAX_MEMBERS, members ?? Math.max(0, ...there.map((each) => each ?? 0)));
  return Array.from({ length: last }, (_, i) => i + 1).filter((number) => !numbers.has(number));
}

/** A set with its members, and the places that nobody has. */
export async function setOf(db: Executor, name: string) {
  if (name === '') return null;
  const [row] = await db.select().from(sets).where(eq(sets.name, name));
  if (!row) return null;
  const own = await db
    .select({ code: media.code, title: media.title, number: media.setNumber })
    .from(media)
    .where(and(isInUse, eq(media.setName, name)))
    .orderBy(asc(media.setNumber), asc(media.code))
    .limit(MAX_MEMBERS);
  const missing = missingPlaces(
    row.members,
    own.map(({ number }) => number),
  );
  return { name, members: row.members, own: own.slice(0, MAX_LISTED), count: own.length, missing };
}

/** Sets of which a member is missing, the first of them. */
export async function incompleteSets(db: Executor) {
  const { rows } = await db.execute<{ name: string }>(sql`
    select s.name from ${sets} s
    left join ${media} m on m.set_name = s.name and m.withdrawn_at is null
    group by s.name, s.members
    having count(distinct m.set_number) filter (where m.set_number between 1
      and least(${MAX_MEMBERS}::int, coalesce(s.members, ${MAX_MEMBERS}::int)))
      < least(${MAX_MEMBERS}::int, coalesce(s.members, max(m.set_number), 0))
    order by s.name limit ${MAX_SETS}`);
  const found = await Promise.all(rows.map(({ name }) => setOf(db, name)));
  return found.filter((each) => each !== null);
}

/** Its media follow its name, as its papers and what is said of it do. */
async function rename(tx: Executor, from: string, to: string): Promise<void> {
  await refuseTaken(
    tx.update(sets).set({ name: to }).where(eq(sets.name, from)),
    () => new UserError(said('media.setIsThere', { name: to }), 409, 'name'),
  );
  await tx.update(media).set({ setName: to }).where(eq(media.setName, from));
}

export async function changeSet(
  db: Database,
  operatorId: number,
  wanted: string,
  { name: renamed, members }: z.output<typeof SetChange>,
): Promise<void> {
  const name = sanitizeText(wanted);
  await db.transaction(async (tx) => {
    const [was] = await tx.select().from(sets).where(eq(sets.name, name)).for('update');
    if (!was) throw notFound(said('media.set2', { name }));
    if (renamed !== undefined && renamed !== name) {
      await rename(tx, name, renamed);
      await note(tx, {
        operatorId,
        kind: 'set',
        what: said('media.setRenamed', { name, renamed }),
      });
    }
    if (members !== was.members) {
      const now = renamed ?? name;
      await tx.update(sets).set({ members }).where(eq(sets.name, now));
      const what = said('media.theSetShouldHave', { name: now, members });
      await note(tx, { operatorId, kind: 'set', what });
    }
    await announce(tx, { kind: 'media' });
  });
}
