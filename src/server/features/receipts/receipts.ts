/**
 * Receipts: media that came or went, with the paper that is signed for them. One is made whole or
 * not at all, and never changed; where a medium is follows from the receipts that it stands on.
 */
import { and, asc, eq, inArray, sql, type SQL } from 'drizzle-orm';
import type { z } from 'zod';
import { said } from '@/core/said';
import { storeBlob } from '@/server/platform/blobs/blob-store';
import { readBlob } from '@/server/platform/blobs/read-blob';
import type { Database, Executor } from '@/server/platform/db/database';
import { notFound, UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { inlineBytes } from '@/server/platform/http/answers';
import { sheetPdf } from '@/server/platform/pdf/sheet-pdf';
import { noteMany } from '../ledger/ledger';
import { isInUse } from '../media/in-use';
import { mediumByCode } from '../media/media';
import { lenders, media } from '../media/tables';
import { refuseInWork } from '../media/withdrawals';
import { operators } from '../operators/tables';
import { MAX_RECEIPT_MEDIA, type NewReceipt, type ReceiptChoice } from './new-receipt';
import { readStatesOf } from './read-state';
import { receiptSheet } from './receipt-sheet';
import { mediaOut, receiptMedia, receipts } from './tables';
import { outAmong, stillOut } from './whereabouts';

type Wanted = z.output<typeof NewReceipt>;
type Medium = typeof media.$inferSelect;

const MAX_TOLD = 6;
const MAX_LENDERS_TOLD = 3;

/** Out of the house is what may come back; all else is in it. */
const isComingBack = ({ kind }: Pick<Wanted, 'kind'>): boolean => kind === 'came-back';

async function idsOfCodes(db: Executor, codes: readonly string[]): Promise<number[]> {
  const ids = new Set<number>();
  for (const code of codes) ids.add((await mediumByCode(db, code)).id);
  return [...ids];
}

/** Of all that are of a lot or a set, those that the receipt can be true of. */
async function idsOf(db: Executor, wanted: Wanted, named: SQL): Promise<number[]> {
  const isOut = sql`exists (select 1 from media_out o where o.medium_id = media.id)`;
  const rows = await db
    .select({ id: media.id })
    .from(media)
    .where(and(isInUse, named, isComingBack(wanted) ? isOut : sql`not ${isOut}`))
    .limit(MAX_RECEIPT_MEDIA + 1);
  return rows.map(({ id }) => id);
}

function chosenIds(
  db: Executor,
  wanted: Wanted,
  of: z.output<typeof ReceiptChoice>,
): Promise<number[]> {
  if ('codes' in of) return idsOfCodes(db, of.codes);
  if ('receipt' in of) return stillOut(db, of.receipt);
  return idsOf(db, wanted, 'lot' in of ? eq(media.lot, of.lot) : eq(media.setName, of.set));
}

function mediaOf(db: Executor, ids: readonly number[]) {
  return db
    .select()
    .from(media)
    .where(inArray(media.id, [...ids]))
    .orderBy(asc(media.code));
}

/** Throws UserError, 409, where one is not where the receipt would take it from. */
async function refuseElsewhere(
  db: Executor,
  wanted: Wanted,
  chosen: readonly Pick<Medium, 'id' | 'code'>[],
): Promise<void> {
  const out = await outAmong(
    db,
    chosen.map(({ id }) => id),
  );
  const areOut = new Set(out.map(({ mediumId }) => mediumId));
  const wrong = chosen.filter(({ id }) => areOut.has(id) !== isComingBack(wanted));
  if (wrong.length === 0) return;
  const codes = wrong.slice(0, MAX_TOLD).map(({ code }) => code);
  const about = { codes, all: wrong.length };
  throw new UserError(
    isComingBack(wanted) ? said('receipts.areNotOut', about) : said('receipts.areOut', about),
    409,
  );
}

function lendersOf(db: Executor, chosen: readonly Medium[]) {
  const names = [...new Set(chosen.map(({ lender }) => lender))].filter((name) => name !== '');
  if (names.length === 0) return [];
  return db
    .select({ name: lenders.name, contact: lenders.contact })
    .from(lenders)
    .where(inArray(lenders.name, names))
    .orderBy(asc(lenders.name));
}

async function nextNumber(db: Executor): Promise<number> {
  const { rows } = await db.execute<{ id: number }>(
    sql`select nextval(pg_get_serial_sequence('receipts', 'id'))::int as id`,
  );
  return rows[0]!.id;
}

async function nameOf(db: Executor, operatorId: number): Promise<string> {
  const [row] = await db.select().from(operators).where(eq(operators.id, operatorId));
  return row!.name;
}

/** All that is to be known for it, looked up before anything is written. */
async function drafted(db: Database, operatorId: number, wanted: Wanted) {
  const ids = await chosenIds(db, wanted, wanted.of);
  if (ids.length === 0) throw new UserError(said('receipts.noMedia'), 422);
  if (ids.length > MAX_RECEIPT_MEDIA)
    throw new UserError(said('receipts.tooMany', { limit: MAX_RECEIPT_MEDIA }), 422);
  const chosen = await mediaOf(db, ids);
  await refuseElsewhere(db, wanted, chosen);
  const whose = await lendersOf(db, chosen);
  const id = await nextNumber(db);
  const sheet = receiptSheet({
    ...{ id, receipt: wanted, media: chosen, lenders: whose },
    states: await readStatesOf(db, ids),
    operator: await nameOf(db, operatorId),
  });
  return { id, chosen, lenders: whose.map(({ name }) => name), pdf: await sheetPdf(sheet) };
}

/** As a list of receipts tells it. */
const lenderWords = (names: readonly string[]): string =>
  names.slice(0, MAX_LENDERS_TOLD).join('; ') + (names.length > MAX_LENDERS_TOLD ? ' …' : '');

async function keepWhere(tx: Executor, id: number, { kind }: Wanted, mediumIds: readonly number[]) {
  if (kind === 'came-back')
    await tx.delete(mediaOut).where(inArray(mediaOut.mediumId, [...mediumIds]));
  if (kind === 'handed-back' || kind === 'sent-out')
    await tx.insert(mediaOut).values(mediumIds.map((mediumId) => ({ mediumId, receiptId: id })));
}

const ledgerSaid = (id: number, { kind, day, person, backBy }: Wanted) =>
  said('receipts.noted', { id, kind, day, person, backBy });

/**
 * Throws UserError: 404 of a code there is none of, 409 of media that are elsewhere or at work, 422 of
 * none and of too many.
 */
export async function makeReceipt(
  db: Database,
  operatorId: number,
  wanted: Wanted,
): Promise<{ id: number }> {
  const draft = await drafted(db, operatorId, wanted);
  const { id, chosen } = draft;
  const ids = chosen.map((medium) => medium.id);
  const { kind, day, person, backBy, notes } = wanted;
  await db.transaction(async (tx) => {
    // In one order, so that two receipts with the same media never wait for each other.
    await tx.select().from(media).where(inArray(media.id, ids)).orderBy(media.id).for('update');
    await refuseElsewhere(tx, wanted, chosen);
    if (kind !== 'arrived') await refuseInWork(tx, chosen);
    const blob = await storeBlob(tx, draft.pdf);
    await tx.insert(receipts).values({
      ...{ id, kind, day, person, backBy, notes, lenders: lenderWords(draft.lenders) },
      ...{ blobId: blob.id, sha256: blob.sha256!, bytes: draft.pdf.length, madeBy: operatorId },
    });
    await tx.insert(receiptMedia).values(ids.map((mediumId) => ({ receiptId: id, mediumId })));
    await keepWhere(tx, id, wanted, ids);
    const what = ledgerSaid(id, wanted);
    await noteMany(
      tx,
      ids.map((mediumId) => ({ operatorId, kind, mediumId, what })),
    );
    await announce(tx, { kind: 'media' });
  });
  return { id };
}

/** As it was given. Throws UserError, 404, where there is none. */
export async function showReceipt(db: Database, id: number): Promise<Response> {
  const [row] = await db.select().from(receipts).where(eq(receipts.id, id));
  if (!row) throw notFound(said('receipts.receipt', { id }));
  const bytes = await readBlob(db, row.blobId);
  return inlineBytes(bytes, { name: `receipt-${id}.pdf`, type: 'application/pdf' });
}
