/**
 * Named operators, without passwords: the application listens on loopback only. Accounts will take
 * this file's place.
 */
import { asc, eq } from 'drizzle-orm';
import { z } from 'zod';
import type { Database, Executor } from '@/server/platform/db/database';
import { operators } from './tables';
import { say } from '@/messages';

export const OperatorName = z
  .string()
  .trim()
  .min(1, say.forms.sayWhoIsAt)
  .max(80, say.forms.atMost80Characters)
  .regex(/^[^\0]*$/, say.forms.aNulCantStand);

export function listOperators(db: Executor) {
  return db.select().from(operators).orderBy(asc(operators.name));
}

/** The operator of this name, made where there is none. */
export async function operatorNamed(db: Database, name: string): Promise<number> {
  await db.insert(operators).values({ name }).onConflictDoNothing();
  const [row] = await db.select().from(operators).where(eq(operators.name, name));
  return row!.id;
}
