/**
 * Bytes in chunks of 256 KiB in PostgreSQL, committed with the rows that refer to them. A blob grows while it is read;
 * sealing it fixes its SHA-256, or points to the blob that has the same bytes already. An interface, so that another
 * store can take the bytes when an archive outgrows one machine.
 */
import { createHash } from 'node:crypto';
import { and, asc, eq, gte, sql } from 'drizzle-orm';
import type { ByteSource } from '@/core/bits/byte-source';
import type { Executor } from '../db/database';
import { blobChunks, blobs } from '../db/schema';

export const CHUNK_BYTES = 256 * 1024;
/** Chunks fetched at a time while streaming. */
const FETCH = 8;

export interface Blob {
  id: string;
  size: number;
  sha256: string | null;
}

/** The stored bytes are not what they were when they were sealed. */
export class BlobDamaged extends Error {}

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
    await tx.update(blobChunks).set({ bytes: sql`${blobChunks.bytes} || ${more}` })
      .where(and(eq(blobChunks.blobId, id), eq(blobChunks.seq, Math.floor(start / CHUNK_BYTES))));
  }
  for (; done < bytes.length; done += CHUNK_BYTES) {
    await tx.insert(blobChunks).values({ blobId: id, seq: Math.floor((start + done) / CHUNK_BYTES), bytes: bytes.subarray(done, done + CHUNK_BYTES) });
  }
  await tx.update(blobs).set({ size: start + bytes.length }).where(eq(blobs.id, id));
  return start;
}

/** Fixes a blob's digest; where the same bytes are held already, its own go and it points there. */
export async function sealBlob(tx: Executor, id: string): Promise<Blob> {
  const hash = createHash('sha256');
  for await (const chunk of streamBlob(tx, id)) hash.update(chunk);
  const sha256 = hash.digest('hex');
  const [twin] = await tx.select({ id: blobs.id }).from(blobs).where(and(eq(blobs.sha256, sha256), eq(blobs.state, 'sealed')));
  if (twin) {
    await tx.delete(blobChunks).where(eq(blobChunks.blobId, id));
    await tx.update(blobs).set({ state: 'same', sha256, sameAs: twin.id }).where(eq(blobs.id, id));
  } else {
    await tx.update(blobs).set({ state: 'sealed', sha256 }).where(eq(blobs.id, id));
  }
  return blobOf(tx, id);
}

/** Takes back a blob that was never sealed: what was made and is no longer wanted, never what was read. */
export async function dropGrowing(tx: Executor, id: string): Promise<void> {
  const [row] = await tx.select().from(blobs).where(and(eq(blobs.id, id), eq(blobs.state, 'growing'))).for('update');
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
  return { id: row.sameAs ?? row.id, size: row.size, sha256: row.sha256 };
}

/** Bytes [start, end) piece by piece. */
export async function* streamBlob(db: Executor, id: string, start = 0, end = Infinity): AsyncGenerator<Uint8Array> {
  const blob = await blobOf(db, id);
  const stop = Math.min(end, blob.size);
  for (let at = start; at < stop;) {
    const seq = Math.floor(at / CHUNK_BYTES);
    const rows = await db.select().from(blobChunks).where(and(eq(blobChunks.blobId, blob.id), gte(blobChunks.seq, seq)))
      .orderBy(asc(blobChunks.seq)).limit(Math.min(FETCH, Math.ceil(stop / CHUNK_BYTES) - seq));
    if (rows.length === 0) throw new BlobDamaged(`blob ${id} should hold ${blob.size} bytes; chunk ${seq} is missing`);
    for (const { seq: number, bytes } of rows) {
      const from = at - number * CHUNK_BYTES;
      const part = bytes.subarray(from, Math.min(bytes.length, stop - number * CHUNK_BYTES));
      if (from < 0 || part.length === 0) throw new BlobDamaged(`blob ${id} should hold ${blob.size} bytes; it ends or has a hole at ${at}`);
      yield part;
      at += part.length;
    }
  }
}

/** The whole of a blob, its digest checked where it was sealed. `limit` is the most the caller will hold. */
export async function readBlob(db: Executor, id: string, limit = 256 * 1024 * 1024): Promise<Uint8Array> {
  const blob = await blobOf(db, id);
  if (blob.size > limit) throw new RangeError(`blob ${id} of ${blob.size} bytes is over the limit of ${limit}`);
  const bytes = new Uint8Array(blob.size);
  let at = 0;
  for await (const part of streamBlob(db, id)) {
    bytes.set(part, at);
    at += part.length;
  }
  if (blob.sha256 && createHash('sha256').update(bytes).digest('hex') !== blob.sha256) throw new BlobDamaged(`the bytes of blob ${id} are not those that were sealed`);
  return bytes;
}

/** Chunks that a source keeps: files lie in many small pieces near one another. */
const KEPT_CHUNKS = 8;

/** A sealed blob as a source that reads only what is asked for, and no chunk twice in a row. */
export async function blobSource(db: Executor, id: string): Promise<ByteSource> {
  const { size } = await blobOf(db, id);
  const kept = new Map<number, Uint8Array>();
  const chunk = async (seq: number): Promise<Uint8Array> => {
    const there = kept.get(seq);
    if (there) return there;
    const bytes = new Uint8Array(Math.min(CHUNK_BYTES, size - seq * CHUNK_BYTES));
    let at = 0;
    for await (const part of streamBlob(db, id, seq * CHUNK_BYTES, seq * CHUNK_BYTES + bytes.length)) {
      bytes.set(part, at);
      at += part.length;
    }
    if (kept.size >= KEPT_CHUNKS) kept.delete(kept.keys().next().value!);
    kept.set(seq, bytes);
    return bytes;
  };
  return {
    size,
    async read(offset, length) {
      const end = Math.max(offset, Math.min(size, offset + length));
      const out = new Uint8Array(end - offset);
      for (let at = offset; at < end;) {
        const seq = Math.floor(at / CHUNK_BYTES);
        const from = at - seq * CHUNK_BYTES;
        const part = (await chunk(seq)).subarray(from, from + end - at);
        out.set(part, at - offset);
        at += part.length;
      }
      return out;
    },
  };
}
