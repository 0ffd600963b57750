/** Of an assembly as it stands: what it may still be, and what it follows. */
import { eq } from 'drizzle-orm';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
import { assemblies } from './tables';
import { media } from '../media/tables';
import { UserError, notFound } from '@/server/platform/errors';
import { type AssemblyRow } from './assembly-volume';
import { said } from '@/core/said';

export const codeOfCopy = async (db: Executor, id: number | null) =>
  id === null
    ? null
    : ((
        await db
          .select({ code: media.code })
          .from(fairCopies)
          .innerJoin(media, eq(media.id, fairCopies.mediumId))
          .where(eq(fairCopies.id, id))
      )[0]?.code ?? null);

/** The layout that its image goes on: the blank's own, or that of the image it began with. */
export async function layoutFor(
  db: Executor,
  { kind, baseId }: AssemblyRow,
): Promise<string | null> {
  if (baseId === null) return BLANK_KINDS.find(({ id }) => id === kind)?.layout ?? null;
  const [copy] = await db
    .select({ layout: fairCopies.layout })
    .from(fairCopies)
    .where(eq(fairCopies.id, baseId));
  return copy?.layout ?? null;
}

export function refuseSettled({ copyId, settledBy, title }: AssemblyRow): void {
  if (copyId !== null) throw new UserError(said('assemblies.isSettledItsImage', { title }), 409);
  if (settledBy !== null) throw new UserError(said('assemblies.isBeingSettled', { title }), 409);
}

/** The assembly as it is, kept from others until the transaction ends. */
export async function lockAssembly(tx: Executor, id: number): Promise<AssemblyRow> {
  const [row] = await tx.select().from(assemblies).where(eq(assemblies.id, id)).for('update');
  if (!row) throw notFound(said('assemblies.assembly', { id }));
  return row;
}

/** Locks an assembly, and says whether it is still as it was when `row` was read. */
export async function isUnchanged(tx: Executor, row: AssemblyRow): Promise<boolean> {
  const now = await lockAssembly(tx, row.id);
  return (
    now.done === row.done &&
    now.copyId === row.copyId &&
    now.settledBy === row.settledBy &&
    now.changedAt.getTime() === row.changedAt.getTime()
  );
}
