/** Entries of the ledger: those that are asked for, page by page or all of them, in words. */
import { and, count, desc, eq, gt, inArray, or, type SQL } from 'drizzle-orm';
import { said, type Said } from '@/core/said';
import { tell } from '@/messages/tell';
import type { Executor } from '@/server/platform/db/database';
import { media } from '../media/tables';
import { operators } from '../operators/tables';
import { LedgerQuestion, meantBy } from './questions';
import { ledger } from './tables';

const columns = {
  id: ledger.id,
  at: ledger.at,
  kind: ledger.kind,
  what: ledger.what,
  who: operators.name,
  code: media.code,
  stationId: ledger.stationId,
  sittingId: ledger.sittingId,
};

/** With who was at work and of which medium it is. */
const entriesOf = (db: Executor, condition: SQL | undefined, limit: number) =>
  db
    .select(columns)
    .from(ledger)
    .leftJoin(operators, eq(ledger.operatorId, operators.id))
    .leftJoin(media, eq(ledger.mediumId, media.id))
    .where(condition)
    .orderBy(desc(ledger.id))
    .limit(limit);

const inWords = <T extends { what: Said; who: string | null }>(
  row: T,
): Omit<T, 'what' | 'who'> & { what: string; who: string } => ({
  ...row,
  what: tell(row.what),
  who: row.who ?? tell(said('fixity.theApplication')),
});

/** Entries of one page. */
const PAGE = 200;
/** Entries that are counted; there are more then. */
const MAX_COUNTED = 10_000;

async function countOf(db: Executor, condition: SQL | undefined): Promise<number> {
  const found = db
    .select({ id: ledger.id })
    .from(ledger)
    .where(condition)
    .limit(MAX_COUNTED + 1)
    .as('found');
  const [row] = await db.select({ entries: count() }).from(found);
  return row!.entries;
}

/** Those that are meant, the newest first, a page of them. */
export async function listLedger(db: Executor, asked: Partial<LedgerQuestion> = {}) {
  const question = LedgerQuestion.parse(asked);
  const [rows, all, names] = await Promise.all([
    entriesOf(db, await meantBy(db, question), PAGE + 1),
    countOf(db, await meantBy(db, { ...question, before: undefined })),
    db.select({ name: operators.name }).from(operators).orderBy(operators.name),
  ]);
  const entries = rows.slice(0, PAGE).map(inWords);
  return {
    entries,
    /** Of all that are meant, as far as they are counted. */
    count: Math.min(all, MAX_COUNTED),
    isCounted: all <= MAX_COUNTED,
    /** What older ones are older than; null where there are none. */
    olderThan: rows.length > PAGE ? entries.at(-1)!.id : null,
    names: names.map(({ name }) => name),
  };
}

/** What was merged into a medium keeps its events, which are sealed. */
const mergedInto = (db: Executor, mediumId: number) =>
  db.select({ id: media.id }).from(media).where(eq(media.mergedIntoId, mediumId));

export async function ledgerOfMedium(db: Executor, mediumId: number, limit = 100) {
  const its = or(eq(ledger.mediumId, mediumId), inArray(ledger.mediumId, mergedInto(db, mediumId)));
  return (await entriesOf(db, its, limit)).map(inWords);
}

export async function ledgerOfSitting(db: Executor, sittingId: number, limit = 60) {
  return (await entriesOf(db, eq(ledger.sittingId, sittingId), limit)).map(inWords);
}

/** All that are meant, oldest first, a thousand at a time: what an export is made of. */
export async function* eachEntry(db: Executor, condition: SQL | undefined) {
  const STEP = 1000;
  for (let after = 0; ;) {
    const rows = await db
      .select({ ...columns, operatorId: ledger.operatorId, mediumId: ledger.mediumId })
      .from(ledger)
      .leftJoin(operators, eq(ledger.operatorId, operators.id))
      .leftJoin(media, eq(ledger.mediumId, media.id))
      .where(and(condition, gt(ledger.id, after)))
      .orderBy(ledger.id)
      .limit(STEP);
    for (const row of rows) yield { ...inWords(row), said: row.what };
    if (rows.length < STEP) return;
    after = rows[rows.length - 1]!.id;
  }
}

export type LedgerLine = Awaited<ReturnType<typeof listLedger>>['entries'][number];
