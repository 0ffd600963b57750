/**
 * Whether sealed blobs are still what was sealed: every chunk against its digest, all of them
 * against the blob's. Chunks of stores made before chunks had digests are given theirs here, once
 * the whole was found right; what breaks off goes on with the next blob that is due.
 */
import { createHash } from 'node:crypto';
import { and, asc, eq, min, sql } from 'drizzle-orm';
import type { Database, Executor } from '../db/database';
import { CHUNK_BYTES, blobOf, digestOf, type Blob } from './blob-chunks';
import { bytesOfChunk, fetchChunks, isSound } from './read-blob';
import { blobChunks, blobs } from './tables';

/** Chunks looked at in one go. */
const AT_ONCE = 16;

export interface CheckedBlob {
  id: string;
  /** The first chunk that is not what was stored; null where all are. */
  damagedChunk: number | null;
  /** Whether this is other than what was known of it. */
  isNews: boolean;
}

/** A sealed blob whose turn it is: asked for, never checked, or not for so many days. */
export async function blobToCheck(
  db: Executor,
  days: number,
): Promise<{ id: string; isAsked: boolean } | null> {
  // The first in the order of its index: where it is not due, none is.
  const [first] = await db
    .select({
      id: blobs.id,
      isAsked: sql<boolean>`${blobs.dueAt} is not null`,
      isDue: sql<boolean>`${blobs.dueAt} is not null or ${blobs.checkedAt} is null
        or ${blobs.checkedAt} < now() - make_interval(days => ${days})`,
    })
    .from(blobs)
    .where(eq(blobs.state, 'sealed'))
    .orderBy(asc(blobs.dueAt), sql`${blobs.checkedAt} nulls first`)
    .limit(1);
  return first?.isDue ? first : null;
}

/**
 * Checks one; `commit` is called in the transaction that notes what came of it, `between` after each
 * piece that was looked at.
 */
export async function checkBlob(
  db: Database,
  id: string,
  commit: (tx: Executor, checked: CheckedBlob) => Promise<void>,
  between: () => Promise<void>,
): Promise<CheckedBlob> {
  const blob = await blobOf(db, id);
  const { firstWrong, wanting, sha256, written } = await lookThrough(db, blob, between);
  // Whole, and a chunk's digest fails: it is the digest that is wrong. Digests that all pass, and
  // bytes that are others: a chunk went, or came, where there was a hole.
  const damagedChunk = sha256 === blob.sha256 ? null : (firstWrong ?? 0);
  return db.transaction(async (tx) => {
    // Another worker may have looked at it as well: what it told is no news.
    const [known] = await tx
      .select({ damagedChunk: blobs.damagedChunk })
      .from(blobs)
      .where(eq(blobs.id, id))
      .for('update');
    const checked = { id, damagedChunk, isNews: damagedChunk !== known?.damagedChunk };
    // Swept away meanwhile.
    if (!known) return { ...checked, isNews: false };
    if (damagedChunk === null) await giveDigests(tx, id, wanting);
    await tx
      .update(blobs)
      .set({
        checkedAt: new Date(),
        dueAt: null,
        damagedChunk,
        damagedAt: damagedChunk === null ? null : sql`coalesce(${blobs.damagedAt}, now())`,
        ...(blob.sparse && blob.chunks === null && damagedChunk === null && { chunks: written }),
      })
      .where(eq(blobs.id, id));
    await commit(tx, checked);
    return checked;
  });
}

interface Looked {
  firstWrong: number | null;
  /** Digests of chunks that have none, or another. */
  wanting: Map<number, Buffer>;
  sha256: string;
  /** Chunks that are there. */
  written: number;
}

async function lookThrough(
  db: Database,
  blob: Blob,
  between: () => Promise<void>,
): Promise<Looked> {
  const hash = createHash('sha256');
  const wanting = new Map<number, Buffer>();
  let firstWrong: number | null = null;
  let written = 0;
  const chunks = Math.ceil(blob.size / CHUNK_BYTES);
  for (let first = 0; first < chunks; first += AT_ONCE) {
    const rows = await fetchChunks(db, blob.id, first, Math.min(AT_ONCE, chunks - first));
    const there = new Map(rows.map((row) => [row.seq, row]));
    written += rows.length;
    for (let seq = first; seq < Math.min(chunks, first + AT_ONCE); seq++) {
      const row = there.get(seq);
      // Looked at afresh: what was found damaged before may have been brought back.
      const isRight = row ? isSound({ ...blob, damagedChunk: null }, row) : blob.sparse;
      if (!isRight) firstWrong ??= seq;
      if (row && (!isRight || row.digest === null)) wanting.set(seq, digestOf(row.bytes));
      hash.update(row?.bytes ?? new Uint8Array(bytesOfChunk(blob, seq)));
    }
    await between();
  }
  return { firstWrong, wanting, written, sha256: hash.digest('hex') };
}

async function giveDigests(tx: Executor, id: string, digests: Map<number, Buffer>): Promise<void> {
  for (const [seq, digest] of digests)
    await tx
      .update(blobChunks)
      .set({ digest })
      .where(and(eq(blobChunks.blobId, id), eq(blobChunks.seq, seq)));
}

/** What is known of the store as a whole. */
export async function fixityOfStore(db: Executor) {
  const [row] = await db
    .select({
      blobs: sql<number>`count(*)::int`,
      bytes: sql<number>`coalesce(sum(${blobs.size}), 0)::float8`,
      due: sql<number>`(count(*) filter (where ${blobs.dueAt} is not null))::int`,
      never: sql<number>`(count(*) filter (where ${blobs.checkedAt} is null))::int`,
      oldest: min(blobs.checkedAt),
    })
    .from(blobs)
    .where(eq(blobs.state, 'sealed'));
  const damaged = await db
    .select({ id: blobs.id, damagedAt: blobs.damagedAt, damagedChunk: blobs.damagedChunk })
    .from(blobs)
    .where(sql`${blobs.damagedAt} is not null`)
    .orderBy(asc(blobs.damagedAt))
    .limit(MAX_LISTED);
  return { ...row!, damaged };
}

const MAX_LISTED = 500;
