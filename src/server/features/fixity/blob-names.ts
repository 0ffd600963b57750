/** What the blobs of the store are to people: whose image, capture or paper a blob is. */
import { and, eq, inArray, or, type SQL } from 'drizzle-orm';
import { said, type Said } from '@/core/said';
import { blobs } from '@/server/platform/blobs/tables';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
import { cameBags } from '../bags/tables';
import { extracts } from '../extracts/tables';
import { uploads } from '../intake/tables';
import { attachments, media } from '../media/tables';
import { sittings } from '../sittings/tables';

interface BlobSpeaker {
  what: Said;
  mediumId: number | null;
  code: string | null;
  /** The copy that it is of, and whether it is its image. */
  copyId: number | null;
  isImage: boolean;
}

/**
 * The first thing that refers to a blob, what people look for first, of one medium where its number
 * is given; null where nothing does. Rows that were found to have the same bytes speak of it too.
 */
export async function speakerOfBlob(
  db: Executor,
  id: string,
  mediumId: number | null = null,
): Promise<BlobSpeaker | null> {
  const rows = await db
    .select({ id: blobs.id })
    .from(blobs)
    .where(or(eq(blobs.id, id), eq(blobs.sameAs, id)));
  const ids = rows.map((row) => row.id);
  const ofMedium = mediumId === null ? undefined : eq(media.id, mediumId);
  return (
    (await speakerInCopy(db, ids, ofMedium)) ??
    (await speakerInSitting(db, ids, ofMedium)) ??
    (await speakerInPapers(db, ids, ofMedium)) ??
    (mediumId === null ? await speakerElsewhere(db, ids) : undefined) ??
    null
  );
}

type Found = Promise<BlobSpeaker | undefined>;

async function speakerInCopy(db: Executor, ids: string[], ofMedium: SQL | undefined): Found {
  const { imageBlob, sidecarBlob, captureBlob } = fairCopies;
  const [row] = await db
    .select({ copyId: fairCopies.id, imageBlob, sidecarBlob, mediumId: media.id, code: media.code })
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(
      and(
        ofMedium,
        or(inArray(imageBlob, ids), inArray(sidecarBlob, ids), inArray(captureBlob, ids)),
      ),
    )
    .orderBy(fairCopies.id)
    .limit(1);
  if (!row) return undefined;
  const { code, mediumId, copyId } = row;
  const isImage = ids.includes(row.imageBlob);
  const what = isImage
    ? said('platform.storedImageOf', { code })
    : row.sidecarBlob && ids.includes(row.sidecarBlob)
      ? said('platform.storedSidecarOf', { code })
      : said('platform.storedCaptureOf', { code });
  return { what, mediumId, code, copyId, isImage };
}

async function speakerInSitting(db: Executor, ids: string[], ofMedium: SQL | undefined): Found {
  const [row] = await db
    .select({ mediumId: media.id, code: media.code })
    .from(sittings)
    .innerJoin(media, eq(media.id, sittings.mediumId))
    .where(and(ofMedium, inArray(sittings.captureBlob, ids)))
    .limit(1);
  return (
    row && {
      ...row,
      what: said('platform.storedCaptureOf', { code: row.code }),
      copyId: null,
      isImage: false,
    }
  );
}

async function speakerInPapers(db: Executor, ids: string[], ofMedium: SQL | undefined): Found {
  const [paper] = await db
    .select({
      name: attachments.name,
      set: attachments.setName,
      lot: attachments.lotName,
      mediumId: media.id,
      code: media.code,
    })
    .from(attachments)
    .leftJoin(media, eq(media.id, attachments.mediumId))
    .where(and(ofMedium, inArray(attachments.blobId, ids)))
    .limit(1);
  if (!paper) return undefined;
  const { name, set, lot, mediumId, code } = paper;
  const what = said('platform.storedPaperOf', { name, code: code ?? set ?? lot ?? '' });
  return { what, mediumId, code, copyId: null, isImage: false };
}

async function speakerElsewhere(db: Executor, ids: string[]): Found {
  const nobody = { mediumId: null, code: null, copyId: null, isImage: false };
  const [extract] = await db
    .select({ id: extracts.id })
    .from(extracts)
    .where(inArray(extracts.blobId, ids))
    .limit(1);
  if (extract) return { ...nobody, what: said('platform.storedExtract', { id: extract.id }) };
  const [upload] = await db
    .select({ name: uploads.name })
    .from(uploads)
    .where(inArray(uploads.blobId, ids))
    .limit(1);
  if (upload) return { ...nobody, what: said('platform.storedUpload', { name: upload.name }) };
  const [bag] = await db
    .select({ name: cameBags.name })
    .from(cameBags)
    .where(inArray(cameBags.blobId, ids))
    .limit(1);
  return bag && { ...nobody, what: said('platform.storedBag', { name: bag.name }) };
}

export const nameOfBlob = async (db: Executor, id: string): Promise<Said | null> =>
  (await speakerOfBlob(db, id))?.what ?? null;
