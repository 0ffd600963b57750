/** Media: registering, finding, and what is known of each. */
import { eq, inArray } from 'drizzle-orm';
import type { z } from 'zod';
import type { Database, Executor } from '@/server/platform/db/database';
import { formerCodes, lenders, lots, machines, media, sets } from './tables';
import { UserError, notFound } from '@/server/platform/errors';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { announce } from '@/server/platform/events';
import { noteMany } from '../ledger/ledger';
import { countCodes } from './codes';
import type { NewMedium } from './new-medium';
import { said } from '@/core/said';

type Input = z.output<typeof NewMedium>;

/** Some statements for any number of them; codes that are taken are the caller's to look for. */
async function insertMedia(tx: Executor, operatorId: number, inputs: readonly Input[]) {
  await refuseFormerCodes(tx, inputs);
  const rows = await tx
    .insert(media)
    .values(inputs.map((input) => ({ ...input, registeredBy: operatorId })))
    .onConflictDoNothing({ target: media.code })
    .returning();
  const made = new Set(rows.map(({ code }) => code));
  const taken = inputs.find(({ code }) => !made.has(code));
  if (taken)
    throw new UserError(
      said('media.isRegisteredAlreadyNothing', { code: taken.code }),
      409,
      'code',
    );
  // Blanks are in a lot by name only.
  await keepNamed(
    tx,
    inputs.map((input) => ({ ...input, lot: input.isBlank ? '' : input.lot })),
  );
  await countCodes(tx, [...made]);
  await noteMany(
    tx,
    rows.map(({ id, code, title }) => ({
      operatorId,
      kind: 'registered',
      mediumId: id,
      what: said('media.registered', { code, title }),
    })),
  );
  return rows;
}

/** A label that is still about would be of two media. */
async function refuseFormerCodes(tx: Executor, inputs: readonly Input[]): Promise<void> {
  const codes = inputs.map(({ code }) => code);
  const [former] = await tx
    .select({ code: formerCodes.code })
    .from(formerCodes)
    .where(inArray(formerCodes.code, codes))
    .limit(1);
  if (former) throw new UserError(said('media.codeIsAnothers', { code: former.code }), 409, 'code');
}

/** In one order, so that two who name the same at once never wait for each other. */
async function keepNames(
  tx: Executor,
  table: typeof lenders | typeof machines,
  all: readonly string[],
): Promise<void> {
  const names = [...new Set(all)].filter((name) => name !== '').sort();
  if (names.length === 0) return;
  await tx
    .insert(table)
    .values(names.map((name) => ({ name })))
    .onConflictDoNothing();
}

/** Lots, sets, lenders and machines that nobody named before. */
export async function keepNamed(
  tx: Executor,
  named: readonly (Pick<Input, 'lot' | 'lender' | 'setName'> & { machine?: string })[],
): Promise<void> {
  await keepNames(
    tx,
    lenders,
    named.map(({ lender }) => lender),
  );
  await keepNames(
    tx,
    machines,
    named.map(({ machine = '' }) => machine),
  );
  const inLots = named.filter(({ lot }) => lot);
  if (inLots.length > 0)
    await tx
      .insert(lots)
      .values(inLots.map(({ lot, lender }) => ({ name: lot, lender })))
      .onConflictDoNothing();
  const inSets = named.filter(({ setName }) => setName);
  if (inSets.length > 0)
    await tx
      .insert(sets)
      .values(inSets.map(({ setName }) => ({ name: setName })))
      .onConflictDoNothing();
}

export const registerMedium = (db: Database, operatorId: number, input: Input) =>
  db.transaction((tx) => registerMediumIn(tx, operatorId, input));

/** The same in the caller's transaction. */
export async function registerMediumIn(tx: Executor, operatorId: number, input: Input) {
  const [medium] = await insertMedia(tx, operatorId, [input]);
  await announce(tx, { kind: 'media' });
  return medium!;
}

/** Registers all of them, or, where a code is taken or stands twice, none. */
export function registerMany(
  db: Database,
  operatorId: number,
  inputs: readonly Input[],
): Promise<{ registered: number }> {
  return db.transaction((tx) => registerManyIn(tx, operatorId, inputs));
}

/** The same in the caller's transaction. */
export async function registerManyIn(
  tx: Executor,
  operatorId: number,
  inputs: readonly Input[],
): Promise<{ registered: number }> {
  const codes = inputs.map(({ code }) => code);
  const taken = new Set(
    (await tx.select({ code: media.code }).from(media).where(inArray(media.code, codes))).map(
      ({ code }) => code,
    ),
  );
  const wrong = codes.flatMap((code, i) =>
    taken.has(code)
      ? [said('media.isRegisteredAlready', { code })]
      : codes.indexOf(code) !== i
        ? [said('media.standsTwice', { code })]
        : [],
  );
  if (wrong.length > 0)
    throw new UserError(
      said('media.nothingWasRegistered', {
        wrong: wrong.slice(0, 5),
        more: Math.max(0, wrong.length - 5),
      }),
      409,
      'code',
    );
  await insertMedia(tx, operatorId, inputs);
  await announce(tx, { kind: 'media' });
  return { registered: inputs.length };
}

/** By the code that it has, or had once; null where there is none. */
export async function findByCode(db: Executor, wanted: string) {
  const code = sanitizeText(wanted);
  const [medium] = await db.select().from(media).where(eq(media.code, code));
  if (medium) return mergedInto(db, medium);
  const [formerly] = await db
    .select({ medium: media })
    .from(formerCodes)
    .innerJoin(media, eq(media.id, formerCodes.mediumId))
    .where(eq(formerCodes.code, code));
  return formerly ? mergedInto(db, formerly.medium) : null;
}

/** What two labels were found to stand on is one medium, by whichever of them it is asked for. */
async function mergedInto(db: Executor, medium: typeof media.$inferSelect) {
  if (medium.mergedIntoId === null) return medium;
  const [kept] = await db.select().from(media).where(eq(media.id, medium.mergedIntoId));
  return kept!;
}

/**
 * The same, and it stays in use and what it is until the caller's transaction ends: what is laid
 * beside it or kept of it meanwhile can't be left with one that is merged into another.
 */
export async function heldMedium(tx: Executor, code: string) {
  const { id } = await mediumByCode(tx, code);
  const [medium] = await tx.select().from(media).where(eq(media.id, id)).for('share');
  return mergedInto(tx, medium!);
}

export async function mediumByCode(db: Executor, code: string) {
  const medium = await findByCode(db, code);
  if (!medium) throw notFound(said('platform.medium', { code: sanitizeText(code) }));
  return medium;
}
