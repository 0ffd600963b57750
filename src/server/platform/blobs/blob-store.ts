/**
 * Bytes in chunks of 256 KiB in PostgreSQL, committed with the rows that refer to them. A blob
 * grows while it is read;
 * sealing it fixes its SHA-256, or points to the blob that has the same bytes already. An
 * interface, so that another
 * store can take the bytes when an archive outgrows one machine.
 */
import { createHash } from 'node:crypto';
import { and, eq, gte, lt, sql } from 'drizzle-orm';
import type { Executor } from '../db/database';
import { digestOfStream } from '../threads/threaded-hash';
import { copyIn } from '../db/raw-client';
import { blobChunks, blobs } from './tables';
import { fetchChunks, isOther, streamBlob } from './read-blob';
import { CHUNK_BYTES, COPY_FROM, type Blob, blobOf, digestOf } from './blob-chunks';
import { blobDamaged } from './blob-damage';

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
    await growChunk(tx, row, Math.floor(start / CHUNK_BYTES), bytes.subarray(0, done));
  }
  await insertChunks(tx, id, start + done, bytes.subarray(done));
  await tx
    .update(blobs)
    .set({ size: start + bytes.length })
    .where(eq(blobs.id, id));
  return start;
}

/** Adds to a blob's last chunk, which is held against its digest before it is given another. */
async function growChunk(
  tx: Executor,
  { id, size }: Pick<Blob, 'id' | 'size'>,
  seq: number,
  more: Uint8Array,
): Promise<void> {
  const [last] = await fetchChunks(tx, id, seq, 1);
  if (!last || last.bytes.length !== size - seq * CHUNK_BYTES || isOther(last))
    throw await blobDamaged(tx, id, seq * CHUNK_BYTES);
  await tx
    .update(blobChunks)
    .set({
      bytes: sql`${blobChunks.bytes} || ${Buffer.from(more)}`,
      digest: digestOf(Buffer.concat([last.bytes, more])),
    })
    .where(and(eq(blobChunks.blobId, id), eq(blobChunks.seq, seq)));
}

function chunksOf(
  blobId: string,
  start: number,
  bytes: Uint8Array,
): { blobId: string; seq: number; bytes: Uint8Array; digest: Uint8Array }[] {
  const first = Math.floor(start / CHUNK_BYTES);
  return Array.from({ length: Math.ceil(bytes.length / CHUNK_BYTES) }, (_, i) => {
    const chunk = bytes.subarray(i * CHUNK_BYTES, (i + 1) * CHUNK_BYTES);
    return { blobId, seq: first + i, bytes: chunk, digest: digestOf(chunk) };
  });
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
    'copy blob_chunks (blob_id, seq, bytes, digest)',
    chunksOf(id, start, bytes).map(({ seq, bytes: chunk, digest }) => {
      const number = Buffer.alloc(4);
      number.writeInt32BE(seq);
      return [uuid, number, chunk, digest];
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
    const [before] = part.length === chunkBytes ? [] : await fetchChunks(tx, id, seq, 1);
    if (before && isOther(before)) throw await blobDamaged(tx, id, seq * CHUNK_BYTES);
    const chunk = new Uint8Array(chunkBytes);
    if (before) chunk.set(before.bytes);
    chunk.set(part, within);
    await tx
      .insert(blobChunks)
      .values({ blobId: id, seq, bytes: chunk, digest: digestOf(chunk) })
      .onConflictDoUpdate({
        target: [blobChunks.blobId, blobChunks.seq],
        set: { bytes: sql`excluded.bytes`, digest: sql`excluded.digest` },
      });
    done += part.length;
  }
}

/** Long ones on a thread: what is short is done before that has begun. */
const THREADED_FROM = 4 << 20;

/** SHA-256 of what a blob holds now, in hexadecimal; read outside of transactions where it is long. */
export async function digestOfBlob(tx: Executor, id: string): Promise<string> {
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
  const before = await blobOf(tx, id);
  if (before.sha256) return before;
  const sha256 = known ?? (await digestOfBlob(tx, id));
  const [twin] = await tx
    .select({ id: blobs.id })
    .from(blobs)
    .where(and(eq(blobs.sha256, sha256), eq(blobs.state, 'sealed')))
    // It stays until this one points to it.
    .for('share');
  if (twin) {
    await tx.delete(blobChunks).where(eq(blobChunks.blobId, id));
    await tx.update(blobs).set({ state: 'same', sha256, sameAs: twin.id }).where(eq(blobs.id, id));
  } else {
    await tx
      .update(blobs)
      .set({
        state: 'sealed',
        sha256,
        checkedAt: new Date(),
        chunks: sql`case when ${blobs.sparse} then
          (select count(*)::int from ${blobChunks} where ${blobChunks.blobId} = ${blobs.id}) end`,
      })
      .where(eq(blobs.id, id));
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
