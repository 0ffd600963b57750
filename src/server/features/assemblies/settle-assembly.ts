/** An assembly settled as an image of its own, with the doubts that it inherits. */
import { eq } from 'drizzle-orm';
import { sameBytes } from '@/core/bits/same-bytes';
import type { MediumForm } from '@/core/medium-form';
import { assemblies } from './tables';
import type { Database, Executor } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { announce } from '@/server/platform/events';
import { doubtsOfCopy } from './assembly-sources';
import { assemblyRow, openAssembly, type AssemblyRow } from './assembly-volume';
import { UserError } from '@/server/platform/errors';
import { examineCopy, type CopyToExamine } from '../copies/keeping/examine-copy';
import { storeFairCopy } from '../copies/keeping/fair-copies';
import { findLayout } from '../layouts/layouts';
import { note } from '../ledger/ledger';
import { drawCode } from '../media/codes';
import { codeOfCopy, isUnchanged, layoutFor, refuseSettled } from './assembly-rows';
import { said, type Said } from '@/core/said';

/**
 * Keeps what it has become as an image of its own, with what it was made from; what it began with
 * stays as it is.
 */
export async function settleAssembly(
  db: Database,
  operatorId: number,
  id: number,
): Promise<{ code: string }> {
  const row = await assemblyRow(db, id);
  refuseSettled(row);
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
  return db.transaction(async (tx) => {
    if (!(await isUnchanged(tx, row)))
      throw new UserError(said('assemblies.itWasChangedWhile'), 409);
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
    await tx
      .update(assemblies)
      .set({ copyId, edits: row.edits.slice(0, row.done), changedAt: new Date() })
      .where(eq(assemblies.id, id));
    await announce(tx, { kind: 'assemblies' });
    return { code: medium.code };
  });
}

/** `3 changes to SKP-0104`, as the ledger says it. */
async function madeFrom(tx: Executor, { done, baseId }: AssemblyRow): Promise<Said> {
  const base = await codeOfCopy(tx, baseId);
  return said('assemblies.changesTo', { done, base: base ?? 'a blank volume' });
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
): Promise<{ offset: number; length: number }[]> {
  if (baseId === null) return [];
  const [copy] = await tx.select().from(fairCopies).where(eq(fairCopies.id, baseId));
  return (await doubtsOfCopy(tx, copy!)).filter(({ offset, length }) =>
    sameBytes(before.subarray(offset, offset + length), image.subarray(offset, offset + length)),
  );
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
