/** Media settled once more by what a person said: asked for here, done by a worker. */
import { tellIfAny } from '@/messages/tell';
import { and, desc, eq } from 'drizzle-orm';
import type { Database, Executor } from '@/server/platform/db/database';
import { announce } from '@/server/platform/events';
import { enqueue } from '@/server/platform/jobs/enqueue';
import type { SettlingAbout, SettlingCause } from '@/server/states';
import { UserError, notFound } from '@/server/platform/errors';
import { note } from '@/server/features/ledger/ledger';
import { mediumByCode } from '@/server/features/media/media';
import { latestFairCopy } from '../queries';
import { settlings } from '../tables';
import { said } from '@/core/said';

interface AskedSettling {
  operatorId: number;
  mediumId: number;
  cause: SettlingCause;
  about?: SettlingAbout;
}

/** Within the transaction that keeps what was said; one medium is settled once at a time. */
export async function askToSettle(
  tx: Executor,
  { operatorId, mediumId, cause, about = {} }: AskedSettling,
): Promise<void> {
  const copy = await latestFairCopy(tx, mediumId);
  if (!copy) throw notFound(said('copies.fairCopyOfThis'));
  if (copy.blocks || (copy.source !== 'sitting' && !copy.captureBlob))
    throw new UserError(said('copies.aFlatImageCant'));
  const [row] = await tx
    .insert(settlings)
    .values({ mediumId, cause, about, state: 'waiting', operatorId })
    .returning({ id: settlings.id });
  await enqueue(
    tx,
    'settle',
    { settlingId: row!.id },
    { resource: `medium:${mediumId}`, askedBy: operatorId },
  );
  await announce(tx, { kind: 'media' });
}

/** A person will not wait until all turns are weighed: what is left is read by single turns. */
export async function hurrySettling(db: Database, operatorId: number, code: string): Promise<void> {
  const { id: mediumId } = await mediumByCode(db, code);
  await db.transaction(async (tx) => {
    const hurried = await tx
      .update(settlings)
      .set({ isHurried: true })
      .where(and(eq(settlings.mediumId, mediumId), eq(settlings.state, 'settling')))
      .returning({ id: settlings.id });
    if (hurried.length === 0) throw new UserError(said('copies.thisSettlingHasEnded'), 409);
    const what = said('copies.whatIsLeftBySingleTurns');
    await note(tx, { operatorId, kind: 'settling-hurried', mediumId, what });
    await announce(tx, { kind: 'media' });
  });
}

/** Settles a medium once more with all turns weighed together. */
export async function settleByAllTurns(
  db: Database,
  operatorId: number,
  code: string,
): Promise<void> {
  const { id: mediumId } = await mediumByCode(db, code);
  await db.transaction((tx) => askToSettle(tx, { operatorId, mediumId, cause: 'all-turns' }));
}

/** How the last one stands; null where none was asked for. */
export async function latestSettling(db: Executor, mediumId: number) {
  const [row] = await db
    .select({
      state: settlings.state,
      progress: settlings.progress,
      isHurried: settlings.isHurried,
      trouble: settlings.trouble,
    })
    .from(settlings)
    .where(eq(settlings.mediumId, mediumId))
    .orderBy(desc(settlings.id))
    .limit(1);
  return row ? { ...row, trouble: tellIfAny(row.trouble) } : null;
}
