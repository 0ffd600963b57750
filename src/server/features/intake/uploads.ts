/**
 * Files on their way in, part by part, as the tus protocol 1.0.0 has it: what came is kept,
 * whatever breaks off, and goes on from there.
 */
import { nowTold } from '@/messages/tell';
import { desc, eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import { appendBlob, createBlob, dropGrowing } from '@/server/platform/blobs/blob-store';
import { refuseWithoutRoom } from '@/server/platform/blobs/store-room';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import type { Database, Executor } from '@/server/platform/db/database';
import { IntakeAbout } from './intake';
import { uploads } from './tables';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { UserError, notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { enqueue } from '@/server/platform/jobs/enqueue';
import { forgetDigest } from './running-digests';
import { said } from '@/core/said';

/** Larger than any disc or disk that is kept here: 4 TiB. */
export const MAX_UPLOAD = 2 ** 42;
const LISTED = 20;

/** What stands in an upload's metadata. */
export const UploadMetadata = IntakeAbout.omit({ name: true }).extend({
  filename: IntakeAbout.shape.name,
});

/** `key base64,key base64`, as the protocol has it. */
export function parseMetadata(header: string | null): Record<string, string> {
  const pairs = (header ?? '')
    .split(',')
    .map((each) => each.trim().split(' '))
    .filter(([key]) => key);
  return Object.fromEntries(
    pairs.map(([key, value]) => [key!, Buffer.from(value ?? '', 'base64').toString('utf8')]),
  );
}

export async function createUpload(
  db: Database,
  operatorId: number,
  size: number,
  metadata: z.input<typeof UploadMetadata>,
): Promise<string> {
  const { filename, ...about } = UploadMetadata.parse(metadata);
  refuseSize(size, filename);
  await refuseWithoutRoom(size);
  return db.transaction(async (tx) => {
    const blobId = await createBlob(tx);
    const [row] = await tx
      .insert(uploads)
      .values({
        blobId,
        name: sanitizeText(filename),
        size,
        about: {
          ...about,
          sha256: null,
          set: sanitizeText(about.set),
          lender: sanitizeText(about.lender),
          lot: sanitizeText(about.lot),
          cue: about.cue === null ? null : sanitizeText(about.cue),
        },
        state: 'coming',
        startedBy: operatorId,
      })
      .returning({ id: uploads.id });
    await announce(tx, { kind: 'uploads' });
    return row!.id;
  });
}

function refuseSize(size: number, filename: string) {
  if (!Number.isSafeInteger(size) || size < 0)
    throw new UserError(said('intake.sayHowLongThe'), 400);
  if (size > MAX_UPLOAD)
    throw new UserError(
      said('intake.isLargerThanAnything', { filename: sanitizeText(filename) }),
      413,
    );
  if (size === 0)
    throw new UserError(
      said('intake.isEmptyNothingWasTaken', { filename: sanitizeText(filename) }),
      422,
    );
}

/** Takes a small file that came with one request; a worker looks at it. */
export async function receiveWhole(
  db: Database,
  operatorId: number,
  input: z.input<typeof IntakeAbout>,
  bytes: Uint8Array,
): Promise<{ id: string }> {
  const { name, ...about } = IntakeAbout.parse(input);
  const id = await createUpload(db, operatorId, bytes.length, { filename: name, ...about });
  await db.transaction(async (tx) => {
    const { blobId } = await uploadOf(tx, id);
    await appendBlob(tx, blobId!, bytes);
    await hasComeWhole(tx, id);
  });
  return { id };
}

/** All of it is here: a worker is asked to take it in. */
export async function hasComeWhole(
  tx: Executor,
  id: string,
  sha256: string | null = null,
): Promise<void> {
  const [whole] = await tx
    .update(uploads)
    .set({
      state: 'waiting',
      now: said('platform.waitingForAWorker'),
      about: sql`${uploads.about} || ${JSON.stringify({ sha256 })}::jsonb`,
    })
    .where(eq(uploads.id, id))
    .returning({ number: uploads.number, askedBy: uploads.startedBy });
  await announce(tx, { kind: 'uploads' });
  const { number, askedBy } = whole!;
  await enqueue(tx, 'intake', { uploadNumber: number }, { askedBy });
}

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

export async function uploadOf(db: Executor, id: string) {
  const [row] = UUID.test(id) ? await db.select().from(uploads).where(eq(uploads.id, id)) : [];
  if (!row) throw notFound(said('intake.suchUploadItWas'));
  return row;
}

/** How far it has come. */
export async function uploadOffset(
  db: Executor,
  id: string,
): Promise<{ offset: number; size: number }> {
  const { blobId, size, state } = await uploadOf(db, id);
  return { size, offset: state !== 'coming' || !blobId ? size : (await blobOf(db, blobId)).size };
}

/** Gives an upload up, with what came of it. */
export async function giveUpUpload(db: Database, id: string): Promise<void> {
  await db.transaction(async (tx) => {
    const row = await uploadOf(tx, id);
    if (row.state !== 'coming') throw new UserError(said('intake.itHasComeWhole'), 409);
    await tx.delete(uploads).where(eq(uploads.id, id));
    if (row.blobId) await dropGrowing(tx, row.blobId);
    await announce(tx, { kind: 'uploads' });
  });
  forgetDigest(id);
}

/** Those under way, and the last ones that ended. */
export async function listUploads(db: Executor) {
  const rows = await db
    .select({
      id: uploads.id,
      name: uploads.name,
      size: uploads.size,
      state: uploads.state,
      now: uploads.now,
      code: uploads.code,
      startedAt: uploads.startedAt,
    })
    .from(uploads)
    .orderBy(desc(uploads.number))
    .limit(LISTED);
  return rows.map(nowTold);
}

export async function uploadState(db: Executor, id: string) {
  const { name, size, state, now, code, kind } = nowTold(await uploadOf(db, id));
  return { id, name, size, state, now, code, kind };
}
