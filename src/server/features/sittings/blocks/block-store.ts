/** What a sitting keeps of a device that is read block by block: bytes, and extents of one grade. */
import { and, eq, inArray } from 'drizzle-orm';
import type { Extent } from '@/core/block/extent-map';
import { writeBlob } from '@/server/platform/blobs/blob-store';
import type { Executor } from '@/server/platform/db/database';
import { blockExtents } from '../tables';

const ROWS_AT_ONCE = 1000;

/** Puts what came of unsound blocks into the capture; what is sound stays as it is. */
export async function keepBytes(
  tx: Executor,
  { captureBlob, blockBytes }: { captureBlob: string; blockBytes: number },
  unsound: readonly { from: number; to: number }[],
  read: { from: number; bytes: Uint8Array },
): Promise<void> {
  for (const { from, to } of unsound) {
    const [start, end] = [from - read.from, to - read.from].map((block) => block * blockBytes);
    await writeBlob(tx, captureBlob, from * blockBytes, read.bytes.subarray(start, end));
  }
}

/** Rows of the extents that went and came. */
export async function keepExtents(
  tx: Executor,
  sittingId: number,
  gone: readonly number[],
  came: readonly Extent[],
): Promise<void> {
  const touched = [...new Set([...gone, ...came.map((each) => each.from)])];
  for (let i = 0; i < touched.length; i += ROWS_AT_ONCE) {
    const some = touched.slice(i, i + ROWS_AT_ONCE);
    await tx
      .delete(blockExtents)
      .where(and(eq(blockExtents.sittingId, sittingId), inArray(blockExtents.from, some)));
  }
  const kept = came.filter(({ grade, group }) => grade !== 'unread' || group > 0);
  for (let i = 0; i < kept.length; i += ROWS_AT_ONCE) {
    const some = kept.slice(i, i + ROWS_AT_ONCE);
    await tx.insert(blockExtents).values(some.map((extent) => ({ sittingId, ...extent })));
  }
}
