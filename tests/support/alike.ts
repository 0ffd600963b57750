/** What the jobs of the kind `alike` would do by now, done at once: without a worker. */
import { and, eq } from 'drizzle-orm';
import type { Database } from '@/server/platform/db/database';
import { keepAlike } from '@/server/features/holdings/keep-alike';
import { jobs } from '@/server/platform/jobs/tables';

export async function keepAllAlike(db: Database): Promise<void> {
  const asked = and(eq(jobs.kind, 'alike'), eq(jobs.state, 'waiting'));
  const waiting = await db.select({ mediumId: jobs.subject }).from(jobs).where(asked);
  for (const { mediumId } of waiting) await db.transaction((tx) => keepAlike(tx, Number(mediumId)));
  await db.update(jobs).set({ state: 'done', endedAt: new Date() }).where(asked);
}
