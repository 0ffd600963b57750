/** That something held is handed out all the same: to whom and why, said before it leaves. */
import { and, asc, eq, gt, inArray, sql } from 'drizzle-orm';
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

/** To whom an operator may hand out media now, as was said last, by their numbers. */
export async function recipientsOf(
  db: Executor,
  mediumIds: readonly number[],
  operatorId: number,
): Promise<ReadonlyMap<number, string>> {
  const rows = await db
    .select({ mediumId: permits.mediumId, recipient: permits.recipient })
    .from(permits)
    .where(
      and(
        inArray(permits.mediumId, [...mediumIds]),
        eq(permits.operatorId, operatorId),
        gt(permits.endsAt, sql`now()`),
      ),
    )
    .orderBy(asc(permits.id));
  return new Map(rows.map(({ mediumId, recipient }) => [mediumId, recipient]));
}
