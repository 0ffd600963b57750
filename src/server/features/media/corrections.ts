/**
 * What was registered of media, corrected: one or many at once. What would change is shown first;
 * what it was stands in the ledger. Nothing changes where anything of it can't.
 */
import { createHash } from 'node:crypto';
import { inArray, sql } from 'drizzle-orm';
import type { z } from 'zod';
import { isBlockForm } from '@/core/medium-form';
import { said, type Said } from '@/core/said';
import { tell } from '@/messages/tell';
import type { Database, Executor } from '@/server/platform/db/database';
import { refuseTaken } from '@/server/platform/db/unique-violation';
import { UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { noteMany } from '../ledger/ledger';
import { countCodes } from './codes';
import { changesOf, correctedBy, correctedSaid, type Correction, type FactChange } from './facts';
import {
  keepDescriptions,
  planDescriptions,
  type PlannedDescription,
} from '../descriptions/many-descriptions';
import type { ManyCorrections } from './many-corrections';
import { keepNamed, mediumByCode } from './media';
import { formerCodes, media } from './tables';

/** Reasons that are told of many. */
const MOST_TOLD = 5;

type Medium = typeof media.$inferSelect;
type Rows = z.output<typeof ManyCorrections>['media'];

interface Planned {
  /** As it was asked for. */
  code: string;
  /** Null where there is none of that code. */
  medium: Medium | null;
  corrected: ReturnType<typeof correctedBy>;
  changes: FactChange[];
  /** What would be said of it; null where nothing of that was asked for. */
  description: PlannedDescription | null;
  /** Why it can't be so. */
  trouble: Said | null;
}

/** What stands against the form, or the kind, that a medium is to have. */
interface Bound {
  isInDrive: boolean;
  wasRead: boolean;
}

/** Named in full: of a single table the mapper leaves the table's name away. */
async function boundOf(db: Executor, ids: readonly number[]): Promise<Map<number, Bound>> {
  const rows = await db
    .select({
      id: media.id,
      isInDrive: sql<boolean>`exists (select 1 from stations s where s.medium_id = media.id)`,
      wasRead: sql<boolean>`exists (select 1 from sittings s where s.medium_id = media.id)
        or exists (select 1 from fair_copies f where f.medium_id = media.id)`,
    })
    .from(media)
    .where(inArray(media.id, [...ids]));
  return new Map(rows.map(({ id, ...bound }) => [id, bound]));
}

/** Codes that are given, or were once, with the medium that has them. */
async function holdersOf(db: Executor, codes: readonly string[]): Promise<Map<string, number>> {
  if (codes.length === 0) return new Map();
  const former = await db
    .select({ code: formerCodes.code, id: formerCodes.mediumId })
    .from(formerCodes)
    .where(inArray(formerCodes.code, [...codes]));
  const given = await db
    .select({ code: media.code, id: media.id })
    .from(media)
    .where(inArray(media.code, [...codes]));
  return new Map([...former, ...given].map(({ code, id }) => [code, id]));
}

function troubleOfForm({ form }: Medium, next: Medium['form'], bound: Bound): Said | null {
  if (bound.isInDrive) return said('media.formWhileInDrive');
  const isOtherKind = isBlockForm(form) !== isBlockForm(next);
  return bound.wasRead && isOtherKind ? said('media.formOfWhatWasRead') : null;
}

interface Around {
  bound: ReadonlyMap<number, Bound>;
  holders: ReadonlyMap<string, number>;
  /** Codes that the same corrections give to several. */
  twice: ReadonlySet<string>;
}

function troubleOf(
  medium: Medium,
  { code, form, isBlank, setName, setNumber }: ReturnType<typeof correctedBy>,
  { bound, holders, twice }: Around,
): Said | null {
  const own = bound.get(medium.id)!;
  if (code !== undefined && twice.has(code)) return said('media.standsTwice', { code });
  if (code !== undefined && (holders.get(code) ?? medium.id) !== medium.id)
    return said('media.codeIsAnothers', { code });
  if (isBlank && own.wasRead) return said('media.blankOfWhatWasRead');
  const place = setNumber === undefined ? medium.setNumber : setNumber;
  if (place !== null && (setName ?? medium.setName) === '') return said('media.placeWithoutSet');
  return form === undefined ? null : troubleOfForm(medium, form, own);
}

const repeated = (codes: readonly string[]): Set<string> =>
  new Set(codes.filter((code, i) => codes.indexOf(code) !== i));

/** By the numbers of the media. */
const descriptionsIn = (rows: Rows, byCode: ReadonlyMap<string, Medium>) =>
  new Map(
    rows.flatMap(({ code, description }) => {
      const medium = byCode.get(code);
      return medium && description ? [[medium.id, description] as const] : [];
    }),
  );

async function planned(db: Executor, rows: Rows, isLocked: boolean): Promise<Planned[]> {
  const codes = rows.map(({ code }) => code);
  const query = db.select().from(media).where(inArray(media.code, codes)).orderBy(media.id);
  const found = await (isLocked ? query.for('update') : query);
  const byCode = new Map(found.map((medium) => [medium.code, medium]));
  const wanted = rows.flatMap(({ change }) => change.code ?? []);
  const ids = found.map(({ id }) => id);
  const around = {
    bound: ids.length > 0 ? await boundOf(db, ids) : new Map<number, Bound>(),
    holders: await holdersOf(db, wanted),
    twice: repeated(wanted),
  };
  const asked = repeated(codes);
  const described = await planDescriptions(db, descriptionsIn(rows, byCode), isLocked);
  return rows.map(({ code, change }) => {
    const medium = byCode.get(code) ?? null;
    const description = (medium && described.get(medium.id)) ?? null;
    const corrected = medium ? correctedBy(medium, change) : {};
    const changes = medium ? changesOf(medium, corrected) : [];
    return { code, medium, corrected, changes, description, trouble: troubleOfRow() };
    function troubleOfRow(): Said | null {
      if (!medium) return said('media.noSuchCode', { code });
      if (asked.has(code)) return said('media.standsTwice', { code });
      if (medium.mergedIntoId !== null) return said('media.isOneWithAnother', { code });
      return troubleOf(medium, corrected, around);
    }
  });
}

/** Of what is registered, and of what is said. */
const allChanges = ({ changes, description }: Planned) => [
  ...changes,
  ...(description?.changes ?? []),
];

/** Stands for what would change, and for what it was: both are seen before it is done. */
const digestOf = (all: readonly Planned[]): string =>
  createHash('sha256')
    .update(JSON.stringify(all.map((each) => [each.code, allChanges(each), each.trouble])))
    .digest('hex');

const inWords = (value: FactChange['was']): string | null =>
  value === null ? null : typeof value === 'number' ? String(value) : tell(value);

/** What would change, and what can't: nothing is changed. */
export async function previewCorrections(db: Database, rows: Rows) {
  const all = await planned(db, rows, false);
  return {
    seen: digestOf(all),
    media: all.map((each) => ({
      code: each.code,
      title: each.medium?.title ?? null,
      changes: allChanges(each).map(({ fact, was, now }) => ({
        ...{ fact, was: inWords(was), now: inWords(now) },
      })),
      trouble: each.trouble && tell(each.trouble),
    })),
  };
}

function refuseTrouble(all: readonly Planned[]): void {
  const wrong = all.filter(({ trouble }) => trouble);
  if (wrong.length === 0) return;
  const first = wrong
    .slice(0, MOST_TOLD)
    .map(({ code, trouble }) => said('media.troubleOf', { code, trouble: trouble! }));
  throw new UserError(
    said('media.nothingWasCorrected', { wrong: first, more: wrong.length - first.length }),
    409,
  );
}

/** Media that change alike are changed by one statement. */
async function update(tx: Executor, changing: readonly Planned[]): Promise<void> {
  const alike = new Map<string, { corrected: Planned['corrected']; ids: number[] }>();
  for (const { medium, corrected } of changing) {
    const key = JSON.stringify(corrected);
    const group = alike.get(key) ?? { corrected, ids: [] };
    group.ids.push(medium!.id);
    alike.set(key, group);
  }
  for (const { corrected, ids } of alike.values())
    await refuseTaken(
      tx.update(media).set(corrected).where(inArray(media.id, ids)),
      // Of the facts of a medium its code alone is its own.
      () => new UserError(said('media.codeIsAnothers', { code: corrected.code! }), 409, 'code'),
    );
}

/** Labels with the code that a medium had still lead to it. */
async function keepFormerCodes(tx: Executor, changing: readonly Planned[]): Promise<void> {
  const recoded = changing.filter(({ corrected }) => corrected.code !== undefined);
  if (recoded.length === 0) return;
  // What it was called before it may be called again.
  await tx.delete(formerCodes).where(
    inArray(
      formerCodes.code,
      recoded.map(({ corrected }) => corrected.code!),
    ),
  );
  await tx
    .insert(formerCodes)
    .values(recoded.map(({ medium }) => ({ code: medium!.code, mediumId: medium!.id })));
  await countCodes(
    tx,
    recoded.map(({ corrected }) => corrected.code!),
  );
}

/** In the caller's transaction. Throws UserError where one of them can't be so. */
export async function correctIn(
  tx: Executor,
  operatorId: number,
  rows: Rows,
  seen: string | null,
): Promise<{ corrected: number }> {
  const all = await planned(tx, rows, true);
  if (seen !== null && seen !== digestOf(all))
    throw new UserError(said('media.changedMeanwhile'), 409);
  refuseTrouble(all);
  const changing = all.filter((each) => allChanges(each).length > 0);
  if (changing.length === 0) return { corrected: 0 };
  await keepDescriptions(
    tx,
    operatorId,
    changing.flatMap(({ medium, description }) =>
      description ? [{ ...description, mediumId: medium!.id, code: medium!.code }] : [],
    ),
  );
  await correctFacts(
    tx,
    operatorId,
    changing.filter(({ changes }) => changes.length > 0),
  );
  await announce(tx, { kind: 'media' });
  return { corrected: changing.length };
}

/** What is registered. */
async function correctFacts(
  tx: Executor,
  operatorId: number,
  changing: readonly Planned[],
): Promise<void> {
  await keepNamed(
    tx,
    changing.map(({ medium, corrected }) => ({
      ...{ lot: corrected.lot ?? '', setName: corrected.setName ?? '' },
      lender: corrected.lender ?? medium!.lender,
      machine: corrected.machine ?? '',
    })),
  );
  await update(tx, changing);
  await keepFormerCodes(tx, changing);
  await noteMany(
    tx,
    changing.map(({ code, medium, changes }) => ({
      operatorId,
      kind: 'described' as const,
      mediumId: medium!.id,
      what: correctedSaid(code, changes),
    })),
  );
}

/** All of them or none; `seen` is of the preview, null where nobody asked for one. */
export const correctMedia = (
  db: Database,
  operatorId: number,
  rows: Rows,
  seen: string | null,
): Promise<{ corrected: number }> => db.transaction((tx) => correctIn(tx, operatorId, rows, seen));

/** One medium, by its code as it is now or as it was once. */
export async function correctMedium(
  db: Database,
  operatorId: number,
  code: string,
  change: Correction,
): Promise<void> {
  await db.transaction(async (tx) => {
    const medium = await mediumByCode(tx, code);
    await correctIn(tx, operatorId, [{ code: medium.code, change }], null);
  });
}
