/**
 * Bytes in chunks of 256 KiB in PostgreSQL, committed with the rows that refer to them. A blob
 * grows while it is read;
 * sealing it fixes its SHA-256, or points to the blob that has the same bytes already. An
 * interface, so that another
 * store can take the bytes when an archive outgrows one machine.
 */
import { createHash } from 'node:crypto';
import { and, asc, eq, gte, lt, sql } from 'drizzle-orm';
import { piecewiseSource, type ByteSource } from '@/core/bits/byte-source';
import type { Executor } from '../db/database';
import { digestOfStream } from '../threads/threaded-hash';
import { copyIn, copyOut, rowsOfCopy } from '../db/raw-client';
import { blobChunks, blobs } from './tables';

const CHUNK_BYTES = 256 * 1024;
/** Chunks fetched at a time while streaming. */
const FETCH = 16;
/** From this many on they come and go as copy streams, which are faster than rows. */
const COPY_FROM = 3;

interface Blob {
  id: string;
  size: number;
  sparse: boolean;
  sha256: string | null;
}

/** The stored bytes are not what they were when they were sealed. */
class BlobDamaged extends Error {}

export async function createBlob(tx: Executor): Promise<string> {
  const [row] = await tx.insert(blobs).values({ state: 'growing' }).returning({ id: blobs.id });
  return row!.id;
}

/** Adds bytes at the end of a growing blob; gives the offset at which they start. */
export async function appendBlob(tx: Executor, id: string, bytes: Uint8Array): Promise<number> {
  const [row] = await tx.select().from(blobs).where(eq(blobs.id, id)).for('update');
  if (row?.state !== 'growing') throw new Error(`blob ${id} is not growing`);
  const start = row.size;
  let done = 0;
  const inLast = start % CHUNK_BYTES;
  if (inLast > 0) {
    done = Math.min(bytes.length, CHUNK_BYTES - inLast);
    const more = Buffer.from(bytes.subarray(0, done));
    await tx
      .update(blobChunks)
      .set({ bytes: sql`${blobChunks.bytes} || ${more}` })
      .where(and(eq(blobChunks.blobId, id), eq(blobChunks.seq, Math.floor(start / CHUNK_BYTES))));
  }
  await insertChunks(tx, id, start + done, bytes.subarray(done));
  await tx
    .update(blobs)
    .set({ size: start + bytes.length })
    .where(eq(blobs.id, id));
  return start;
}

function chunksOf(
  blobId: string,
  start: number,
  bytes: Uint8Array,
): (typeof blobChunks.$inferInsert)[] {
  const first = Math.floor(start / CHUNK_BYTES);
  return Array.from({ length: Math.ceil(bytes.length / CHUNK_BYTES) }, (_, i) => ({
    blobId,
    seq: first + i,
    bytes: bytes.subarray(i * CHUNK_BYTES, (i + 1) * CHUNK_BYTES),
  }));
}

/** New chunks from `start`, where one begins, on. */
async function insertChunks(
  tx: Executor,
  id: string,
  start: number,
  bytes: Uint8Array,
): Promise<void> {
  if (bytes.length < COPY_FROM * CHUNK_BYTES) {
    if (bytes.length > 0) await tx.insert(blobChunks).values(chunksOf(id, start, bytes));
    return;
  }
  const uuid = Buffer.from(id.replaceAll('-', ''), 'hex');
  await copyIn(
    tx,
    'copy blob_chunks (blob_id, seq, bytes)',
    chunksOf(id, start, bytes).map(({ seq, bytes: chunk }) => {
      const number = Buffer.alloc(4);
      number.writeInt32BE(seq);
      return [uuid, number, chunk];
    }),
  );
}

/** A growing blob of a size that is known before, written anywhere; zeros until then. */
export async function createSparseBlob(tx: Executor, size: number): Promise<string> {
  const [row] = await tx
    .insert(blobs)
    .values({ state: 'growing', sparse: true, size })
    .returning({ id: blobs.id });
  return row!.id;
}

/** Writes bytes into a sparse blob that still grows. What was there is replaced. */
export async function writeBlob(
  tx: Executor,
  id: string,
  offset: number,
  bytes: Uint8Array,
): Promise<void> {
  const [row] = await tx.select().from(blobs).where(eq(blobs.id, id)).for('update');
  if (row?.state !== 'growing' || !row.sparse) throw new Error(`blob ${id} can't be written into`);
  if (offset < 0 || offset + bytes.length > row.size)
    throw new RangeError(`${bytes.length} bytes at ${offset} of a blob of ${row.size}`);
  for (let done = 0; done < bytes.length;) {
    const at = offset + done;
    const seq = Math.floor(at / CHUNK_BYTES);
    const within = at - seq * CHUNK_BYTES;
    const chunkBytes = Math.min(CHUNK_BYTES, row.size - seq * CHUNK_BYTES);
    const whole = Math.floor((bytes.length - done) / CHUNK_BYTES);
    if (within === 0 && whole > 0) {
      // What stands there goes: whole chunks come in its place.
      await tx
        .delete(blobChunks)
        .where(
          and(eq(blobChunks.blobId, id), gte(blobChunks.seq, seq), lt(blobChunks.seq, seq + whole)),
        );
      await insertChunks(tx, id, at, bytes.subarray(done, done + whole * CHUNK_BYTES));
      done += whole * CHUNK_BYTES;
      continue;
    }
    const part = bytes.subarray(done, done + chunkBytes - within);
    const [before] =
      part.length === chunkBytes
        ? []
        : await tx
            .select({ bytes: blobChunks.bytes })
            .from(blobChunks)
            .where(and(eq(blobChunks.blobId, id), eq(blobChunks.seq, seq)));
    const chunk = new Uint8Array(chunkBytes);
    if (before) chunk.set(before.bytes);
    chunk.set(part, within);
    await tx
      .insert(blobChunks)
      .values({ blobId: id, seq, bytes: chunk })
      .onConflictDoUpdate({
        target: [blobChunks.blobId, blobChunks.seq],
        set: { bytes: sql`excluded.bytes` },
      });
    done += part.length;
  }
}

/** Long ones on a thread: what is short is done before that has begun. */
const THREADED_FROM = 4 << 20;

async function digestOfBlob(tx: Executor, id: string): Promise<string> {
  if ((await blobOf(tx, id)).size >= THREADED_FROM) return digestOfStream(streamBlob(tx, id));
  const hash = createHash('sha256');
  for await (const chunk of streamBlob(tx, id)) hash.update(chunk);
  return hash.digest('hex');
}

/**
 * Fixes a blob's digest, which is `known` where every byte was hashed as it came; where the same
 * bytes are held already, its own go and it points there.
 */
export async function sealBlob(
  tx: Executor,
  id: string,
  known: string | null = null,
): Promise<Blob> {
  const sha256 = known ?? (await digestOfBlob(tx, id));
  const [twin] = await tx
    .select({ id: blobs.id })
    .from(blobs)
    .where(and(eq(blobs.sha256, sha256), eq(blobs.state, 'sealed')));
  if (twin) {
    await tx.delete(blobChunks).where(eq(blobChunks.blobId, id));
    await tx.update(blobs).set({ state: 'same', sha256, sameAs: twin.id }).where(eq(blobs.id, id));
  } else {
    await tx.update(blobs).set({ state: 'sealed', sha256 }).where(eq(blobs.id, id));
  }
  return blobOf(tx, id);
}

/**
 * Takes back a blob that was never sealed: what was made and is no longer wanted, never what was
 * read.
 */
export async function dropGrowing(tx: Executor, id: string): Promise<void> {
  const [row] = await tx
    .select()
    .from(blobs)
    .where(and(eq(blobs.id, id), eq(blobs.state, 'growing')))
    .for('update');
  if (!row) return;
  await tx.delete(blobChunks).where(eq(blobChunks.blobId, id));
  await tx.delete(blobs).where(eq(blobs.id, id));
}

/** Stores bytes at once. */
export async function storeBlob(tx: Executor, bytes: Uint8Array): Promise<Blob> {
  const id = await createBlob(tx);
  await appendBlob(tx, id, bytes);
  return sealBlob(tx, id);
}

export async function blobOf(db: Executor, id: string): Promise<Blob> {
  const [row] = await db.select().from(blobs).where(eq(blobs.id, id));
  if (!row) throw new Error(`there is no blob ${id}`);
  // The one that holds the bytes says whether it has holes.
  const [holder] = row.sameAs
    ? await db.select({ sparse: blobs.sparse }).from(blobs).where(eq(blobs.id, row.sameAs))
    : [row];
  return { id: row.sameAs ?? row.id, size: row.size, sparse: holder!.sparse, sha256: row.sha256 };
}

/**
 * Chunks of a blob from `seq` on, at most `count` of them, in order; a sparse blob's may be
 * missing.
 */
async function fetchChunks(
  db: Executor,
  blobId: string,
  seq: number,
  count: number,
): Promise<{ seq: number; bytes: Uint8Array }[]> {
  if (count < COPY_FROM) {
    return db
      .select({ seq: blobChunks.seq, bytes: blobChunks.bytes })
      .from(blobChunks)
      .where(
        and(
          eq(blobChunks.blobId, blobId),
          gte(blobChunks.seq, seq),
          lt(blobChunks.seq, seq + count),
        ),
      )
      .orderBy(asc(blobChunks.seq));
  }
  if (!UUID.test(blobId)) throw new RangeError(`${blobId} is no blob`);
  const copied = await copyOut(
    db,
    `select seq, bytes from blob_chunks where blob_id = '${blobId}' and seq >= ` +
      `${Math.floor(seq)} and seq < ${Math.floor(seq + count)} order by seq`,
  );
  return [...rowsOfCopy(copied)].map(([number, bytes]) => ({
    seq: new DataView(number!.buffer, number!.byteOffset, 4).getInt32(0, false),
    bytes: bytes!,
  }));
}
/** A copy statement takes no parameters. */
const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/**
 * All chunks from `first` on, as many as asked for; zeros for those of a sparse blob that were
 * never written.
 */
async function wholeChunks(
  db: Executor,
  blob: Blob,
  first: number,
  count: number,
): Promise<Uint8Array[]> {
  const rows = await fetchChunks(db, blob.id, first, count);
  let at = 0;
  return Array.from({ length: count }, (_, i) => {
    const seq = first + i;
    if (rows[at]?.seq === seq) return rows[at++]!.bytes;
    if (!blob.sparse)
      throw new BlobDamaged(
        `blob ${blob.id} should hold ${blob.size} bytes; chunk ${seq} is missing`,
      );
    return new Uint8Array(Math.min(CHUNK_BYTES, blob.size - seq * CHUNK_BYTES));
  });
}

/** Begun before it is waited for: its failure counts when it is. */
function begun<T>(promise: Promise<T>): Promise<T> {
  promise.catch(() => undefined);
  return promise;
}

/** Bytes [start, end) piece by piece; the next ones are fetched while these are used. */
export async function* streamBlob(
  db: Executor,
  id: string,
  start = 0,
  end = Infinity,
): AsyncGenerator<Uint8Array> {
  const blob = await blobOf(db, id);
  const stop = Math.min(end, blob.size);
  const last = Math.ceil(stop / CHUNK_BYTES);
  const fetch = (first: number) =>
    begun(wholeChunks(db, blob, first, Math.min(FETCH, last - first)));
  let at = start;
  let first = Math.floor(at / CHUNK_BYTES);
  for (let coming = at < stop ? fetch(first) : null; coming;) {
    const chunks: Uint8Array[] = await coming;
    const next: number = first + chunks.length;
    coming = next < last ? fetch(next) : null;
    for (const [i, bytes] of chunks.entries()) {
      const from = at - (first + i) * CHUNK_BYTES;
      const part = bytes.subarray(from, Math.min(bytes.length, stop - (first + i) * CHUNK_BYTES));
      if (from < 0 || part.length === 0)
        throw new BlobDamaged(
          `blob ${id} should hold ${blob.size} bytes; it ends or has a hole at ${at}`,
        );
      yield part;
      at += part.length;
    }
    first = next;
  }
}

/**
 * The whole of a blob, its digest checked where it was sealed. `limit` is the most the caller will
 * hold.
 */
export async function readBlob(
  db: Executor,
  id: string,
  limit = 256 * 1024 * 1024,
): Promise<Uint8Array> {
  const blob = await blobOf(db, id);
  if (blob.size > limit)
    throw new RangeError(`blob ${id} of ${blob.size} bytes is over the limit of ${limit}`);
  const bytes = new Uint8Array(blob.size);
  let at = 0;
  for await (const part of streamBlob(db, id)) {
    bytes.set(part, at);
    at += part.length;
  }
  if (blob.sha256 && createHash('sha256').update(bytes).digest('hex') !== blob.sha256)
    throw new BlobDamaged(`the bytes of blob ${id} are not those that were sealed`);
  return bytes;
}

/** Chunks that a source keeps: files lie in many small pieces near one another. */
const KEPT_CHUNKS = 48;

/**
 * A blob as a source that reads only what is asked for, no chunk twice in a row, and who reads on
 * finds the next chunks fetched.
 */
export async function blobSource(db: Executor, id: string): Promise<ByteSource> {
  const blob = await blobOf(db, id);
  const chunks = Math.ceil(blob.size / CHUNK_BYTES);
  const kept = new Map<number, Uint8Array>();
  let ahead: { first: number; coming: Promise<Uint8Array[]> } | null = null;
  const fetch = (first: number, count: number) =>
    begun(wholeChunks(db, blob, first, Math.min(count, chunks - first)));
  const chunk = async (seq: number): Promise<Uint8Array> => {
    const there = kept.get(seq);
    if (there) return there;
    const readsOn = kept.has(seq - 1);
    const fresh: Uint8Array[] = await (ahead?.first === seq
      ? ahead.coming
      : fetch(seq, readsOn ? FETCH : 1));
    const next = seq + fresh.length;
    ahead = readsOn && next < chunks ? { first: next, coming: fetch(next, FETCH) } : null;
    for (const [i, bytes] of fresh.entries()) {
      if (kept.size >= KEPT_CHUNKS) kept.delete(kept.keys().next().value!);
      kept.set(seq + i, bytes);
    }
    return fresh[0]!;
  };
  return piecewiseSource(blob.size, CHUNK_BYTES, chunk);
}
