/** What the blobs of the store are to people: whose image, capture or paper a blob is. */
import { eq, or } from 'drizzle-orm';
import { said, type Said } from '@/core/said';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
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

/** The first thing that refers to a blob, what people look for first; null where nothing does. */
export async function speakerOfBlob(db: Executor, id: string): Promise<BlobSpeaker | null> {
  return (
    (await speakerInCopy(db, id)) ??
    (await speakerInSitting(db, id)) ??
    (await speakerElsewhere(db, id)) ??
    null
  );
}

async function speakerInCopy(db: Executor, id: string): Promise<BlobSpeaker | undefined> {
  const { imageBlob, sidecarBlob, captureBlob } = fairCopies;
  const [row] = await db
    .select({ copyId: fairCopies.id, imageBlob, sidecarBlob, mediumId: media.id, code: media.code })
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(or(eq(imageBlob, id), eq(sidecarBlob, id), eq(captureBlob, id)))
    .orderBy(fairCopies.id)
    .limit(1);
  if (!row) return undefined;
  const { code, mediumId, copyId } = row;
  const what =
    row.imageBlob === id
      ? said('platform.storedImageOf', { code })
      : row.sidecarBlob === id
        ? said('platform.storedSidecarOf', { code })
        : said('platform.storedCaptureOf', { code });
  return { what, mediumId, code, copyId, isImage: row.imageBlob === id };
}

async function speakerInSitting(db: Executor, id: string): Promise<BlobSpeaker | undefined> {
  const [row] = await db
    .select({ mediumId: media.id, code: media.code })
    .from(sittings)
    .innerJoin(media, eq(media.id, sittings.mediumId))
    .where(eq(sittings.captureBlob, id))
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

async function speakerElsewhere(db: Executor, id: string): Promise<BlobSpeaker | undefined> {
  const [paper] = await db
    .select({
      name: attachments.name,
      set: attachments.setName,
      mediumId: media.id,
      code: media.code,
    })
    .from(attachments)
    .leftJoin(media, eq(media.id, attachments.mediumId))
    .where(eq(attachments.blobId, id))
    .limit(1);
  if (paper) {
    const { name, set, mediumId, code } = paper;
    const what = said('platform.storedPaperOf', { name, code: code ?? set ?? '' });
    return { what, mediumId, code, copyId: null, isImage: false };
  }
  const nobody = { mediumId: null, code: null, copyId: null, isImage: false };
  const [extract] = await db
    .select({ id: extracts.id })
    .from(extracts)
    .where(eq(extracts.blobId, id))
    .limit(1);
  if (extract) return { ...nobody, what: said('platform.storedExtract', { id: extract.id }) };
  const [upload] = await db
    .select({ name: uploads.name })
    .from(uploads)
    .where(eq(uploads.blobId, id))
    .limit(1);
  return upload && { ...nobody, what: said('platform.storedUpload', { name: upload.name }) };
}

export const nameOfBlob = async (db: Executor, id: string): Promise<Said | null> =>
  (await speakerOfBlob(db, id))?.what ?? null;
