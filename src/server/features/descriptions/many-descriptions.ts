/** What is said of many media at once: seen before it is done, each with what it was. */
import { eq, inArray } from 'drizzle-orm';
import type { z } from 'zod';
import { type Acquisition, isNothingSaid, NOT_ACQUIRED } from '@/core/description/acquisition';
import type { Described } from '@/core/description/inherited';
import { said } from '@/core/said';
import type { Executor } from '@/server/platform/db/database';
import { noteMany } from '../ledger/ledger';
import { agreementsOf, changesOf, elementsAfter, saidIn, wordsOfAll } from './descriptions';
import { changeSaid, type DescriptionFact } from './description-facts';
import type { DescriptionRow } from './new-description';
import { descriptions } from './tables';

type Row = typeof descriptions.$inferSelect;
type Asked = z.output<typeof DescriptionRow>;

export interface PlannedDescription {
  now: Described<Acquisition>;
  changes: DescriptionFact[];
}

/** A table has no papers: the agreement stays as it is. */
function acquiredAfter(was: Acquisition | null, change: Asked['acquisition']): Acquisition | null {
  if (change === undefined) return was;
  const now = { ...(was ?? NOT_ACQUIRED), ...change };
  return isNothingSaid(now) ? null : now;
}

/** Locked rows are nobody else's until the transaction ends. */
async function rowsOf(db: Executor, ids: number[], isLocked: boolean): Promise<Map<number, Row>> {
  if (isLocked)
    await db
      .insert(descriptions)
      .values(ids.map((mediumId) => ({ mediumId })))
      .onConflictDoNothing();
  const query = db
    .select()
    .from(descriptions)
    .where(inArray(descriptions.mediumId, ids))
    .orderBy(descriptions.id);
  const rows = await (isLocked ? query.for('update') : query);
  return new Map(rows.map((row) => [row.mediumId!, row]));
}

/** What would be said of media, by their numbers. */
export async function planDescriptions(
  db: Executor,
  asked: ReadonlyMap<number, Asked>,
  isLocked: boolean,
): Promise<Map<number, PlannedDescription>> {
  if (asked.size === 0) return new Map();
  const rows = await rowsOf(db, [...asked.keys()], isLocked);
  const papers = await agreementsOf(db, [...rows.values()]);
  return new Map(
    [...asked].map(([id, { elements, acquisition }]) => {
      const was = saidIn(rows.get(id));
      const now = {
        elements: elementsAfter(was.elements, elements ?? {}),
        acquisition: acquiredAfter(was.acquisition, acquisition),
      };
      return [id, { now, changes: changesOf(was, now, papers) }];
    }),
  );
}

/** Of what was planned with its rows locked. */
export async function keepDescriptions(
  tx: Executor,
  operatorId: number,
  plans: readonly (PlannedDescription & { mediumId: number; code: string })[],
): Promise<void> {
  const changing = plans.filter(({ changes }) => changes.length > 0);
  for (const { mediumId, now } of changing)
    await tx
      .update(descriptions)
      .set({ ...now, words: wordsOfAll(now) })
      .where(eq(descriptions.mediumId, mediumId));
  await noteMany(
    tx,
    changing.map(({ mediumId, code, changes }) => ({
      operatorId,
      kind: 'described' as const,
      mediumId,
      what: said('descriptions.described', { name: code, changes: changes.map(changeSaid) }),
    })),
  );
}
