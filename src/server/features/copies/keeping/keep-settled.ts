/**
 * Settles a medium, examines what came of it, and stores it. Nothing is locked while that is worked
 * out: where another copy of the medium was stored meanwhile, all of it is done once more, so that
 * the newest copy is made of every reading and of all that was said.
 */
import { eq } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import type { JobContext } from '@/server/platform/jobs/engine';
import { media } from '@/server/features/media/tables';
import { latestFairCopy } from '../queries';
import { examineCopy } from './examine-copy';
import { storeFairCopy, type NewFairCopy } from './fair-copies';

/** What the last of these comes to is stored, whatever came meanwhile. */
const TRIES = 5;

/** `settle` gives null where nothing was found; `end` runs in the transaction that stores. */
export async function keepSettled(
  { db, commit }: Pick<JobContext, 'db' | 'commit'>,
  mediumId: number,
  settle: () => Promise<NewFairCopy | null>,
  end: (tx: Executor, copy: NewFairCopy | null) => Promise<void>,
): Promise<void> {
  for (let left = TRIES; left > 0; left--) {
    const before = await latestFairCopy(db, mediumId);
    const copy = await settle();
    const examined = copy && (await examineCopy(db, copy));
    const isStored = await commit(async (tx) => {
      // Who stores a copy of the same medium waits; who only speaks of the medium does not.
      await tx
        .select({ id: media.id })
        .from(media)
        .where(eq(media.id, mediumId))
        .for('no key update');
      const now = await latestFairCopy(tx, mediumId);
      if (left > 1 && now?.id !== before?.id) return false;
      if (copy && examined) await storeFairCopy(tx, copy, examined);
      await end(tx, copy);
      return true;
    });
    if (isStored) return;
  }
}
