/** Lots and sets, with how many media of each are there and how many of them are read. */
import { and, asc, count, eq, sql, type AnyColumn, type SQL } from 'drizzle-orm';
import { z } from 'zod';
import type { Executor } from '@/server/platform/db/database';
import { like, wordsOf } from '@/server/platform/db/words';
import { isInUse } from '../media/in-use';
import { isRead } from '../media/is-read';
import { lots, media, sets } from '../media/tables';
import { descriptions } from './tables';

/** Of each kind listed at once. */
const AT_ONCE = 300;

/** What the route takes. */
export const RecordsQuestion = z.object({
  q: z
    .string()
    .transform((text) => text.slice(0, 200))
    .default(''),
});

const read = sql<number>`(count(*) filter (where ${isRead}))::int`;

/** Counts of each name that media have. */
const countsBy = (db: Executor, column: typeof media.lot | typeof media.setName) =>
  db
    .select({
      named: sql<string>`${column}`.as('named'),
      all: count().as('all_of'),
      read: read.as('read_of'),
    })
    .from(media)
    // Blanks and disks for testing are not there to be read.
    .where(sql`${isInUse} and not ${media.isBlank} and not ${media.isReference}`)
    .groupBy(column)
    .as('counts');

/** Each word stands in its name, its lender, or in what is said of it. */
const answers = (q: string, ...columns: (AnyColumn | SQL)[]): SQL | undefined =>
  and(
    ...wordsOf(q).map(
      (word) => sql`concat_ws(' ', ${sql.join(columns, sql`, `)}) ilike ${like(word)}`,
    ),
  );

async function lotRows(db: Executor, q: string) {
  const counts = countsBy(db, media.lot);
  return db
    .select({
      name: lots.name,
      lender: lots.lender,
      cameIn: lots.cameIn,
      handBackBy: lots.handBackBy,
      all: sql<number>`coalesce(${counts.all}, 0)::int`,
      read: sql<number>`coalesce(${counts.read}, 0)::int`,
    })
    .from(lots)
    .leftJoin(counts, eq(counts.named, lots.name))
    .leftJoin(descriptions, eq(descriptions.lotName, lots.name))
    .where(answers(q, lots.name, lots.lender, descriptions.words))
    .orderBy(asc(lots.name))
    .limit(AT_ONCE);
}

async function setRows(db: Executor, q: string) {
  const counts = countsBy(db, media.setName);
  return db
    .select({
      name: sets.name,
      members: sets.members,
      all: sql<number>`coalesce(${counts.all}, 0)::int`,
      read: sql<number>`coalesce(${counts.read}, 0)::int`,
    })
    .from(sets)
    .leftJoin(counts, eq(counts.named, sets.name))
    .leftJoin(descriptions, eq(descriptions.setName, sets.name))
    .where(answers(q, sets.name, descriptions.words))
    .orderBy(asc(sets.name))
    .limit(AT_ONCE);
}

export async function listRecords(db: Executor, asked: z.input<typeof RecordsQuestion>) {
  const { q } = RecordsQuestion.parse(asked);
  const [ofLots, ofSets] = await Promise.all([lotRows(db, q), setRows(db, q)]);
  return {
    lots: ofLots,
    sets: ofSets,
    /** Whether there may be more than are listed. */
    isAll: ofLots.length < AT_ONCE && ofSets.length < AT_ONCE,
  };
}
