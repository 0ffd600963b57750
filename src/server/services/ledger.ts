/** The ledger: every event, who, when, with what, and how it came out. */
import { desc, eq, gt } from 'drizzle-orm';
import type { Executor } from '../db/database';
import { ledger, media, operators } from '../db/schema';
import { announce } from '../events';
import type { LedgerKind } from '../states';

interface LedgerNote {
  operatorId: number;
  kind: LedgerKind;
  what: string;
  mediumId?: number | null;
  stationId?: number | null;
  sittingId?: number | null;
  returnId?: number | null;
}

/** Writes an entry in the caller's transaction. */
export async function note(tx: Executor, entry: LedgerNote): Promise<void> {
  await tx.insert(ledger).values(entry);
  await announce(tx, { kind: 'ledger' });
}

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

/** Newest first. */
export function listLedger(db: Executor, limit = 300) {
  return db
    .select(columns)
    .from(ledger)
    .innerJoin(operators, eq(ledger.operatorId, operators.id))
    .leftJoin(media, eq(ledger.mediumId, media.id))
    .orderBy(desc(ledger.id))
    .limit(limit);
}

export function ledgerOfMedium(db: Executor, mediumId: number, limit = 100) {
  return db
    .select(columns)
    .from(ledger)
    .innerJoin(operators, eq(ledger.operatorId, operators.id))
    .leftJoin(media, eq(ledger.mediumId, media.id))
    .where(eq(ledger.mediumId, mediumId))
    .orderBy(desc(ledger.id))
    .limit(limit);
}

export function ledgerOfSitting(db: Executor, sittingId: number, limit = 60) {
  return db
    .select(columns)
    .from(ledger)
    .innerJoin(operators, eq(ledger.operatorId, operators.id))
    .leftJoin(media, eq(ledger.mediumId, media.id))
    .where(eq(ledger.sittingId, sittingId))
    .orderBy(desc(ledger.id))
    .limit(limit);
}

/** Every entry, oldest first, a thousand at a time: what an export is made of. */
export async function* wholeLedger(db: Executor) {
  const STEP = 1000;
  for (let after = 0; ;) {
    const rows = await db
      .select(columns)
      .from(ledger)
      .innerJoin(operators, eq(ledger.operatorId, operators.id))
      .leftJoin(media, eq(ledger.mediumId, media.id))
      .where(gt(ledger.id, after))
      .orderBy(ledger.id)
      .limit(STEP);
    yield* rows;
    if (rows.length < STEP) return;
    after = rows[rows.length - 1]!.id;
  }
}

export type LedgerLine = Awaited<ReturnType<typeof listLedger>>[number];
