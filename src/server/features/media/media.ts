/** Media: registering, finding, and what is known of each. */
import { asc, desc, eq, inArray, sql } from 'drizzle-orm';
import type { z } from 'zod';
import { CONDITION_MARKS, MARK_WORDS, SIDE_WORDS } from '@/core/condition';
import type { Database, Executor } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
import { lots, media, sets } from './tables';
import { sittings } from '../sittings/tables';
import { stations } from '../stations/tables';
import { UserError, notFound } from '@/server/platform/errors';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { announce } from '@/server/platform/events';
import { note, noteMany } from '../ledger/ledger';
import { countCodes } from './codes';
import type { LotChange, MediumChange, NewMedium } from './new-medium';

type Input = z.output<typeof NewMedium>;

/** Some statements for any number of them; codes that are taken are the caller's to look for. */
async function insertMedia(tx: Executor, operatorId: number, inputs: readonly Input[]) {
  const rows = await tx
    .insert(media)
    .values(inputs.map((input) => ({ ...input, registeredBy: operatorId })))
    .onConflictDoNothing({ target: media.code })
    .returning();
  const made = new Set(rows.map(({ code }) => code));
  const taken = inputs.find(({ code }) => !made.has(code));
  if (taken)
    throw new UserError(
      `${taken.code} is registered already. Nothing was changed; choose another code.`,
      409,
      'code',
    );
  const inLots = inputs.filter(({ lot, isBlank }) => lot && !isBlank);
  if (inLots.length > 0)
    await tx
      .insert(lots)
      .values(inLots.map(({ lot, lender }) => ({ name: lot, lender })))
      .onConflictDoNothing();
  const inSets = inputs.filter(({ setName }) => setName);
  if (inSets.length > 0)
    await tx
      .insert(sets)
      .values(inSets.map(({ setName }) => ({ name: setName })))
      .onConflictDoNothing();
  await countCodes(tx, [...made]);
  await noteMany(
    tx,
    rows.map(({ id, code, title }) => ({
      operatorId,
      kind: 'registered',
      mediumId: id,
      what: `${code} registered: ${title}.`,
    })),
  );
  return rows;
}

export async function registerMedium(db: Database, operatorId: number, input: Input) {
  return db.transaction(async (tx) => {
    const [medium] = await insertMedia(tx, operatorId, [input]);
    await announce(tx, { kind: 'media' });
    return medium!;
  });
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
      ? [`${code} is registered already`]
      : codes.indexOf(code) !== i
        ? [`${code} stands twice`]
        : [],
  );
  if (wrong.length > 0)
    throw new UserError(
      'Nothing was registered: ' +
        `${wrong.slice(0, 5).join('; ')}${wrong.length > 5 ? `; and ${wrong.length - 5} more` : ''}.`,
      409,
      'code',
    );
  await insertMedia(tx, operatorId, inputs);
  await announce(tx, { kind: 'media' });
  return { registered: inputs.length };
}

/** Says more of a medium: its condition, its label, whose it is. */
export async function describeMedium(
  db: Database,
  operatorId: number,
  code: string,
  change: z.output<typeof MediumChange>,
): Promise<void> {
  await db.transaction(async (tx) => {
    const { id } = await mediumByCode(tx, code);
    if (Object.keys(change).length === 0) return;
    const [medium] = await tx.select().from(media).where(eq(media.id, id)).for('update');
    if (!medium) throw notFound(`medium ${code}`);
    const marks = CONDITION_MARKS.filter(
      (mark) => change.marks?.[mark] ?? medium.marks.includes(mark),
    );
    await tx
      .update(media)
      .set({ ...change, marks })
      .where(eq(media.id, id));
    if (change.lot)
      await tx
        .insert(lots)
        .values({ name: change.lot, lender: change.lender ?? medium.lender })
        .onConflictDoNothing();
    if (change.setName)
      await tx.insert(sets).values({ name: change.setName }).onConflictDoNothing();
    const marked =
      change.marks &&
      (marks.length > 0 ? marks.map((mark) => MARK_WORDS[mark]).join(', ') : 'no marks');
    const said = [
      marked,
      change.treatFirst !== undefined &&
        (change.treatFirst ? 'not to be read before treatment' : 'may be read'),
      change.writeProtected !== undefined &&
        (change.writeProtected ? 'write-protected' : 'not write-protected'),
      change.recordedSide && `recorded: ${SIDE_WORDS[change.recordedSide]}`,
      change.origin &&
        'out of ' +
          (`${change.origin.machine || 'a machine not known'}` +
            `${change.origin.jumpers && `, jumpers ${change.origin.jumpers}`}`),
      change.setName !== undefined &&
        (change.setName
          ? `belongs to ${change.setName}${change.setNumber ? `, ${change.setNumber}` : ''}`
          : 'belongs to no set'),
    ].filter(Boolean);
    await note(tx, {
      operatorId,
      kind: 'described',
      mediumId: medium.id,
      what: `${medium.code} described${said.length > 0 ? `: ${said.join('; ')}` : ''}.`,
    });
    await announce(tx, { kind: 'media' });
  });
}

export async function changeLot(
  db: Database,
  operatorId: number,
  name: string,
  change: z.output<typeof LotChange>,
): Promise<void> {
  await db.transaction(async (tx) => {
    const changed = await tx
      .update(lots)
      .set(change)
      .where(eq(lots.name, sanitizeText(name)))
      .returning({ name: lots.name });
    if (changed.length === 0) throw notFound(`lot ${name}`);
    await note(tx, {
      operatorId,
      kind: 'lot',
      what:
        `${name}: lent by ${change.lender || 'nobody known'}, came in ` +
        `${change.cameIn || 'on a day not known'}, to be handed back by ` +
        `${change.handBackBy || 'no day set'}; ${change.revolutions} turns a track, at ` +
        `most ${change.tries} readings, ` +
        `${change.sweep}${change.gentle ? ', gently' : ''}.`,
    });
    await announce(tx, { kind: 'media' });
  });
}

export async function mediumByCode(db: Executor, wanted: string) {
  const code = sanitizeText(wanted);
  const [medium] = await db.select().from(media).where(eq(media.code, code));
  if (!medium) throw notFound(`medium ${code}`);
  return medium;
}
