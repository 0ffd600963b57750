/** Bytes of the store on their way out: whole and checked, in ranges, as a source. */
import { webcrypto } from 'node:crypto';
import { and, asc, eq, gte, lt, sql } from 'drizzle-orm';
import { piecewiseSource, type ByteSource } from '@/core/bits/byte-source';
import type { Executor } from '../db/database';
import { copyOut, rowsOfCopy } from '../db/raw-client';
import { blobChunks } from './tables';
import { blobDamaged } from './blob-damage';
import { CHUNK_BYTES, COPY_FROM, type Blob, blobOf, digestOf } from './blob-chunks';

/** Chunks fetched at a time while streaming. */
const FETCH = 16;

/** A chunk as it is stored; its digest is null in a store made before there were any. */
interface StoredChunk {
  seq: number;
  bytes: Uint8Array;
  digest: Uint8Array | null;
}

/**
 * Chunks of a blob from `seq` on, at most `count` of them, in order; a sparse blob's may be
 * missing.
 */
export async function fetchChunks(
  db: Executor,
  blobId: string,
  seq: number,
  count: number,
): Promise<StoredChunk[]> {
  if (count < COPY_FROM) {
    return db
      .select({ seq: blobChunks.seq, bytes: blobChunks.bytes, digest: blobChunks.digest })
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
    `select seq, bytes, digest from blob_chunks where blob_id = '${blobId}' and seq >= ` +
      `${Math.floor(seq)} and seq < ${Math.floor(seq + count)} order by seq`,
  );
  return [...rowsOfCopy(copied)].map(([number, bytes, digest]) => ({
    seq: new DataView(number!.buffer, number!.byteOffset, 4).getInt32(0, false),
    bytes: bytes!,
    digest: digest ?? null,
  }));
}

/** A copy statement takes no parameters. */
const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** Bytes that the chunk has to have: all but the last are whole. */
export const bytesOfChunk = ({ size }: Pick<Blob, 'size'>, seq: number): number =>
  Math.min(CHUNK_BYTES, size - seq * CHUNK_BYTES);

/** Whether a chunk is not what its digest, where it has one, says. */
export const isOther = ({ bytes, digest }: StoredChunk, actual = digestOf(bytes)): boolean =>
  digest !== null && !actual.equals(digest);

/** Whether a chunk is what was stored. One without a digest is, unless its blob was found damaged. */
export function isSound(blob: Blob, chunk: StoredChunk, actual?: Buffer): boolean {
  if (chunk.bytes.length < bytesOfChunk(blob, chunk.seq) || isOther(chunk, actual)) return false;
  return chunk.digest !== null || blob.damagedChunk === null;
}

/** Whether all chunks that were written into a sealed sparse blob are there: what else is missing is a hole. */
async function areAllThere(db: Executor, blob: Blob): Promise<boolean> {
  const { id, chunks } = blob;
  if (chunks === null || countedWhole.has(blob)) return true;
  const [row] = await db
    .select({ there: sql<number>`count(*)::int` })
    .from(blobChunks)
    .where(eq(blobChunks.blobId, id));
  if (row!.there === chunks) countedWhole.add(blob);
  return row!.there === chunks;
}

/** Counted once a stream or source. */
const countedWhole = new WeakSet<Blob>();

/**
 * All chunks from `first` on, as many as asked for, each held against its digest; zeros for those
 * of a sparse blob that were never written.
 */
async function wholeChunks(
  db: Executor,
  blob: Blob,
  first: number,
  count: number,
): Promise<Uint8Array[]> {
  const rows = await fetchChunks(db, blob.id, first, count);
  const digests = await Promise.all(rows.map(digestAside));
  const there = new Map(rows.map((row, i) => [row.seq, { row, digest: digests[i]! }]));
  const chunks: Uint8Array[] = [];
  for (let seq = first; seq < first + count; seq++) {
    const { row, digest } = there.get(seq) ?? { row: null, digest: undefined };
    const isHole: boolean = !row && blob.sparse && (await areAllThere(db, blob));
    if (!isHole && !(row && isSound(blob, row, digest)))
      throw await blobDamaged(db, blob.id, seq * CHUNK_BYTES);
    chunks.push(row?.bytes ?? new Uint8Array(bytesOfChunk(blob, seq)));
  }
  return chunks;
}

/** Beside one another, on the threads that Node has for it: what goes out goes on meanwhile. */
const digestAside = async ({ bytes }: StoredChunk): Promise<Buffer> =>
  Buffer.from(await webcrypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>));

/** Before anything of it is sent: what was found damaged is refused with its name. */
export async function refuseDamaged(db: Executor, id: string): Promise<void> {
  const blob = await blobOf(db, id);
  if (blob.damagedChunk !== null)
    throw await blobDamaged(db, blob.id, blob.damagedChunk * CHUNK_BYTES);
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
  if (blob.sha256 && digestOf(bytes).toString('hex') !== blob.sha256)
    throw await blobDamaged(db, blob.id, 0);
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
