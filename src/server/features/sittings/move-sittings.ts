/** What was read of a medium becomes another's: they were found to be one. */
import { eq } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import { sittings } from './tables';

export async function moveSittings(tx: Executor, from: number, to: number): Promise<number> {
  const moved = await tx
    .update(sittings)
    .set({ mediumId: to })
    .where(eq(sittings.mediumId, from))
    .returning({ id: sittings.id });
  return moved.length;
}
