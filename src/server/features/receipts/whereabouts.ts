/** Where media are: in the house, or out of it, to whom and since when. */
import { asc, desc, eq, inArray } from 'drizzle-orm';
import { said, type Said } from '@/core/said';
import type { Executor } from '@/server/platform/db/database';
import { UserError } from '@/server/platform/errors';
import { mediaOut, receiptMedia, receipts } from './tables';

const OUT = {
  receipt: receipts.id,
  kind: receipts.kind,
  day: receipts.day,
  person: receipts.person,
  backBy: receipts.backBy,
};

/** The receipt by which a medium went; null of one that is in the house. */
async function outOf(db: Executor, mediumId: number) {
  const [out] = await db
    .select(OUT)
    .from(mediaOut)
    .innerJoin(receipts, eq(receipts.id, mediaOut.receiptId))
    .where(eq(mediaOut.mediumId, mediumId));
  return out ?? null;
}

/** Those of the media that are out, in no order. */
export async function outAmong(db: Executor, mediumIds: readonly number[]) {
  if (mediumIds.length === 0) return [];
  return db
    .select({ mediumId: mediaOut.mediumId, ...OUT })
    .from(mediaOut)
    .innerJoin(receipts, eq(receipts.id, mediaOut.receiptId))
    .where(inArray(mediaOut.mediumId, [...mediumIds]));
}

/** Receipts that a medium stands on, oldest first. */
const receiptsOf = (db: Executor, mediumId: number) =>
  db
    .select({ id: receipts.id, kind: receipts.kind, day: receipts.day, person: receipts.person })
    .from(receiptMedia)
    .innerJoin(receipts, eq(receipts.id, receiptMedia.receiptId))
    .where(eq(receiptMedia.mediumId, mediumId))
    .orderBy(asc(receipts.day), asc(receipts.id))
    .limit(100);

export async function whereaboutsOf(db: Executor, mediumId: number) {
  const [out, given] = await Promise.all([outOf(db, mediumId), receiptsOf(db, mediumId)]);
  return { out, receipts: given };
}

type Out = NonNullable<Awaited<ReturnType<typeof outOf>>>;

/** `It was handed back to R. Heron on 1996-05-12`. */
const outSaid = (code: string, { kind, day, person, receipt }: Out): Said =>
  said('receipts.isOut', { code, kind, day, person, receipt });

/** Throws UserError, 409, of a medium that is not in the house. */
export async function refuseOut(
  db: Executor,
  { id, code }: { id: number; code: string },
): Promise<void> {
  const out = await outOf(db, id);
  if (out) throw new UserError(outSaid(code, out), 409);
}

/** Two media were found to be one: it is where either of them is said to be. */
export async function moveOut(tx: Executor, from: number, to: number): Promise<void> {
  const [gone] = await tx.delete(mediaOut).where(eq(mediaOut.mediumId, from)).returning();
  if (gone)
    await tx
      .insert(mediaOut)
      .values({ mediumId: to, receiptId: gone.receiptId })
      .onConflictDoNothing();
}

/** Media that went with a receipt and are not back, by number. */
export async function stillOut(db: Executor, receiptId: number): Promise<number[]> {
  const rows = await db
    .select({ id: mediaOut.mediumId })
    .from(mediaOut)
    .where(eq(mediaOut.receiptId, receiptId))
    .orderBy(desc(mediaOut.mediumId));
  return rows.map(({ id }) => id);
}
