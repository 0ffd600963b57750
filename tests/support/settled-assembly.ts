/** An assembly settled as an image, by its job, for tests. */
import { eq } from 'drizzle-orm';
import { actOnAssembly } from '@/server/features/assemblies/assemblies';
import { codeOfCopy } from '@/server/features/assemblies/assembly-rows';
import { assemblies } from '@/server/features/assemblies/tables';
import type { Database } from '@/server/platform/db/database';
import { until } from './application';

/** The code of the image it has become. */
export async function settledAssembly(db: Database, who: number, id: number): Promise<string> {
  await actOnAssembly(db, who, id, { do: 'settle' });
  return until(`assembly ${id} to be settled`, async () => {
    const [row] = await db.select().from(assemblies).where(eq(assemblies.id, id));
    if (row!.trouble) throw new Error(row!.trouble.code);
    return codeOfCopy(db, row!.copyId);
  });
}
