/**
 * An assembly settled as an image of its own, with the doubts that it inherits: asked for by a
 * request, done by a job.
 */
import { eq } from 'drizzle-orm';
import { sameBytes } from '@/core/bits/same-bytes';
import type { MediumForm } from '@/core/medium-form';
import { assemblies } from './tables';
import type { Database, Executor } from '@/server/platform/db/database';
import { isTakenUpAgain, type JobContext, type JobOutcome } from '@/server/platform/jobs/engine';
import { enqueue } from '@/server/platform/jobs/enqueue';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { announce } from '@/server/platform/events';
import { doubtsOfCopy } from '../copies/doubts-of-copy';
import { NO_DOUBTS, type Doubts } from '@/core/block/image-doubts';
import { openAssembly, type AssemblyRow } from './assembly-volume';
import { saidOf, UserError } from '@/server/platform/errors';
import { examineCopy, type CopyToExamine } from '../copies/keeping/examine-copy';
import { storeFairCopy } from '../copies/keeping/fair-copies';
import { findLayout } from '../layouts/layouts';
import { note } from '../ledger/ledger';
import { drawCode } from '../media/codes';
import { codeOfCopy, layoutFor, lockAssembly, refuseSettled } from './assembly-rows';
import { said, type Said } from '@/core/said';

/** Asks for it; from now on it takes no more changes. */
export async function askToSettle(db: Database, operatorId: number, id: number): Promise<void> {
  await db.transaction(async (tx) => {
    refuseSettled(await lockAssembly(tx, id));
    await set(tx, id, { settledBy: operatorId, trouble: null });
    await enqueue(tx, 'assembly', { assemblyId: id }, { askedBy: operatorId });
  });
}

export async function runAssembly({
  db,
  commit,
  signal,
  payload: { assemblyId },
}: JobContext<'assembly'>): Promise<JobOutcome> {
  const [row] = await db.select().from(assemblies).where(eq(assemblies.id, assemblyId));
  if (!row || row.copyId !== null || row.settledBy === null) return 'done';
  try {
    await settleAssembly({ db, commit }, row, row.settledBy);
  } catch (error) {
    if (isTakenUpAgain(error, signal)) throw error;
    const trouble = saidOf(error, (message) => said('assemblies.itCouldNotBe', { message }));
    await commit((tx) => set(tx, assemblyId, { settledBy: null, trouble }));
    if (!(error instanceof UserError)) throw error;
  }
  return 'done';
}

/** Nothing came of it, and it takes changes again; what was told of it by then stays. */
export const giveUpAssembly = (
  { commit, payload: { assemblyId } }: JobContext<'assembly'>,
  trouble: Said,
): Promise<void> =>
  commit(async (tx) => {
    const row = await lockAssembly(tx, assemblyId);
    if (row.settledBy !== null && row.copyId === null)
      await set(tx, assemblyId, { settledBy: null, trouble });
  });

async function set(
  tx: Executor,
  id: number,
  values: Partial<typeof assemblies.$inferInsert>,
): Promise<void> {
  await tx.update(assemblies).set(values).where(eq(assemblies.id, id));
  await announce(tx, { kind: 'assemblies' });
}

/**
 * Keeps what it has become as an image of its own, with what it was made from; what it began with
 * stays as it is.
 */
export async function settleAssembly(
  { db, commit }: Pick<JobContext, 'db' | 'commit'>,
  row: AssemblyRow,
  operatorId: number,
): Promise<void> {
  const { base: before, image } = await openAssembly(db, row);
  const layout = await layoutFor(db, row);
  const form = await formFor(db, row, layout);
  const copy: CopyToExamine = {
    image,
    layout,
    inDoubt: await doubtsLeft(db, row, before, image),
    settled: null,
  };
  const examined = await examineCopy(db, copy);
  await commit(async (tx) => {
    // Thrown away meanwhile, it leaves no image behind.
    await lockAssembly(tx, row.id);
    const made = await madeFrom(tx, row);
    const medium = await registerAssembly(tx, operatorId, row, form, made);
    const copyId = await storeFairCopy(
      tx,
      {
        ...copy,
        operatorId,
        mediumId: medium.id,
        source: 'assembly',
        sourceName: row.title,
        captureBlob: null,
        problems: [],
        why: said('assemblies.putTogetherBy', { made }),
      },
      examined,
    );
    const edits = row.edits.slice(0, row.done);
    await set(tx, row.id, { copyId, edits, changedAt: new Date() });
  });
}

/** `3 changes to SKP-0104`, as the ledger says it. */
async function madeFrom(tx: Executor, { done, baseId }: AssemblyRow): Promise<Said> {
  const base = await codeOfCopy(tx, baseId);
  return said('assemblies.changesTo', { done, base: base ?? said('assemblies.aBlankVolume') });
}

async function registerAssembly(
  tx: Executor,
  operatorId: number,
  { title, label }: AssemblyRow,
  form: MediumForm,
  made: Said,
) {
  const [medium] = await tx
    .insert(media)
    .values({
      code: await drawCode(tx),
      form,
      title,
      labelText: label,
      lender: '',
      lot: '',
      condition: '',
      registeredBy: operatorId,
    })
    .returning();
  await note(tx, {
    operatorId,
    kind: 'registered',
    mediumId: medium!.id,
    what: said('assemblies.putTogetherAs', { code: medium!.code, title, made }),
  });
  return medium!;
}

/** What was in doubt of the image it began with and stands there as it was is in doubt still. */
async function doubtsLeft(
  tx: Executor,
  { baseId }: AssemblyRow,
  before: Uint8Array,
  image: Uint8Array,
): Promise<Doubts> {
  if (baseId === null) return NO_DOUBTS;
  const [copy] = await tx.select().from(fairCopies).where(eq(fairCopies.id, baseId));
  const { ranges, sectorBytes } = await doubtsOfCopy(tx, copy!);
  const left = ranges.filter(({ offset, length }) =>
    sameBytes(before.subarray(offset, offset + length), image.subarray(offset, offset + length)),
  );
  return { ranges: left, sectorBytes };
}

async function formFor(
  tx: Executor,
  { baseId }: AssemblyRow,
  layout: string | null,
): Promise<MediumForm> {
  if (baseId !== null) {
    const [base] = await tx
      .select({ form: media.form })
      .from(fairCopies)
      .innerJoin(media, eq(media.id, fairCopies.mediumId))
      .where(eq(fairCopies.id, baseId));
    if (base) return base.form;
  }
  return (layout && (await findLayout(tx, layout))?.forms[0]) || '3.5';
}
