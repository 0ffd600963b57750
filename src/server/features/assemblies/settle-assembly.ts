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
import { storeFairCopy } from '../copies/fair-copies';
import { findLayout } from '../layouts/layouts';
import { note } from '../ledger/ledger';
import { drawCode } from '../media/codes';
import { codeOfCopy, layoutFor, refuseSettled } from './assembly-rows';

/**
 * Keeps what it has become as an image of its own, with what it was made from; what it began with
 * stays as it is.
 */
export async function settleAssembly(
  db: Database,
  operatorId: number,
  id: number,
): Promise<{ code: string }> {
  return db.transaction(async (tx) => {
    await tx
      .select({ id: assemblies.id })
      .from(assemblies)
      .where(eq(assemblies.id, id))
      .for('update');
    const row = await assemblyRow(tx, id);
    refuseSettled(row);
    const { base: before, image } = await openAssembly(tx, row);
    const layout = await layoutFor(tx, row);
    const base = await codeOfCopy(tx, row.baseId);
    const [medium] = await tx
      .insert(media)
      .values({
        code: await drawCode(tx),
        form: await formFor(tx, row, layout),
        title: row.title,
        labelText: row.label,
        lender: '',
        lot: '',
        condition: '',
        registeredBy: operatorId,
      })
      .returning();
    const made =
      `${row.done} ${row.done === 1 ? 'change' : 'changes'} to ` + `${base ?? 'a blank volume'}`;
    await note(tx, {
      operatorId,
      kind: 'registered',
      mediumId: medium!.id,
      what: `${medium!.code} put together as “${row.title}”: ${made}.`,
    });
    const copyId = await storeFairCopy(tx, {
      operatorId,
      mediumId: medium!.id,
      source: 'assembly',
      sourceName: row.title,
      image,
      layout,
      inDoubt: await doubtsLeft(tx, row, before, image),
      settled: null,
      captureBlob: null,
      problems: [],
      why: `Put together by ${made}`,
    });
    await tx
      .update(assemblies)
      .set({ copyId, edits: row.edits.slice(0, row.done), changedAt: new Date() })
      .where(eq(assemblies.id, id));
    await announce(tx, { kind: 'assemblies' });
    return { code: medium!.code };
  });
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
