/** Files, and stretches of images, heard as they lie: their bytes, and how a person set them. */
import { and, eq, isNull } from 'drizzle-orm';
import { z } from 'zod';
import { RawSettings } from '@/core/sound/raw-sound';
import { said } from '@/core/said';
import { blobSource } from '@/server/platform/blobs/read-blob';
import type { Database, Executor } from '@/server/platform/db/database';
import { UserError, notFound } from '@/server/platform/errors';
import { downloadBytes } from '@/server/platform/http/respond';
import { LISTEN_BYTES, findFile } from '../copies/downloads';
import { fairCopies } from '../copies/tables';
import { refuseQuarantined } from '../signatures/signatures';
import { rawHearings } from './tables';

const place = z.coerce.number().int().min(0).max(Number.MAX_SAFE_INTEGER);

export const Stretch = z.object({ from: place, length: place.min(1) });

/** A file by its row, or a stretch of the image. */
export const HearingPlace = z.union([
  z.object({
    file: z.coerce
      .number()
      .int()
      .min(1)
      .max(2 ** 31 - 1),
  }),
  Stretch,
]);
type HearingPlace = z.output<typeof HearingPlace>;

export const KeptHearing = z.object({ place: HearingPlace, settings: RawSettings });

async function copyOf(db: Executor, id: number) {
  const [copy] = await db.select().from(fairCopies).where(eq(fairCopies.id, id));
  if (!copy) throw notFound(said('platform.suchFairCopy'));
  return copy;
}

/** The place as its row has it, with what it is called; refuses what is not on the copy. */
async function placed(db: Database, copyId: number, at: HearingPlace) {
  if ('file' in at) {
    const { file, copyId: own } = await findFile(db, at.file);
    if (own !== copyId) throw notFound(said('platform.suchFile'));
    return { fileId: file.id, from: 0, length: file.bytes, name: file.path };
  }
  const { imageBytes } = await copyOf(db, copyId);
  const { from } = at;
  const length = Math.min(at.length, imageBytes - from);
  if (length <= 0) throw new UserError(said('sound.liesBehindTheImage', { from, imageBytes }), 422);
  return { fileId: null, from, length, name: null };
}

type Placed = Awaited<ReturnType<typeof placed>>;

const isThere = (copyId: number, { fileId, from, length }: Placed) =>
  and(
    eq(rawHearings.fairCopyId, copyId),
    fileId === null ? isNull(rawHearings.fileId) : eq(rawHearings.fileId, fileId),
    eq(rawHearings.from, from),
    eq(rawHearings.length, length),
  );

/** What is heard, and as it was set last; `settings` null where nobody did. */
export async function hearingOf(db: Database, copyId: number, at: HearingPlace) {
  const found = await placed(db, copyId, at);
  const [kept] = await db.select().from(rawHearings).where(isThere(copyId, found));
  return { ...found, settings: kept?.settings ?? null };
}

export async function keepHearing(
  db: Database,
  operatorId: number,
  copyId: number,
  { place: at, settings }: z.output<typeof KeptHearing>,
): Promise<void> {
  const { fileId, from, length } = await placed(db, copyId, at);
  const values = { settings, setBy: operatorId, setAt: new Date() };
  await db
    .insert(rawHearings)
    .values({ fairCopyId: copyId, fileId, from, length, ...values })
    .onConflictDoUpdate({
      target: [rawHearings.fairCopyId, rawHearings.fileId, rawHearings.from, rawHearings.length],
      set: values,
    });
}

/** The bytes of a stretch of an image, to be heard: all of them, so that quarantine holds for it. */
export async function stretchOf(
  db: Database,
  copyId: number,
  at: z.output<typeof Stretch>,
): Promise<Response> {
  const { imageBlob } = await copyOf(db, copyId);
  await refuseQuarantined(db, copyId, false);
  const { from, length } = await placed(db, copyId, at);
  if (length > LISTEN_BYTES) throw new UserError(said('copies.isTooLongToHear'), 413);
  const source = await blobSource(db, imageBlob);
  return downloadBytes(await source.read(from, length), 'stretch.bin');
}
