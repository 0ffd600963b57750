/** Whose bytes something has: what is held of these must not leave. None of what there is not. */
import { eq, inArray } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies, files, volumes } from '../copies/tables';
import { extracts } from '../extracts/tables';
import { cards } from '../memory-cards/tables';
import { sittings } from '../sittings/tables';

const numbersIn = (rows: { mediumId: number }[]): number[] => rows.map(({ mediumId }) => mediumId);

export const mediaOfCopies = async (db: Executor, copyIds: readonly number[]): Promise<number[]> =>
  numbersIn(
    await db
      .selectDistinct({ mediumId: fairCopies.mediumId })
      .from(fairCopies)
      .where(inArray(fairCopies.id, [...copyIds])),
  );

export const mediaOfFile = async (db: Executor, fileId: number): Promise<number[]> =>
  numbersIn(
    await db
      .select({ mediumId: fairCopies.mediumId })
      .from(files)
      .innerJoin(volumes, eq(volumes.id, files.volumeId))
      .innerJoin(fairCopies, eq(fairCopies.id, volumes.fairCopyId))
      .where(eq(files.id, fileId)),
  );

export const mediaOfSitting = async (db: Executor, sittingId: number): Promise<number[]> =>
  numbersIn(
    await db
      .select({ mediumId: sittings.mediumId })
      .from(sittings)
      .where(eq(sittings.id, sittingId)),
  );

export async function mediaOfExtract(db: Executor, extractId: number): Promise<number[]> {
  const [row] = await db
    .select({ copyIds: extracts.fairCopyIds })
    .from(extracts)
    .where(eq(extracts.id, extractId));
  return mediaOfCopies(db, row?.copyIds ?? []);
}

export async function mediaOfCard(db: Executor, cardId: number): Promise<number[]> {
  const [row] = await db.select({ images: cards.images }).from(cards).where(eq(cards.id, cardId));
  return mediaOfCopies(
    db,
    (row?.images ?? []).map(({ copyId }) => copyId),
  );
}
