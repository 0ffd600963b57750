/** The pages of lenders and of machines: what is known of one, its lots, its media. */
import { asc, eq } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import { namedRecord, type NamedKind } from '../media/named-records';
import { lots, media } from '../media/tables';
import { mediaOf } from './record-pages';

/** Lots that are told one by one. */
const MAX_LOTS = 500;

const lotsOf = (db: Executor, lender: string) =>
  db
    .select({ name: lots.name, cameIn: lots.cameIn, handBackBy: lots.handBackBy })
    .from(lots)
    .where(eq(lots.lender, lender))
    .orderBy(asc(lots.name))
    .limit(MAX_LOTS);

/** Throws UserError, 404, where there is none of that name. */
export async function namedPage(db: Executor, kind: NamedKind, asked: string) {
  const record = await namedRecord(db, kind, asked);
  const column = kind === 'lenders' ? media.lender : media.machine;
  const [ofLender, own] = await Promise.all([
    kind === 'lenders' ? lotsOf(db, record.name) : [],
    mediaOf(db, eq(column, record.name)),
  ]);
  return { kind, record, lots: ofLender, media: own };
}
