/** What is to go back and by when, what is out, and the receipts that were given. */
import { asc, desc, eq, sql } from 'drizzle-orm';
import { dayOf } from '@/core/description/day';
import type { Executor } from '@/server/platform/db/database';
import { isInUse } from '../media/in-use';
import { isRead } from '../media/is-read';
import { lots, media } from '../media/tables';
import { operators } from '../operators/tables';
import { mediaOut, receipts } from './tables';

/** Of each kind listed at once. */
const AT_ONCE = 300;

const isHere = sql`${mediaOut.mediumId} is null`;
const isSentOut = sql`${receipts.kind} = 'sent-out'`;

/** Lots with a day by which they go back, of which something is still to go; the earliest first. */
const dueLots = (db: Executor) =>
  db
    .select({
      lot: lots.name,
      lender: lots.lender,
      by: lots.handBackBy,
      all: sql<number>`count(*)::int`,
      here: sql<number>`(count(*) filter (where ${isHere}))::int`,
      sentOut: sql<number>`(count(*) filter (where ${isSentOut}))::int`,
      unread: sql<number>`(count(*) filter (where ${isHere} and not ${isRead}))::int`,
    })
    .from(lots)
    .innerJoin(media, eq(media.lot, lots.name))
    .leftJoin(mediaOut, eq(mediaOut.mediumId, media.id))
    .leftJoin(receipts, eq(receipts.id, mediaOut.receiptId))
    .where(
      sql`${lots.handBackBy} <> '' and ${isInUse} and not ${media.isBlank}
        and not ${media.isReference}`,
    )
    .groupBy(lots.name)
    .having(sql`count(*) filter (where ${isHere} or ${isSentOut}) > 0`)
    .orderBy(asc(lots.handBackBy), asc(lots.name))
    .limit(AT_ONCE);

const given = (db: Executor) =>
  db
    .select({
      id: receipts.id,
      kind: receipts.kind,
      day: receipts.day,
      person: receipts.person,
      backBy: receipts.backBy,
      lenders: receipts.lenders,
      notes: receipts.notes,
      who: operators.name,
      media: sql<number>`(select count(*)::int from receipt_media rm where rm.receipt_id = receipts.id)`,
      out: sql<number>`(select count(*)::int from media_out o where o.receipt_id = receipts.id)`,
    })
    .from(receipts)
    .innerJoin(operators, eq(operators.id, receipts.madeBy));

/** Sent out and not all back: what should be back first stands first. */
const sentOut = (db: Executor) =>
  given(db)
    .where(
      sql`${receipts.kind} = 'sent-out'
        and exists (select 1 from media_out o where o.receipt_id = receipts.id)`,
    )
    .orderBy(sql`nullif(${receipts.backBy}, '') nulls last`, asc(receipts.id))
    .limit(AT_ONCE);

export async function handBacks(db: Executor) {
  const [due, out, newest] = await Promise.all([
    dueLots(db),
    sentOut(db),
    given(db).orderBy(desc(receipts.id)).limit(AT_ONCE),
  ]);
  return { today: dayOf(new Date()), due, out, receipts: newest };
}
