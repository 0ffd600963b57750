/** Chunks of a sealed blob put right from bytes that are known to be its own. */
import { and, eq, isNotNull } from 'drizzle-orm';
import type { Database } from '../db/database';
import { CHUNK_BYTES, blobOf, digestOf } from './blob-chunks';
import { bytesOfChunk, fetchChunks } from './read-blob';
import { blobChunks, blobs } from './tables';

/** Pieces of a stream as chunks of a blob. */
async function* inChunks(parts: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  let held: Uint8Array[] = [];
  let length = 0;
  for await (const part of parts) {
    held.push(part);
    length += part.length;
    if (length < CHUNK_BYTES) continue;
    const all = Buffer.concat(held);
    let at = 0;
    for (; all.length - at >= CHUNK_BYTES; at += CHUNK_BYTES)
      yield all.subarray(at, at + CHUNK_BYTES);
    held = [all.subarray(at)];
    length = all.length - at;
  }
  if (length > 0) yield Buffer.concat(held);
}

/**
 * Writes the chunks that are other than the bytes that are given, which the caller found to have the
 * blob's own digest. Answers with how many were.
 */
export async function repairBlob(
  db: Database,
  id: string,
  parts: AsyncIterable<Uint8Array>,
): Promise<number> {
  const blob = await blobOf(db, id);
  let repaired = 0;
  let seq = 0;
  for await (const bytes of inChunks(parts)) {
    if (bytes.length !== bytesOfChunk(blob, seq))
      throw new Error(`${bytes.length} bytes given for chunk ${seq} of ${blob.id}`);
    const [there] = await fetchChunks(db, blob.id, seq, 1);
    const isHole = !there && blob.sparse && bytes.every((byte) => byte === 0);
    const digest = digestOf(bytes);
    const isRight =
      there &&
      Buffer.from(there.bytes).equals(bytes) &&
      there.digest &&
      digest.equals(there.digest);
    if (!isHole && !isRight) {
      await db
        .insert(blobChunks)
        .values({ blobId: blob.id, seq, bytes, digest })
        .onConflictDoUpdate({
          target: [blobChunks.blobId, blobChunks.seq],
          set: { bytes, digest },
        });
      repaired++;
    }
    seq++;
  }
  return repaired;
}

/** Sealed blobs that were found damaged, with what they should hold. */
export const damagedBlobs = (db: Database) =>
  db
    .select({ id: blobs.id, sha256: blobs.sha256, damagedChunk: blobs.damagedChunk })
    .from(blobs)
    .where(and(eq(blobs.state, 'sealed'), isNotNull(blobs.damagedAt)));
