/**
 * Named operators, without passwords: the application listens on loopback only. Accounts will take
 * this file's place.
 */
import { asc, eq } from 'drizzle-orm';
import { z } from 'zod';
import type { Database, Executor } from '@/server/platform/db/database';
import { operators } from './tables';

export const OperatorName = z
  .string()
  .trim()
  .min(1, 'Say who is at work.')
  .max(80, 'At most 80 characters.')
  .regex(/^[^\0]*$/, "A NUL can't stand here.");

export function listOperators(db: Executor) {
  return db.select().from(operators).orderBy(asc(operators.name));
}

/** The operator of this name, made where there is none. */
export async function operatorNamed(db: Database, name: string): Promise<number> {
  await db.insert(operators).values({ name }).onConflictDoNothing();
  const [row] = await db.select().from(operators).where(eq(operators.name, name));
  return row!.id;
}
