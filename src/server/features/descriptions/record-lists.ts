/** Lots, sets, lenders and machines, with how many media of each are there and how many of them are read. */
import { and, count, eq, sql, type AnyColumn, type SQL } from 'drizzle-orm';
import { z } from 'zod';
import type { Executor } from '@/server/platform/db/database';
import { like, wordsOf } from '@/server/platform/db/words';
import { isInUse } from '../media/in-use';
import { isRead } from '../media/is-read';
import { lenders, lots, machines, media, sets } from '../media/tables';
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

/** `lot 2` before `lot 10`, whatever is written in capitals. */
const inNaturalOrder = (name: AnyColumn) => sql`${name} collate natural_order`;

/** Counts of each name that media have. */
const countsBy = (
  db: Executor,
  column: typeof media.lot | typeof media.setName | typeof media.lender | typeof media.machine,
) =>
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

/** None where no medium has the name. */
const countsIn = (counts: ReturnType<typeof countsBy>) => ({
  all: sql<number>`coalesce(${counts.all}, 0)::int`,
  read: sql<number>`coalesce(${counts.read}, 0)::int`,
});

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
      ...countsIn(counts),
    })
    .from(lots)
    .leftJoin(counts, eq(counts.named, lots.name))
    .leftJoin(descriptions, eq(descriptions.lotName, lots.name))
    .where(answers(q, lots.name, lots.lender, descriptions.words))
    .orderBy(inNaturalOrder(lots.name))
    .limit(AT_ONCE);
}

async function setRows(db: Executor, q: string) {
  const counts = countsBy(db, media.setName);
  return db
    .select({
      name: sets.name,
      members: sets.members,
      ...countsIn(counts),
    })
    .from(sets)
    .leftJoin(counts, eq(counts.named, sets.name))
    .leftJoin(descriptions, eq(descriptions.setName, sets.name))
    .where(answers(q, sets.name, descriptions.words))
    .orderBy(inNaturalOrder(sets.name))
    .limit(AT_ONCE);
}

async function lenderRows(db: Executor, q: string) {
  const counts = countsBy(db, media.lender);
  return db
    .select({
      name: lenders.name,
      contact: lenders.contact,
      ...countsIn(counts),
    })
    .from(lenders)
    .leftJoin(counts, eq(counts.named, lenders.name))
    .where(answers(q, lenders.name, lenders.contact, lenders.notes))
    .orderBy(inNaturalOrder(lenders.name))
    .limit(AT_ONCE);
}

async function machineRows(db: Executor, q: string) {
  const counts = countsBy(db, media.machine);
  return db
    .select({
      name: machines.name,
      kind: machines.kind,
      ...countsIn(counts),
    })
    .from(machines)
    .leftJoin(counts, eq(counts.named, machines.name))
    .where(answers(q, machines.name, machines.kind, machines.identifier, machines.notes))
    .orderBy(inNaturalOrder(machines.name))
    .limit(AT_ONCE);
}

export async function listRecords(db: Executor, asked: z.input<typeof RecordsQuestion>) {
  const { q } = RecordsQuestion.parse(asked);
  const [ofLots, ofSets, ofLenders, ofMachines] = await Promise.all([
    lotRows(db, q),
    setRows(db, q),
    lenderRows(db, q),
    machineRows(db, q),
  ]);
  const lists = [ofLots, ofSets, ofLenders, ofMachines];
  return {
    ...{ lots: ofLots, sets: ofSets, lenders: ofLenders, machines: ofMachines },
    /** Whether there may be more than are listed. */
    isAll: lists.every((list) => list.length < AT_ONCE),
  };
}
