/** Media: registering, finding, and what is known of each. */
import { asc, desc, eq, ilike, inArray, sql } from 'drizzle-orm';
import type { z } from 'zod';
import { CONDITION_MARKS, MARK_WORDS, SIDE_WORDS } from '@/core/condition';
import type { Database, Executor } from '../db/database';
import { fairCopies, lots, media, sets, sittings, stations } from '../db/schema';
import { UserError, notFound } from '../errors';
import { storable } from '../db/storable';
import { announce } from '../events';
import { note } from './ledger';
import type { LotChange, MediumChange, NewMedium } from './new-medium';

type Input = z.output<typeof NewMedium>;

async function insertMedium(tx: Executor, operatorId: number, input: Input) {
  const [medium] = await tx
    .insert(media)
    .values({ ...input, registeredBy: operatorId })
    .onConflictDoNothing({ target: media.code })
    .returning();
  if (!medium)
    throw new UserError(
      `${input.code} is registered already. Nothing was changed; choose another code.`,
      409,
      'code',
    );
  if (input.lot && !input.isBlank)
    await tx.insert(lots).values({ name: input.lot, lender: input.lender }).onConflictDoNothing();
  if (input.setName) await tx.insert(sets).values({ name: input.setName }).onConflictDoNothing();
  await note(tx, {
    operatorId,
    kind: 'registered',
    mediumId: medium.id,
    what: `${input.code} registered: ${input.title}.`,
  });
  return medium;
}

export async function registerMedium(db: Database, operatorId: number, input: Input) {
  return db.transaction(async (tx) => {
    const medium = await insertMedium(tx, operatorId, input);
    await announce(tx, { kind: 'media' });
    return medium;
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
  for (const input of inputs) await insertMedium(tx, operatorId, input);
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
          `${change.origin.machine || 'a machine not known'}${change.origin.jumpers && `, jumpers ${change.origin.jumpers}`}`,
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

export function listLots(db: Executor) {
  return db.select().from(lots).orderBy(asc(lots.name));
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
      .where(eq(lots.name, storable(name)))
      .returning({ name: lots.name });
    if (changed.length === 0) throw notFound(`lot ${name}`);
    await note(tx, {
      operatorId,
      kind: 'lot',
      what:
        `${name}: lent by ${change.lender || 'nobody known'}, came in ` +
        `${change.cameIn || 'on a day not known'}, to be returned by ` +
        `${change.returnBy || 'no day set'}; ${change.revolutions} turns a track, at ` +
        `most ${change.tries} readings, ` +
        `${change.sweep}${change.gentle ? ', gently' : ''}.`,
    });
    await announce(tx, { kind: 'media' });
  });
}

export async function mediumByCode(db: Executor, wanted: string) {
  const code = storable(wanted);
  const [medium] = await db.select().from(media).where(eq(media.code, code));
  if (!medium) throw notFound(`medium ${code}`);
  return medium;
}

/** The next free code of the register's most used series. */
export async function nextCode(db: Executor): Promise<string> {
  const rows = await db
    .select({ code: media.code })
    .from(media)
    .where(sql`not ${media.isBlank} and not ${media.isReference}`)
    .orderBy(desc(media.id))
    .limit(1);
  const [, series = 'MED', number = '0'] = /^([A-Z]+)-(\d+)$/.exec(rows[0]?.code ?? '') ?? [];
  const [last] = await db
    .select({ code: sql<string>`max(${media.code})` })
    .from(media)
    .where(ilike(media.code, `${series}-%`));
  const highest = Math.max(Number(number), Number(/\d+$/.exec(last?.code ?? '')?.[0] ?? 0));
  return `${series}-${String(highest + 1).padStart(4, '0')}`;
}

/** Media without a fair copy, with where each is. */
export function listArrivals(db: Executor) {
  return db
    .select({
      id: media.id,
      code: media.code,
      form: media.form,
      title: media.title,
      labelText: media.labelText,
      lender: media.lender,
      lot: media.lot,
      condition: media.condition,
      isBlank: media.isBlank,
      isReference: media.isReference,
      recordedSide: media.recordedSide,
      setName: media.setName,
      setNumber: media.setNumber,
      marks: media.marks,
      treatFirst: media.treatFirst,
      writeProtected: media.writeProtected,
      station: stations.id,
      sittingState: sql<
        string | null
      >`(select s.state from ${sittings} s where s.medium_id = ${media.id} order by s.id desc
      limit 1)`,
    })
    .from(media)
    .leftJoin(stations, eq(stations.mediumId, media.id))
    .where(sql`not exists (select 1 from ${fairCopies} f where f.medium_id = ${media.id})`)
    .orderBy(asc(media.isBlank), asc(media.isReference), asc(media.code));
}
