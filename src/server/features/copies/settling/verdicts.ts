/**
 * What a person says of oddities that were proposed as made on purpose: kept so and never mended,
 * or damage after all.
 */
import { and, eq } from 'drizzle-orm';
import { z } from 'zod';
import { sectorName } from '@/core/reading/decode/track-decoder';
import type { Executor } from '@/server/platform/db/database';
import { verdicts } from '../tables';
import { VERDICTS } from '@/server/states';

const place = z.int().min(0).max(255);
export const NewVerdict = z.object({
  cylinder: place,
  head: z.int().min(0).max(1),
  r: place,
  verdict: z.enum(VERDICTS),
  what: z.string().max(300),
});

/** Sectors of a medium that a person holds to be as made. */
export async function asMadeSectors(db: Executor, mediumId: number): Promise<Set<string>> {
  const rows = await db
    .select()
    .from(verdicts)
    .where(and(eq(verdicts.mediumId, mediumId), eq(verdicts.verdict, 'as-made')));
  return new Set(rows.map(sectorName));
}

export function verdictsOf(db: Executor, mediumId: number) {
  return db
    .select({
      cylinder: verdicts.cylinder,
      head: verdicts.head,
      r: verdicts.r,
      verdict: verdicts.verdict,
      what: verdicts.what,
      at: verdicts.at,
    })
    .from(verdicts)
    .where(eq(verdicts.mediumId, mediumId));
}
