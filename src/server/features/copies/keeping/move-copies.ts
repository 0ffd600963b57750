/** What was kept of a medium becomes another's: they were found to be one. */
import { eq, sql } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies, settlings, trackOverrides, verdicts } from '../tables';

/** What a person said of a place stays where the other has its own for it. */
export async function moveCopies(tx: Executor, from: number, to: number): Promise<number> {
  const moved = await tx
    .update(fairCopies)
    .set({ mediumId: to })
    .where(eq(fairCopies.mediumId, from))
    .returning({ id: fairCopies.id });
  await tx.update(settlings).set({ mediumId: to }).where(eq(settlings.mediumId, from));
  await tx.execute(sql`
    update ${verdicts} v set medium_id = ${to} where v.medium_id = ${from} and not exists (
      select 1 from ${verdicts} o where o.medium_id = ${to}
        and (o.cylinder, o.head, o.r) = (v.cylinder, v.head, v.r))`);
  await tx.execute(sql`
    update ${trackOverrides} t set medium_id = ${to} where t.medium_id = ${from} and not exists (
      select 1 from ${trackOverrides} o where o.medium_id = ${to}
        and (o.cylinder, o.head) = (t.cylinder, t.head))`);
  return moved.length;
}
