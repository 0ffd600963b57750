/**
 * Sets: media that belong together, which of them are missing, and what is still to be completed
 * of every
 * medium.
 */
import { asc, eq, ne, sql } from 'drizzle-orm';
import type { z } from 'zod';
import type { Database, Executor } from '@/server/platform/db/database';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { fairCopies } from '../copies/tables';
import { media, sets } from './tables';
import { notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { note } from '../ledger/ledger';
import type { SetChange } from './new-medium';
import { pictured } from './papers';

/** Most places of a set that are looked through for missing members. */
const MAX_MEMBERS = 9999;

/**
 * Places of a set that no medium has, up to what it should have, or to the highest that is there.
 */
function missingPlaces(members: number | null, there: readonly (number | null)[]): number[] {
  const numbers = new Set(there);
  const last = Math.min(MAX_MEMBERS, members ?? Math.max(0, ...there.map((each) => each ?? 0)));
  return Array.from({ length: last }, (_, i) => i + 1).filter((number) => !numbers.has(number));
}

async function listSets(db: Executor) {
  const [rows, members] = await Promise.all([
    db.select().from(sets).orderBy(asc(sets.name)),
    db
      .select({
        code: media.code,
        title: media.title,
        setName: media.setName,
        setNumber: media.setNumber,
      })
      .from(media)
      .where(ne(media.setName, ''))
      .orderBy(asc(media.setNumber), asc(media.code)),
  ]);
  return rows.map(({ name, members: wanted }) => {
    const own = members.filter(({ setName }) => setName === name);
    return {
      name,
      members: wanted,
      own: own.map(({ code, title, setNumber }) => ({ code, title, number: setNumber })),
      missing: missingPlaces(
        wanted,
        own.map(({ setNumber }) => setNumber),
      ),
    };
  });
}

export async function setOf(db: Executor, name: string) {
  return name === '' ? null : ((await listSets(db)).find((each) => each.name === name) ?? null);
}

export async function changeSet(
  db: Database,
  operatorId: number,
  name: string,
  { members }: z.output<typeof SetChange>,
): Promise<void> {
  await db.transaction(async (tx) => {
    const changed = await tx
      .update(sets)
      .set({ members })
      .where(eq(sets.name, sanitizeText(name)))
      .returning({ name: sets.name });
    if (changed.length === 0) throw notFound(`set ${name}`);
    await note(tx, {
      operatorId,
      kind: 'set',
      what: `The set ${name} should have ${members ?? 'a number not known of'} media.`,
    });
    await announce(tx, { kind: 'media' });
  });
}

const NOT_KNOWN = /^(not known|unknown|untitled|\?)/i;

/** What is still to be completed of every medium, kept or waiting, and which members sets lack. */
export async function listToComplete(db: Executor) {
  const rows = await db
    .select({
      id: media.id,
      code: media.code,
      title: media.title,
      form: media.form,
      lot: media.lot,
      lender: media.lender,
      labelText: media.labelText,
      condition: media.condition,
      marks: media.marks,
      recordedSide: media.recordedSide,
      held: sql<boolean>`exists (select 1 from ${fairCopies} f where f.medium_id = ${media.id})`,
    })
    .from(media)
    .where(sql`not ${media.isBlank} and not ${media.isReference}`)
    .orderBy(asc(media.code));
  const withPicture = await pictured(
    db,
    rows.map(({ id }) => id),
  );
  const toComplete = rows
    .map(({ id, title, lender, labelText, condition, marks, recordedSide, ...row }) => ({
      ...row,
      title,
      toComplete: [
        ...(NOT_KNOWN.test(title) ? ['what it is'] : []),
        ...(lender === '' ? ['owner'] : []),
        ...(labelText === '' ? ['label'] : []),
        ...(condition === '' && marks.length === 0 ? ['condition'] : []),
        ...(withPicture.has(id) ? [] : ['photo']),
        ...(recordedSide === 'not-said' ? ['side'] : []),
      ],
    }))
    .filter((row) => row.toComplete.length > 0);
  return {
    media: toComplete,
    of: rows.length,
    sets: (await listSets(db)).filter(({ missing }) => missing.length > 0),
  };
}
