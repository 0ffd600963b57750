/** The rate at which a medium's sounds are taken that do not say theirs, as a person found it by ear. */
import { desc, eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import { said } from '@/core/said';
import type { Database, Executor } from '@/server/platform/db/database';
import { notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { enqueue } from '@/server/platform/jobs/enqueue';
import { fairCopies } from '../copies/tables';
import { note } from '../ledger/ledger';
import { media } from '../media/tables';
import { MOST_RATE, soundRates } from './tables';

/** What the route takes. */
export const RateSet = z.object({ rateHz: z.int().min(1).max(MOST_RATE) });

/** Undefined where nobody set any. */
export async function rateOf(db: Executor, mediumId: number): Promise<number | undefined> {
  const [row] = await db.select().from(soundRates).where(eq(soundRates.mediumId, mediumId));
  return row?.rateHz;
}

/** Sets it for all that was and will be kept of the medium; its newest sounds are gone through anew. */
export async function setRate(
  db: Database,
  operatorId: number,
  copyId: number,
  { rateHz }: z.output<typeof RateSet>,
): Promise<void> {
  await db.transaction(async (tx) => {
    const [medium] = await tx
      .select({ id: media.id, code: media.code })
      .from(fairCopies)
      .innerJoin(media, eq(media.id, fairCopies.mediumId))
      .where(eq(fairCopies.id, copyId));
    if (!medium) throw notFound(said('platform.suchFairCopy'));
    const values = { rateHz, setBy: operatorId, setAt: new Date() };
    await tx
      .insert(soundRates)
      .values({ mediumId: medium.id, ...values })
      .onConflictDoUpdate({ target: soundRates.mediumId, set: values });
    const [newest] = await tx
      .select({ id: fairCopies.id })
      .from(fairCopies)
      .where(eq(fairCopies.mediumId, medium.id))
      .orderBy(desc(fairCopies.id))
      .limit(1);
    await enqueue(tx, 'sounds', { fairCopyId: newest!.id });
    await note(tx, {
      operatorId,
      kind: 'described',
      mediumId: medium.id,
      what: said('sound.rateIsSet', { code: medium.code, rateHz }),
    });
    await announce(tx, { kind: 'media' });
  });
}

/** The rate that a person set counts for what was found to be the same medium and has none. */
export async function moveRate(tx: Executor, from: number, to: number): Promise<void> {
  await tx.execute(sql`
    update ${soundRates} r set medium_id = ${to} where r.medium_id = ${from}
      and not exists (select 1 from ${soundRates} o where o.medium_id = ${to})`);
}
