/** The samples that a question to all sounds finds, of however many media, taken out as one. */
import { and, eq, isNotNull } from 'drizzle-orm';
import { z } from 'zod';
import { said } from '@/core/said';
import type { Database } from '@/server/platform/db/database';
import { UserError } from '@/server/platform/errors';
import { holdings } from '../holdings/tables';
import { SoundsQuestion, meant } from '../sounds/held-sounds';
import { sounds } from '../sounds/tables';
import { MOST_CHOSEN, startExtract } from './extracts';

/** What the route takes. */
export const FoundSounds = z.object({
  question: SoundsQuestion,
  packed: z.boolean().default(false),
  once: z.boolean().default(false),
});

export type FoundAsked = z.input<typeof FoundSounds>;

/** Files that are sounds themselves are no samples: they leave as files do. */
export async function takeFound(
  db: Database,
  operatorId: number,
  { question, ...how }: z.output<typeof FoundSounds>,
): Promise<{ id: number }> {
  const found = await db
    .select({ copy: sounds.fairCopyId, file: sounds.fileId })
    .from(sounds)
    .innerJoin(holdings, eq(holdings.copyId, sounds.fairCopyId))
    .where(and(meant(question), isNotNull(sounds.listed)))
    .limit(MOST_CHOSEN + 1);
  if (found.length > MOST_CHOSEN)
    throw new UserError(said('sound.tooManyToTakeOut', { most: MOST_CHOSEN }), 422);
  if (found.length === 0) throw new UserError(said('sound.noSampleAnswers'), 422);
  const copies = [...new Set(found.map(({ copy }) => copy))];
  const only = found.map(({ file }) => file);
  return startExtract(db, operatorId, { copies, what: 'sounds', only, ...how });
}
