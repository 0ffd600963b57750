/** The job of the second store as the engine would run it. */
import type { Database } from '@/server/platform/db/database';
import type { JobContext } from '@/server/platform/jobs/engine';

export const secondStoreJob = (db: Database, signal = new AbortController().signal) =>
  ({
    ...{ db, jobId: '1', payload: { stores: 1 }, signal },
    commit: (work) => db.transaction(work),
  }) as JobContext<'second-store'>;
