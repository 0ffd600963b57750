/** The pages of lots and of sets: what is registered and said of one, its papers, and its media. */
import { and, asc, count, eq, sql, type SQL } from 'drizzle-orm';
import { said } from '@/core/said';
import type { Executor } from '@/server/platform/db/database';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { notFound } from '@/server/platform/errors';
import type { ReceiptKind } from '@/server/states';
import { folderOfLot } from '../folders/folders';
import { isInUse } from '../media/in-use';
import { isRead } from '../media/is-read';
import { papersOf } from '../media/papers';
import { setOf } from '../media/sets';
import { lots, media } from '../media/tables';
import { mayLeaveOf } from '../rights/holds';
import { rightsOf } from '../rights/rights';
import { descriptionOf, type RecordKind } from './descriptions';

/** Media listed on a page. */
const MAX_LISTED = 500;

export async function mediaOf(db: Executor, named: SQL) {
  const condition = and(isInUse, named);
  const [counts] = await db
    .select({ all: count(), read: sql<number>`(count(*) filter (where ${isRead}))::int` })
    .from(media)
    .where(condition);
  const rows = await db
    .select({
      code: media.code,
      form: media.form,
      title: media.title,
      setNumber: media.setNumber,
      lender: media.lender,
      isRead,
      out: sql<ReceiptKind | null>`(select r.kind from media_out o join receipts r on r.id = o.receipt_id
        where o.medium_id = media.id)`,
    })
    .from(media)
    .where(condition)
    .orderBy(asc(media.setNumber), asc(media.code))
    .limit(MAX_LISTED);
  return { ...counts!, rows };
}

async function lotRecord(db: Executor, name: string) {
  const [lot] = await db.select().from(lots).where(eq(lots.name, name));
  if (!lot) throw notFound(said('media.lot', { name }));
  const [folder, description, rights, papers, own, { stays }] = await Promise.all([
    folderOfLot(db, name),
    descriptionOf(db, 'lots', name),
    rightsOf(db, 'lots', name),
    papersOf(db, { lotName: name }),
    mediaOf(db, eq(media.lot, name)),
    mayLeaveOf(db, eq(media.lot, name)),
  ]);
  return {
    ...{ kind: 'lots' as const, name, lot, folder },
    ...{ description, rights, papers, media: own, stays },
  };
}

async function setRecord(db: Executor, name: string) {
  const set = await setOf(db, name);
  if (!set) throw notFound(said('media.set2', { name }));
  const [description, rights, papers, own, { stays }] = await Promise.all([
    descriptionOf(db, 'sets', name),
    rightsOf(db, 'sets', name),
    papersOf(db, { setName: name }),
    mediaOf(db, eq(media.setName, name)),
    mayLeaveOf(db, eq(media.setName, name)),
  ]);
  const { members, missing } = set;
  return {
    kind: 'sets' as const,
    name,
    members,
    missing,
    description,
    rights,
    papers,
    media: own,
    stays,
  };
}

/** Throws UserError, 404, where there is none of that name. */
export function recordPage(db: Executor, kind: RecordKind, asked: string) {
  const name = sanitizeText(asked);
  return kind === 'lots' ? lotRecord(db, name) : setRecord(db, name);
}
