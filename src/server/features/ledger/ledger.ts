/** The ledger: every event, who, when, with what, and how it came out. */
import { tell } from '@/messages/tell';
import { said, type Said } from '@/core/said';
import { desc, eq, gt, inArray, or } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import { ledger } from './tables';
import { media } from '../media/tables';
import { operators } from '../operators/tables';
import { announce } from '@/server/platform/events';
import type { LedgerKind } from '@/server/states';

interface LedgerNote {
  /** Null of what the application found by itself. */
  operatorId: number | null;
  kind: LedgerKind;
  what: Said;
  mediumId?: number | null;
  stationId?: number | null;
  sittingId?: number | null;
  writebackId?: number | null;
}

/** Writes entries in the caller's transaction. */
export async function noteMany(tx: Executor, entries: LedgerNote[]): Promise<void> {
  if (entries.length === 0) return;
  await tx.insert(ledger).values(entries);
  await announce(tx, { kind: 'ledger' });
}

/** Writes an entry in the caller's transaction. */
export const note = (tx: Executor, entry: LedgerNote): Promise<void> => noteMany(tx, [entry]);

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

const inWords = <T extends { what: Said; who: string | null }>(
  row: T,
): Omit<T, 'what' | 'who'> & { what: string; who: string } => ({
  ...row,
  what: tell(row.what),
  who: row.who ?? tell(said('fixity.theApplication')),
});

/** Newest first. */
export async function listLedger(db: Executor, limit = 300) {
  const rows = await db
    .select(columns)
    .from(ledger)
    .leftJoin(operators, eq(ledger.operatorId, operators.id))
    .leftJoin(media, eq(ledger.mediumId, media.id))
    .orderBy(desc(ledger.id))
    .limit(limit);
  return rows.map(inWords);
}

/** What was merged into a medium keeps its events, which are sealed. */
const mergedInto = (db: Executor, mediumId: number) =>
  db.select({ id: media.id }).from(media).where(eq(media.mergedIntoId, mediumId));

export async function ledgerOfMedium(db: Executor, mediumId: number, limit = 100) {
  const rows = await db
    .select(columns)
    .from(ledger)
    .leftJoin(operators, eq(ledger.operatorId, operators.id))
    .leftJoin(media, eq(ledger.mediumId, media.id))
    .where(or(eq(ledger.mediumId, mediumId), inArray(ledger.mediumId, mergedInto(db, mediumId))))
    .orderBy(desc(ledger.id))
    .limit(limit);
  return rows.map(inWords);
}

export async function ledgerOfSitting(db: Executor, sittingId: number, limit = 60) {
  const rows = await db
    .select(columns)
    .from(ledger)
    .leftJoin(operators, eq(ledger.operatorId, operators.id))
    .leftJoin(media, eq(ledger.mediumId, media.id))
    .where(eq(ledger.sittingId, sittingId))
    .orderBy(desc(ledger.id))
    .limit(limit);
  return rows.map(inWords);
}

/** Every entry, oldest first, a thousand at a time: what an export is made of. */
export async function* wholeLedger(db: Executor) {
  const STEP = 1000;
  for (let after = 0; ;) {
    const rows = await db
      .select(columns)
      .from(ledger)
      .leftJoin(operators, eq(ledger.operatorId, operators.id))
      .leftJoin(media, eq(ledger.mediumId, media.id))
      .where(gt(ledger.id, after))
      .orderBy(ledger.id)
      .limit(STEP);
    yield* rows.map(inWords);
    if (rows.length < STEP) return;
    after = rows[rows.length - 1]!.id;
  }
}

export type LedgerLine = Awaited<ReturnType<typeof listLedger>>[number];
