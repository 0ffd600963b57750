/**
 * Takes in a file that has come whole, part by part: its digest, what it is, its volumes and files.
 */
import { and, eq, inArray } from 'drizzle-orm';
import { digestOfBlob, dropGrowing, sealBlob } from '@/server/platform/blobs/blob-store';
import { uploads } from './tables';
import { saidOf, UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { isTakenUpAgain, type JobContext, type JobOutcome } from '@/server/platform/jobs/engine';
import type { StoredImage } from '@/server/platform/blobs/store-source';
import { takeInBag } from '../bags/take-in-bag';
import { examineFile, keepFile } from './intake';
import { said, type Said } from '@/core/said';
import { UNWATCHED } from '../copies/settling/watched-decode';

/** Nothing of it is kept: it can be sent again. */
export const giveUpIntake = (
  { commit, payload: { uploadNumber: number } }: JobContext<'intake'>,
  now: Said,
): Promise<void> =>
  commit(async (tx) => {
    const [before] = await tx
      .select({ blobId: uploads.blobId })
      .from(uploads)
      .where(and(eq(uploads.number, number), inArray(uploads.state, ['waiting', 'taking-in'])));
    if (!before) return;
    await tx
      .update(uploads)
      .set({ state: 'refused', now, blobId: null })
      .where(eq(uploads.number, number));
    if (before.blobId) await dropGrowing(tx, before.blobId);
    await announce(tx, { kind: 'uploads' });
  });

/** A bag holds media of its own; what is sent as a copy of one medium is looked at as that. */
async function isTakenInAsBag(
  { db, signal, commit }: JobContext<'intake'>,
  { number, name, about, startedBy }: typeof uploads.$inferSelect,
  stored: StoredImage,
  tell: (now: Said) => Promise<void>,
): Promise<boolean> {
  if (about.code !== null) return false;
  const { lender = '', lot = '' } = about;
  const came = { uploadNumber: number, name, operatorId: startedBy, lender, lot };
  return takeInBag(
    {
      ...{ db, signal, commit, tell },
      async ended(tx, taken) {
        const now = said('bags.takenIn', { ...taken });
        await tx
          .update(uploads)
          .set({ state: 'done', now, kind: 'bag', blobId: null })
          .where(eq(uploads.number, number));
        await announce(tx, { kind: 'uploads' });
      },
    },
    stored,
    came,
  );
}

export async function runIntake(context: JobContext<'intake'>): Promise<JobOutcome> {
  const { db, commit, signal, payload } = context;
  const { uploadNumber: number } = payload;
  const [row] = await db.select().from(uploads).where(eq(uploads.number, number));
  if (!row?.blobId || (row.state !== 'waiting' && row.state !== 'taking-in')) return 'done';
  const { blobId, name, about, startedBy } = row;
  const set = (values: Partial<typeof uploads.$inferInsert>) =>
    commit(async (tx) => {
      await tx.update(uploads).set(values).where(eq(uploads.number, number));
      await announce(tx, { kind: 'uploads' });
    });
  await set({ state: 'taking-in', now: said('intake.lookingAtWhatIt') });
  try {
    const sha256 = about.sha256 ?? (await digestOfBlob(db, blobId));
    const stored = { blobId, size: row.size, sha256 };
    if (await isTakenInAsBag(context, row, stored, (now) => set({ now }))) return 'done';
    const file = await examineFile(db, { name, ...about }, stored, {
      ...UNWATCHED,
      signal,
      tell: (progress) => set({ now: said('copies.hurtTracksRead', progress) }),
    });
    await commit(async (tx) => {
      await sealBlob(tx, blobId, sha256);
      const { code, kind } = await keepFile(tx, startedBy, file);
      await tx
        .update(uploads)
        .set({ state: 'done', now: said('intake.takenInAs', { code }), code, kind })
        .where(eq(uploads.number, number));
      await announce(tx, { kind: 'uploads' });
    });
  } catch (error) {
    if (isTakenUpAgain(error, signal)) throw error;
    const now = saidOf(error, (message) => said('intake.itCouldNotBe', { message }));
    await giveUpIntake(context, now);
    if (!(error instanceof UserError)) throw error;
  }
  return 'done';
}
