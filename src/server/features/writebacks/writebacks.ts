/**
 * Write-backs: an image written to a blank and proved. The writing is a job; an original is never a
 * target.
 */
import { sealCertificate } from './certificates';
import { eq } from 'drizzle-orm';
import { normalizeCode } from '@/core/medium-code';
import { z } from 'zod';
import type { Database, Executor } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { writebacks } from './tables';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { UserError, notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { endJob, wakeJob } from '@/server/platform/jobs/enqueue';
import { OUTCOMES } from '@/server/states';
import { note } from '../ledger/ledger';
import { queueIn } from './writeback-queue';
import { refuseHeldCopies } from '../rights/holds';
import { WritebackRequest, startWritebackIn } from './start-writeback';
import { said } from '@/core/said';

/**
 * Begins a write-back, and puts as many more as are wanted in the station's queue, where each
 * waits for
 * the next blank.
 */
export function startWriteback(
  db: Database,
  operatorId: number,
  input: z.input<typeof WritebackRequest>,
): Promise<number> {
  const { count, ...wish } = WritebackRequest.parse(input);
  return db.transaction(async (tx) => {
    await refuseHeldCopies(tx, [wish.fairCopyId], operatorId);
    const id = await startWritebackIn(tx, operatorId, wish);
    await queueIn(tx, operatorId, wish, count - 1);
    return id;
  });
}

/**
 * Answers a write-back that asks because something is on its target: `typed` must be the target's
 * code.
 */
export async function confirmOverwrite(
  db: Database,
  operatorId: number,
  id: number,
  typed: string,
): Promise<void> {
  await db.transaction(async (tx) => {
    const [row] = await tx
      .select()
      .from(writebacks)
      .innerJoin(media, eq(media.id, writebacks.targetId))
      .where(eq(writebacks.id, id))
      .for('update', { of: writebacks });
    if (!row) throw notFound(said('writebacks.writeBack', { id }));
    if (row.writebacks.state !== 'asks') throw new UserError(said('writebacks.thisWriteBackDoes'));
    if (normalizeCode(typed) !== row.media.code)
      throw new UserError(
        said('writebacks.typeToWriteOver', { code: row.media.code }),
        422,
        'typed',
      );
    await tx
      .update(writebacks)
      .set({ overwrite: true, state: 'waiting', now: said('platform.waitingForAWorker') })
      .where(eq(writebacks.id, id));
    await wakeJob(tx, 'writeback', { writebackId: id });
    await note(tx, {
      operatorId,
      kind: 'writeback-asked',
      stationId: row.writebacks.stationId,
      writebackId: id,
      what: said('writebacks.mayBeWrittenOver', { code: row.media.code }),
    });
    await announce(tx, { kind: 'writeback', writebackId: id, stationId: row.writebacks.stationId });
  });
}

/**
 * Gives up a write-back: at once where it asks, at its next step where the device keeps it waiting.
 * What it was made from is not touched either way.
 */
export async function giveUpWriteback(db: Database, operatorId: number, id: number): Promise<void> {
  await db.transaction(async (tx) => {
    const [row] = await tx.select().from(writebacks).where(eq(writebacks.id, id)).for('update');
    if (!row) throw notFound(said('writebacks.writeBack', { id }));
    if (row.state === 'held' || row.state === 'writing' || row.state === 'waiting') {
      await tx.update(writebacks).set({ cancelled: true }).where(eq(writebacks.id, id));
      await announce(tx, { kind: 'writeback', writebackId: id, stationId: row.stationId });
      return;
    }
    if (row.state !== 'asks') throw new UserError(said('writebacks.thisWriteBackHas'));
    await tx
      .update(writebacks)
      .set({ state: 'failed', now: said('writebacks.givenUpNothingWas'), endedAt: new Date() })
      .where(eq(writebacks.id, id));
    await endJob(tx, 'writeback', { writebackId: id });
    await note(tx, {
      operatorId,
      kind: 'writeback-ended',
      stationId: row.stationId,
      writebackId: id,
      what: said('writebacks.writeBackGivenUp'),
    });
    await announce(tx, { kind: 'writeback', writebackId: id, stationId: row.stationId });
  });
}

export const OutcomeTold = z.object({
  outcome: z.enum(OUTCOMES),
  note: z.string().trim().max(2000).transform(sanitizeText).default(''),
});

const OUTCOME_WORDS = {
  works: said('writebacks.itWorks'),
  'does-not': said('writebacks.itDoesNotWork'),
  'not-tried': said('writebacks.itIsNotGoing'),
} as const;

async function lockProved(tx: Executor, id: number) {
  const [row] = await tx
    .select()
    .from(writebacks)
    .innerJoin(fairCopies, eq(fairCopies.id, writebacks.fairCopyId))
    .where(eq(writebacks.id, id))
    .for('update', { of: writebacks });
  if (!row) throw notFound(said('writebacks.writeBack', { id }));
  if (row.writebacks.state !== 'proved') throw new UserError(said('writebacks.onlyAWriteBack'));
  return row;
}

/** How the disk did in the old machine; may be said again, as the last word counts. */
export async function tellOutcome(
  db: Database,
  operatorId: number,
  id: number,
  { outcome, note: words }: z.output<typeof OutcomeTold>,
): Promise<void> {
  await db.transaction(async (tx) => {
    const row = await lockProved(tx, id);
    await tx
      .update(writebacks)
      .set({ outcome, outcomeNote: words, outcomeBy: operatorId, outcomeAt: new Date() })
      .where(eq(writebacks.id, id));
    await note(tx, {
      operatorId,
      kind: 'writeback-outcome',
      mediumId: row.fair_copies.mediumId,
      writebackId: id,
      what: said('writebacks.triedInTheMachine', {
        outcomeWord: OUTCOME_WORDS[outcome],
        words: words && `. ${words}`,
      }),
    });
    await announce(tx, { kind: 'writeback', writebackId: id, stationId: row.writebacks.stationId });
  });
  await sealCertificate(db, id);
}
