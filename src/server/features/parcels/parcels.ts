/** Parcels: made of a choice of media for somebody, sent as often as asked for, never changed. */
import { asc, desc, eq, inArray, sql } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import type { z } from 'zod';
import { said } from '@/core/said';
import { blobs } from '@/server/platform/blobs/tables';
import type { Database, Executor } from '@/server/platform/db/database';
import { notFound, UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { fairCopies } from '../copies/tables';
import { note } from '../ledger/ledger';
import { media } from '../media/tables';
import { mediumByCode } from '../media/media';
import { operators } from '../operators/tables';
import { mayLeaveOf, refuseHeld } from '../rights/holds';
import { mediaOfCopies } from '../rights/media-of';
import { findings } from '../signatures/tables';
import { MAX_PARCEL_MEDIA, type NewParcel, type ParcelChoice } from './new-parcel';
import { parcelMedia, parcels, parcelSendings } from './tables';

const MAX_TOLD = 6;
/** Parcels listed, newest first. */
const MAX_LISTED = 200;

async function mediaOfCodes(tx: Executor, codes: readonly string[]): Promise<number[]> {
  const ids = new Set<number>();
  for (const code of codes) ids.add((await mediumByCode(tx, code)).id);
  return [...ids];
}

async function mediaChosen(tx: Executor, of: z.output<typeof ParcelChoice>): Promise<number[]> {
  if ('codes' in of) return mediaOfCodes(tx, of.codes);
  if ('copies' in of) return mediaOfCopies(tx, of.copies);
  // Whoever asks was told how many stay.
  const named = 'lot' in of ? eq(media.lot, of.lot) : eq(media.setName, of.set);
  const { mediumIds } = await mayLeaveOf(tx, named);
  if (mediumIds.length > MAX_PARCEL_MEDIA)
    throw new UserError(said('parcels.tooMany', { limit: MAX_PARCEL_MEDIA }), 422);
  return mediumIds;
}

async function refuseQuarantinedMedia(tx: Executor, mediumIds: readonly number[]): Promise<void> {
  const found = await tx
    .selectDistinct({ code: media.code })
    .from(findings)
    .innerJoin(fairCopies, eq(fairCopies.id, findings.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(inArray(media.id, [...mediumIds]));
  if (found.length === 0) return;
  const codes = found.slice(0, MAX_TOLD).map(({ code }) => code);
  throw new UserError(
    said('extracts.areInQuarantineNothing', { held: found.length, codes }),
    409,
    null,
    { code: 'in-quarantine' },
  );
}

/** Throws UserError: 404 of a code there is none of, 403 of what is held, 409 of quarantine. */
export async function makeParcel(
  db: Database,
  operatorId: number,
  { of, ...wanted }: z.output<typeof NewParcel>,
): Promise<{ id: number }> {
  return db.transaction(async (tx) => {
    const mediumIds = await mediaChosen(tx, of);
    if (mediumIds.length === 0) throw new UserError(said('parcels.noMedia'), 422);
    await refuseHeld(tx, mediumIds, operatorId);
    if (!wanted.acknowledgesQuarantine) await refuseQuarantinedMedia(tx, mediumIds);
    const [row] = await tx
      .insert(parcels)
      .values({ ...wanted, madeBy: operatorId })
      .returning({ id: parcels.id });
    const { id } = row!;
    await tx.insert(parcelMedia).values(mediumIds.map((mediumId) => ({ parcelId: id, mediumId })));
    await note(tx, {
      operatorId,
      kind: 'parcel',
      what: said('parcels.made', {
        ...{ id, title: wanted.title, recipient: wanted.recipient, media: mediumIds.length },
      }),
    });
    await announce(tx, { kind: 'parcels' });
    return { id };
  });
}

/** Throws UserError, 404, where there is none. */
export async function parcelOf(db: Executor, id: number) {
  const [parcel] = await db.select().from(parcels).where(eq(parcels.id, id));
  if (!parcel) throw notFound(said('parcels.parcel', { id }));
  return parcel;
}

/** Its media in the order of their codes; of one that was merged since, the one that stays. */
export function mediaOfParcel(db: Executor, id: number) {
  const chosen = alias(media, 'chosen');
  const ids = db
    .select({ id: sql<number>`coalesce(${chosen.mergedIntoId}, ${chosen.id})` })
    .from(parcelMedia)
    .innerJoin(chosen, eq(chosen.id, parcelMedia.mediumId))
    .where(eq(parcelMedia.parcelId, id));
  return db.select().from(media).where(inArray(media.id, ids)).orderBy(asc(media.code));
}

/** What the images and captures of a parcel's media take: nearly all of it. */
const bytesOfParcel = sql<number>`(select coalesce(sum(i.size
    + case when ${parcels.withFlux} then coalesce(f.size, 0) else 0 end
    + case when ${parcels.withFiles} then i.size else 0 end), 0)::float8
  from parcel_media pm
  join lateral (select c.image_blob, c.capture_blob from ${fairCopies} c
    where c.medium_id = pm.medium_id order by c.id desc limit 1) newest on true
  join ${blobs} i on i.id = newest.image_blob
  left join ${blobs} f on f.id = newest.capture_blob
  where pm.parcel_id = parcels.id)`;

/** Bytes a second that parcels went at last; null before the first. */
async function rateOfSendings(db: Executor): Promise<number | null> {
  const { rows } = await db.execute<{ rate: number | null }>(sql`
    select sum(bytes) / nullif(sum(seconds), 0)::float8 as rate
    from (select bytes, seconds from parcel_sendings order by id desc limit 5) last`);
  return rows[0]?.rate ?? null;
}

export async function listParcels(db: Executor) {
  const rows = await db
    .select({
      id: parcels.id,
      title: parcels.title,
      recipient: parcels.recipient,
      notes: parcels.notes,
      withFlux: parcels.withFlux,
      withFiles: parcels.withFiles,
      who: operators.name,
      madeAt: parcels.madeAt,
      codes: sql<
        string[]
      >`array(select m.code from parcel_media pm join media m on m.id = pm.medium_id
        where pm.parcel_id = parcels.id order by m.code limit ${MAX_TOLD})`,
      media: sql<number>`(select count(*)::int from parcel_media pm where pm.parcel_id = parcels.id)`,
      bytes: bytesOfParcel,
    })
    .from(parcels)
    .innerJoin(operators, eq(operators.id, parcels.madeBy))
    .orderBy(desc(parcels.id))
    .limit(MAX_LISTED);
  const sendings = await sendingsOf(
    db,
    rows.map(({ id }) => id),
  );
  return {
    bytesPerSecond: await rateOfSendings(db),
    parcels: rows.map((row) => ({
      ...row,
      sendings: sendings.filter(({ parcelId }) => parcelId === row.id),
    })),
  };
}

const sendingsOf = (db: Executor, ids: readonly number[]) =>
  db
    .select({
      id: parcelSendings.id,
      parcelId: parcelSendings.parcelId,
      who: operators.name,
      sentAt: parcelSendings.sentAt,
      bytes: parcelSendings.bytes,
      files: parcelSendings.files,
      manifestSha256: parcelSendings.manifestSha256,
    })
    .from(parcelSendings)
    .innerJoin(operators, eq(operators.id, parcelSendings.sentBy))
    .where(inArray(parcelSendings.parcelId, [...ids]))
    .orderBy(desc(parcelSendings.id));
