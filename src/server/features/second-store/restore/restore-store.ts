/**
 * A house restored from its second store alone: rows as they were, blobs by their digests, numbers
 * that go on where they were, and work that was under way ended.
 */
import { indexOlderEntries } from '../../ledger/ledger-words';
import { sql } from 'drizzle-orm';
import { said } from '@/core/said';
import type { Database } from '@/server/platform/db/database';
import { ROWS_OF_NOBODY } from '../row-owners';
import { restoreBlobs } from './blobs-in';
import {
  asTheyWere,
  columnsOf,
  orphansIn,
  restoreRows,
  setSequences,
  setUploadNumbers,
} from './rows-in';
import type { StoredObject } from './stored-objects-in';

interface Restored {
  objects: number;
  rows: number;
  blobs: number;
  bytes: number;
  /** Blobs whose bytes are not there as they were. */
  lost: string[];
}

/** Which house it is stands in the database once all of it is there: by that a break is seen. */
const LAST = 'houses';

/** Of what has no rows of its own, and what is put in last. */
const LEFT_OUT: ReadonlySet<string> = new Set(['blobs', LAST, ...ROWS_OF_NOBODY]);

/** What is restored, object by object, while tables are as they were when these were written. */
export class Restoring {
  readonly restored: Restored = { objects: 0, rows: 0, blobs: 0, bytes: 0, lost: [] };
  private readonly blobsThere = new Set<string>();

  async take(db: Database, objects: readonly StoredObject[]): Promise<void> {
    const columns = await columnsOf(db);
    // A new house gave itself a number.
    await db.execute(sql`delete from houses`);
    for (const object of objects) {
      const { blobs, bytes, lost } = await restoreBlobs(db, object, this.blobsThere);
      this.restored.rows += await restoreRows(db, object, columns, LEFT_OUT);
      this.restored.blobs += blobs;
      this.restored.bytes += bytes;
      this.restored.lost.push(...lost);
      this.restored.objects++;
    }
  }

  /** Rows that name another that did not come are told. */
  async end(db: Database, house: StoredObject): Promise<{ what: string; rows: number }[]> {
    await endWork(db);
    await setSequences(db);
    await setUploadNumbers(db);
    await indexOlderEntries(db);
    const others = [...(await columnsOf(db)).keys()].filter((table) => table !== LAST);
    this.restored.rows += await restoreRows(db, house, await columnsOf(db), new Set(others));
    return orphansIn(db);
  }
}

/** Tables of work, with the column that says how it is and the states that are an end. */
const WORK = [
  ['sittings', 'now', ['done', 'failed']],
  ['writebacks', 'now', ['proved', 'unproved', 'failed']],
  ['transfers', 'now', ['done', 'failed']],
  ['self_tests', 'now', ['done', 'failed']],
  ['settlings', 'trouble', ['done', 'failed']],
] as const;

/** What was under way when the house was lost is not: nobody works at it any more. */
async function endWork(db: Database): Promise<void> {
  const why = JSON.stringify(said('secondStore.brokeOff'));
  await asTheyWere(db, async (tx) => {
    for (const [table, says, ends] of WORK)
      await tx.execute(sql`update ${sql.identifier(table)}
        set state = 'failed', ${sql.identifier(says)} = ${why}::jsonb
        where state <> all(${sql.param([...ends])}::text[])`);
    await tx.execute(sql`update stacks set ended_at = now() where ended_at is null`);
    await tx.execute(sql`delete from writeback_queue`);
  });
}
