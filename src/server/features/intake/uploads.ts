/**
 * Files on their way in, part by part, as the tus protocol 1.0.0 has it: what came is kept,
 * whatever breaks off, and goes on from there.
 */
import { nowTold } from '@/messages/tell';
import { desc, eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import { appendBlob, createBlob, dropGrowing } from '@/server/platform/blobs/blob-store';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import type { Database, Executor } from '@/server/platform/db/database';
import { IntakeAbout } from './intake';
import { uploads } from './tables';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { UserError, notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { enqueue } from '@/server/platform/jobs/enqueue';
import { ThreadedHash } from '@/server/platform/threads/threaded-hash';
import { said } from '@/core/said';

/** Larger than any disc or disk that is kept here: 4 TiB. */
export const MAX_UPLOAD = 2 ** 42;
/** Bytes put away with one commit: what a break may cost. */
const PART = 8 << 20;
const LISTED = 20;

/** What stands in an upload's metadata. */
export const UploadMetadata = z.object({
  filename: z
    .string()
    .transform((text) => text.slice(-400) || 'unnamed')
    .default('unnamed'),
  code: z.string().max(60).nullable().default(null),
  set: z.string().trim().max(200).default(''),
  number: z.coerce.number().int().min(1).max(9999).nullable().default(null),
  cue: z.string().max(100_000).nullable().default(null),
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
async function hasComeWhole(tx: Executor, id: string, sha256: string | null = null): Promise<void> {
  const [whole] = await tx
    .update(uploads)
    .set({
      state: 'waiting',
      now: said('platform.waitingForAWorker'),
      about: sql`${uploads.about} || ${JSON.stringify({ sha256 })}::jsonb`,
    })
    .where(eq(uploads.id, id))
    .returning({ number: uploads.number });
  await announce(tx, { kind: 'uploads' });
  await enqueue(tx, 'intake', { uploadNumber: whole!.number });
}

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

async function uploadOf(db: Executor, id: string) {
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

/**
 * Takes bytes from `offset` on, each part committed as it comes; gives how far it is then. What
 * comes after a break is not lost.
 */
export async function appendPart(
  db: Database,
  id: string,
  offset: number,
  body: ReadableStream<Uint8Array> | null,
): Promise<number> {
  const { blobId, size, state } = await uploadOf(db, id);
  if (state !== 'coming' || !blobId) throw new UserError(said('intake.thisFileHasCome'), 409);
  let at = offset;
  let running = claimDigest(id, offset);
  const dropDigest = () => {
    running?.hash.drop();
    running = null;
  };
  const put = async (bytes: Uint8Array) => {
    await db.transaction(async (tx) => {
      const [row] = await tx
        .select({ state: uploads.state })
        .from(uploads)
        .where(eq(uploads.id, id))
        .for('update');
      if (row?.state !== 'coming') throw new UserError(said('intake.thisUploadWasGiven'), 410);
      const there = (await blobOf(tx, blobId)).size;
      if (there !== at) throw new UserError(said('intake.bytesAreHereThe', { there, at }), 409);
      if (at + bytes.length > size)
        throw new UserError(said('intake.moreBytesCameThan', { size }), 413);
      if (bytes.length > 0) await appendBlob(tx, blobId, bytes);
      await tx.update(uploads).set({ cameAt: new Date() }).where(eq(uploads.id, id));
      at += bytes.length;
      if (at < size) return;
      // Where all of it came through this process, it need not be read once more for its digest.
      const sha256 = running && running.offset === size ? await running.hash.digest() : null;
      await hasComeWhole(tx, id, sha256);
    });
  };
  let parts: Uint8Array[] = [];
  let waiting = 0;
  // One part is put away while the next one comes and is hashed.
  let putting: Promise<void> = Promise.resolve();
  const putNext = async () => {
    const bytes = Buffer.concat(parts);
    parts = [];
    waiting = 0;
    if (running) running.offset += bytes.length;
    const hashed = running?.hash.update(bytes);
    hashed?.catch(() => undefined);
    await putting;
    await hashed;
    putting = put(bytes);
    putting.catch(() => undefined);
  };
  const reader = body?.getReader();
  try {
    for (;;) {
      const { done, value } = (await reader?.read()) ?? { done: true as const, value: undefined };
      if (done) break;
      parts.push(value);
      waiting += value.length;
      if (waiting < PART) continue;
      await putNext();
    }
  } catch (error) {
    await reader?.cancel().catch(() => undefined);
    // What is hashed and not put away would make a digest of something else.
    dropDigest();
    if (error instanceof UserError) throw error;
    // The connection broke: what came before is put away.
    if (waiting > 0) await putNext();
    await putting;
    throw error;
  }
  try {
    if (waiting > 0) await putNext();
    await putting;
    // A body without bytes still shows whether the upload stands where it is thought to.
    if (at === offset) await put(new Uint8Array(0));
  } catch (error) {
    dropDigest();
    throw error;
  }
  if (running && at < size) keepDigest(id, running);
  return at;
}

interface RunningDigest {
  offset: number;
  hash: ThreadedHash;
}

/**
 * Of uploads that came through this process from their first byte on, between their requests; what
 * went on elsewhere is hashed from the store.
 */
const digests = new Map<string, RunningDigest>();
const MAX_DIGESTS = 64;

/**
 * The digest of all before `offset`, for the one request that goes on from there: two at once would
 * make a digest of both.
 */
function claimDigest(id: string, offset: number): RunningDigest | null {
  const kept = digests.get(id);
  digests.delete(id);
  if (kept && kept.offset === offset) return kept;
  kept?.hash.drop();
  return offset === 0 ? { offset: 0, hash: new ThreadedHash() } : null;
}

function keepDigest(id: string, running: RunningDigest): void {
  if (digests.size >= MAX_DIGESTS) forget(digests.keys().next().value!);
  forget(id);
  digests.set(id, running);
}

function forget(id: string): void {
  digests.get(id)?.hash.drop();
  digests.delete(id);
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
  forget(id);
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
