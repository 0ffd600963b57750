/**
 * Media that are withdrawn: registered by mistake, or gone from the house. They leave the working
 * lists; their dockets stay, with all that was read, and they can be reinstated.
 */
import { eq, sql } from 'drizzle-orm';
import { said } from '@/core/said';
import type { Database, Executor } from '@/server/platform/db/database';
import { UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { enqueue } from '@/server/platform/jobs/enqueue';
import { note } from '../ledger/ledger';
import { refuseWithdrawn } from './in-use';
import { mediumByCode } from './media';
import { media } from './tables';

type Medium = typeof media.$inferSelect;

/** By its code, with nobody else at it until the transaction ends. */
async function lockedMedium(tx: Executor, code: string): Promise<Medium> {
  const { id } = await mediumByCode(tx, code);
  const [medium] = await tx.select().from(media).where(eq(media.id, id)).for('update');
  return medium!;
}

/** Out of the lists; what is alike is found anew. In the caller's transaction. */
export async function takeOutOfUse(
  tx: Executor,
  id: number,
  withdrawn: { reason: string; mergedIntoId: number | null },
): Promise<void> {
  await tx
    .update(media)
    .set({
      withdrawnAt: new Date(),
      withdrawnReason: withdrawn.reason,
      mergedIntoId: withdrawn.mergedIntoId,
    })
    .where(eq(media.id, id));
  await enqueue(tx, 'alike', { mediumId: id });
}

/** What is in a drive, being read or being settled is none that may go. */
export async function refuseInWork(
  tx: Executor,
  going: readonly Pick<Medium, 'id' | 'code'>[],
): Promise<void> {
  const ids = going.map(({ id }) => id);
  const { rows } = await tx.execute<{ id: number }>(sql`
    with going as (select unnest(${sql.param(ids)}::int[]) as id)
    select id from going
    where exists (select 1 from stations where medium_id = going.id)
      or exists (select 1 from sittings where medium_id = going.id and ended_at is null)
      or exists (select 1 from settlings where medium_id = going.id
        and state in ('waiting', 'settling'))`);
  const inWork = new Set(rows.map(({ id }) => id));
  const first = going.find(({ id }) => inWork.has(id));
  if (first) throw new UserError(said('media.isInWork', { code: first.code }), 409);
}

export async function withdraw(
  db: Database,
  operatorId: number,
  asked: string,
  reason: string,
): Promise<void> {
  await db.transaction(async (tx) => {
    const medium = await lockedMedium(tx, asked);
    refuseWithdrawn(medium);
    await refuseInWork(tx, [medium]);
    await takeOutOfUse(tx, medium.id, { reason, mergedIntoId: null });
    await note(tx, {
      operatorId,
      kind: 'withdrawn',
      mediumId: medium.id,
      what: said('media.withdrawn', { code: medium.code, reason }),
    });
    await announce(tx, { kind: 'media' });
  });
}

export async function reinstate(
  db: Database,
  operatorId: number,
  asked: string,
  reason: string,
): Promise<void> {
  await db.transaction(async (tx) => {
    const medium = await lockedMedium(tx, asked);
    const { id, code } = medium;
    if (medium.withdrawnAt === null) throw new UserError(said('media.isInUse', { code }), 409);
    await tx.update(media).set({ withdrawnAt: null, withdrawnReason: '' }).where(eq(media.id, id));
    await enqueue(tx, 'alike', { mediumId: id });
    await note(tx, {
      operatorId,
      kind: 'reinstated',
      mediumId: id,
      what: said('media.reinstated', { code, reason }),
    });
    await announce(tx, { kind: 'media' });
  });
}
