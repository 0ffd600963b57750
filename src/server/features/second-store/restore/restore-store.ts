/**
 * A house restored from its second store alone: rows as they were, blobs by their digests, numbers
 * that go on where they were, and work that was under way ended.
 */
import { sql } from 'drizzle-orm';
import type { Database } from '@/server/platform/db/database';
import { ROWS_OF_NOBODY } from '../row-owners';
import { restoreBlobs } from './blobs-in';
import { asTheyWere, columnsOf, orphansIn, restoreRows, setSequences } from './rows-in';
import type { StoredObject } from './stored-objects-in';

export interface Restored {
  objects: number;
  rows: number;
  blobs: number;
  bytes: number;
  /** Blobs whose bytes are not there as they were. */
  lost: string[];
  /** Rows that name another that did not come. */
  orphans: { what: string; rows: number }[];
}

/** What was under way when the house was lost is not: nobody works at it any more. */
const ENDED = {
  sittings: `update sittings set state = 'failed' where state not in ('done', 'failed')`,
  writebacks: `update writebacks set state = 'failed' where state in ('waiting', 'writing', 'held', 'asks')`,
  transfers: `update transfers set state = 'failed' where state not in ('done', 'failed')`,
  selfTests: `update self_tests set state = 'failed' where state not in ('done', 'failed')`,
  stacks: `update stacks set ended_at = now() where ended_at is null`,
  queue: `delete from writeback_queue`,
};

/** Into a database whose tables are empty, as its owner. `tell` hears of each object. */
export async function restoreStore(
  db: Database,
  objects: readonly StoredObject[],
  tell: (done: number, of: number) => void = () => undefined,
): Promise<Restored> {
  const all: Restored = { objects: 0, rows: 0, blobs: 0, bytes: 0, lost: [], orphans: [] };
  const columns = await columnsOf(db);
  const leftOut = new Set(['blobs', ...ROWS_OF_NOBODY]);
  const there = new Set<string>();
  // A new house gave itself a number.
  await db.execute(sql`delete from houses`);
  for (const object of objects) {
    const { blobs, bytes, lost } = await restoreBlobs(db, object, there);
    all.rows += await restoreRows(db, object, columns, leftOut);
    all.blobs += blobs;
    all.bytes += bytes;
    all.lost.push(...lost);
    tell(++all.objects, objects.length);
  }
  await asTheyWere(db, async (tx) => {
    for (const statement of Object.values(ENDED)) await tx.execute(sql.raw(statement));
  });
  await setSequences(db);
  return { ...all, orphans: await orphansIn(db) };
}
