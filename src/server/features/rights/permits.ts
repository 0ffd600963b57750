/** That something held is handed out all the same: to whom and why, said before it leaves. */
import { and, desc, eq, gt, sql } from 'drizzle-orm';
import type { z } from 'zod';
import { said } from '@/core/said';
import type { Database, Executor } from '@/server/platform/db/database';
import { announce } from '@/server/platform/events';
import { note } from '../ledger/ledger';
import { heldMedium } from '../media/media';
import type { NewPermit } from './new-rights';
import { permits } from './tables';

/** Long enough for what was meant, too short to be forgotten. */
const MINUTES = 60;

/** Lets an operator take out a medium for a while. Throws UserError, 404, where there is none. */
export async function permit(
  db: Database,
  operatorId: number,
  asked: string,
  { recipient, reason }: z.output<typeof NewPermit>,
): Promise<void> {
  await db.transaction(async (tx) => {
    const { id, code } = await heldMedium(tx, asked);
    await tx.insert(permits).values({
      ...{ mediumId: id, operatorId, recipient, reason },
      endsAt: sql`now() + make_interval(mins => ${MINUTES})`,
    });
    await note(tx, {
      operatorId,
      kind: 'permitted',
      mediumId: id,
      what: said('rights.permitted', { code, recipient, reason, minutes: MINUTES }),
    });
    await announce(tx, { kind: 'media' });
  });
}

/** To whom an operator may hand out a medium now, as was said last; null where nobody said so. */
export async function permitOf(
  db: Executor,
  mediumId: number,
  operatorId: number,
): Promise<string | null> {
  const [row] = await db
    .select({ recipient: permits.recipient })
    .from(permits)
    .where(
      and(
        eq(permits.mediumId, mediumId),
        eq(permits.operatorId, operatorId),
        gt(permits.endsAt, sql`now()`),
      ),
    )
    .orderBy(desc(permits.id))
    .limit(1);
  return row?.recipient ?? null;
}
