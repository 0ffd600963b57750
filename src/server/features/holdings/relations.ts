/**
 * What people settled of media that are alike: one is a copy of the other, or they are not the same
 * whatever they share.
 */
import { and, eq, inArray, ne, notInArray, or, sql } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import { z } from 'zod';
import type { Database, Executor } from '@/server/platform/db/database';
import { relations } from './tables';
import { media } from '../media/tables';
import { UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { RELATION_KINDS } from '@/server/states';
import { note } from '../ledger/ledger';
import { mediumByCode } from '../media/media';
import { said } from '@/core/said';

/** What the route takes; `null` takes back what was said. */
export const NewRelation = z.object({
  of: z.string().max(60),
  to: z.string().max(60),
  kind: z.enum(RELATION_KINDS).nullable(),
});

type Medium = Awaited<ReturnType<typeof mediumByCode>>;

export async function relate(
  db: Database,
  operatorId: number,
  { of, to, kind }: z.output<typeof NewRelation>,
): Promise<void> {
  await db.transaction(async (tx) => {
    const [one, other] = [await mediumByCode(tx, of), await mediumByCode(tx, to)];
    if (one.id === other.id)
      throw new UserError(said('holdings.cantBeACopy', { code: one.code }), 409);
    const either = or(
      and(eq(relations.mediumId, one.id), eq(relations.otherId, other.id)),
      and(eq(relations.mediumId, other.id), eq(relations.otherId, one.id)),
    );
    await refuseSecondOriginal(kind, tx, one, other);
    // A copy of a copy of itself would go round in a circle.
    await refuseCircle(kind, other, tx, one);
    await tx.delete(relations).where(either);
    if (kind)
      await tx.insert(relations).values({ mediumId: one.id, otherId: other.id, kind, operatorId });
    const what =
      kind === 'copy-of'
        ? said('holdings.isACopyOf2', { code: one.code, code2: other.code })
        : kind
          ? said('holdings.andAreNotThe', { code: one.code, code2: other.code })
          : said('holdings.whatWasSaidOf', { code: one.code, code2: other.code });
    await note(tx, { operatorId, kind: 'related', mediumId: one.id, what });
    await note(tx, { operatorId, kind: 'related', mediumId: other.id, what });
    await announce(tx, { kind: 'media' });
  });
}

async function refuseSecondOriginal(
  kind: z.output<typeof NewRelation>['kind'],
  tx: Executor,
  one: Medium,
  other: Medium,
) {
  if (kind === 'copy-of') {
    const [already] = await tx
      .select({ code: media.code })
      .from(relations)
      .innerJoin(media, eq(media.id, relations.otherId))
      .where(
        and(
          eq(relations.mediumId, one.id),
          eq(relations.kind, 'copy-of'),
          ne(relations.otherId, other.id),
        ),
      );
    if (already)
      throw new UserError(said('holdings.isACopyOf', { code: one.code, code2: already.code }), 409);
  }
}

async function refuseCircle(
  kind: z.output<typeof NewRelation>['kind'],
  other: Medium,
  tx: Executor,
  one: Medium,
) {
  if (kind === 'copy-of') {
    for (let at: number | null = other.id, steps = 0; at !== null && steps < 100; steps++) {
      const [next]: { otherId: number }[] = await tx
        .select({ otherId: relations.otherId })
        .from(relations)
        .where(and(eq(relations.mediumId, at), eq(relations.kind, 'copy-of')));
      if (next?.otherId === one.id && at !== other.id)
        throw new UserError(
          said('holdings.isItselfACopy', { code: other.code, code2: one.code }),
          409,
        );
      at = next?.otherId ?? null;
    }
  }
}

/** What was said of a medium, from its side. */
export async function relationsOf(db: Executor, mediumId: number) {
  const [one, other] = [alias(media, 'one'), alias(media, 'other')];
  const rows = await db
    .select({ kind: relations.kind, ofId: relations.mediumId, of: one.code, to: other.code })
    .from(relations)
    .innerJoin(one, eq(one.id, relations.mediumId))
    .innerJoin(other, eq(other.id, relations.otherId))
    .where(or(eq(relations.mediumId, mediumId), eq(relations.otherId, mediumId)))
    .orderBy(one.code, other.code);
  return rows.map(({ kind, ofId, of, to }) => ({
    kind:
      kind === 'copy-of'
        ? ofId === mediumId
          ? ('copy-of' as const)
          : ('has-copy' as const)
        : kind,
    code: ofId === mediumId ? to : of,
  }));
}

/** Both would be copies of something, and one medium is a copy of one other at most. */
async function refuseTwoOriginals(tx: Executor, from: Medium, to: Medium): Promise<void> {
  const both = [from.id, to.id];
  const originals = await tx
    .selectDistinct({ id: relations.otherId })
    .from(relations)
    .where(
      and(
        inArray(relations.mediumId, both),
        notInArray(relations.otherId, both),
        eq(relations.kind, 'copy-of'),
      ),
    );
  if (originals.length > 1)
    throw new UserError(said('holdings.twoOriginals', { code: from.code, code2: to.code }), 409);
}

/**
 * What was said of a medium holds for another: they were found to be one. What was said of the two
 * is settled with it; where something else was said of the other, that counts.
 */
export async function moveRelations(tx: Executor, from: Medium, to: Medium): Promise<void> {
  await refuseTwoOriginals(tx, from, to);
  await tx.execute(sql`
    update ${relations} r set medium_id = ${to.id} where r.medium_id = ${from.id}
      and r.other_id <> ${to.id} and not exists (select 1 from ${relations} o
        where (o.medium_id, o.other_id) in ((${to.id}, r.other_id), (r.other_id, ${to.id})))`);
  await tx.execute(sql`
    update ${relations} r set other_id = ${to.id} where r.other_id = ${from.id}
      and r.medium_id <> ${to.id} and not exists (select 1 from ${relations} o
        where (o.medium_id, o.other_id) in ((${to.id}, r.medium_id), (r.medium_id, ${to.id})))`);
  await tx
    .delete(relations)
    .where(or(eq(relations.mediumId, from.id), eq(relations.otherId, from.id)));
}
