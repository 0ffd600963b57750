/**
 * What is said of media, sets and lots: the elements of Dublin Core and how they were acquired, each
 * change with what it was in the ledger; what a medium has of its set and of its lot.
 */
import { eq, inArray } from 'drizzle-orm';
import { isDeepStrictEqual } from 'node:util';
import type { z } from 'zod';
import type { Acquisition } from '@/core/description/acquisition';
import { ELEMENTS, type ElementName, type Elements } from '@/core/description/elements';
import { inherited, type Described } from '@/core/description/inherited';
import { said, type Words } from '@/core/said';
import type { Database, Executor } from '@/server/platform/db/database';
import { UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { note } from '../ledger/ledger';
import {
  countsFor,
  isOf,
  LEDGER_KIND,
  LEVEL_OF,
  levelOf,
  ownerOf,
  type Owner,
  type OwnerKind,
} from '../media/owners';
import { attachments, type media } from '../media/tables';
import { changeSaid, type DescriptionFact } from './description-facts';
import type { DescriptionChange } from './new-description';
import { descriptions } from './tables';

type Medium = Pick<typeof media.$inferSelect, 'id' | 'setName' | 'lot'>;
type Row = typeof descriptions.$inferSelect;

/** The row of one, which nobody else changes until the transaction ends. */
async function lockedRow(tx: Executor, owner: Owner): Promise<Row> {
  await tx.insert(descriptions).values(owner).onConflictDoNothing();
  const [row] = await tx.select().from(descriptions).where(isOf(descriptions, owner)).for('update');
  return row!;
}

const listed = (values: readonly string[] | undefined): Words =>
  values ? said('media.listOf', { items: [...values] }) : said('media.nothing');

type Papers = Awaited<ReturnType<typeof agreementsOf>>;

function acquired(acquisition: Acquisition | null, papers: Papers): Words {
  if (!acquisition) return said('media.nothing');
  const { from, on, how, notes, agreement } = acquisition;
  const paper = papers.find(({ id }) => id === agreement);
  return said('descriptions.acquiredAs', {
    ...{ from, on, notes, agreement: agreement === null ? '' : (paper?.name ?? `${agreement}`) },
    how: said(`acquired.${how}`),
  });
}

const isSame = (a: Elements, b: Elements) => (element: ElementName) =>
  isDeepStrictEqual(a[element], b[element]);

export function changesOf(
  was: Described<Acquisition>,
  now: Described<Acquisition>,
  papers: Papers,
): DescriptionFact[] {
  const isUnchanged = isSame(was.elements, now.elements);
  const changed = ELEMENTS.filter((element) => !isUnchanged(element)).map(
    (fact): DescriptionFact => ({
      fact,
      was: listed(was.elements[fact]),
      now: listed(now.elements[fact]),
    }),
  );
  if (isDeepStrictEqual(was.acquisition, now.acquisition)) return changed;
  const acquisition = {
    was: acquired(was.acquisition, papers),
    now: acquired(now.acquisition, papers),
  };
  return [...changed, { fact: 'acquisition', ...acquisition }];
}

/** In one order, so that what is the same is stored alike. */
export function elementsAfter(was: Elements, change: Elements): Elements {
  const all = { ...was, ...change };
  return Object.fromEntries(
    ELEMENTS.flatMap((element) => (all[element]?.length ? [[element, all[element]]] : [])),
  );
}

export const wordsOfAll = ({ elements, acquisition }: Described<Acquisition>): string =>
  [...Object.values(elements).flat(), acquisition?.from ?? '', acquisition?.notes ?? '']
    .filter((text) => text !== '')
    .join(' ')
    .toLowerCase();

/** An agreement is a paper beside what was acquired. */
async function refuseOthersPaper(tx: Executor, agreement: number, owner: Owner): Promise<void> {
  const [paper] = await tx.select().from(attachments).where(eq(attachments.id, agreement));
  const isOwn =
    paper?.mediumId === owner.mediumId &&
    paper.setName === owner.setName &&
    paper.lotName === owner.lotName;
  if (!isOwn) throw new UserError(said('descriptions.noPaperOfIt'), 422, 'agreement');
}

export const describe = (
  db: Database,
  operatorId: number,
  kind: OwnerKind,
  asked: string,
  change: z.output<typeof DescriptionChange>,
): Promise<void> => db.transaction((tx) => describeIn(tx, operatorId, kind, asked, change));

/** In the caller's transaction. */
export async function describeIn(
  tx: Executor,
  operatorId: number,
  kind: OwnerKind,
  asked: string,
  change: z.output<typeof DescriptionChange>,
): Promise<void> {
  const { owner, name } = await ownerOf(tx, kind, asked);
  const was = await lockedRow(tx, owner);
  const now = {
    elements: elementsAfter(was.elements, change.elements ?? {}),
    acquisition: change.acquisition === undefined ? was.acquisition : change.acquisition,
  };
  const changes = changesOf(was, now, await agreementsOf(tx, [was, now]));
  if (changes.length === 0) return;
  const agreement = change.acquisition?.agreement ?? null;
  if (agreement !== null) await refuseOthersPaper(tx, agreement, owner);
  await tx
    .update(descriptions)
    .set({ ...now, words: wordsOfAll(now) })
    .where(eq(descriptions.id, was.id));
  await note(tx, {
    operatorId,
    kind: LEDGER_KIND[kind],
    mediumId: owner.mediumId,
    what: said('descriptions.described', { name, changes: changes.map(changeSaid) }),
  });
  await announce(tx, { kind: 'media' });
}
const rowsAbout = (db: Executor, medium: Medium): Promise<Row[]> =>
  db.select().from(descriptions).where(countsFor(descriptions, medium));

/** Agreements that are still there, by their numbers. */
export async function agreementsOf(db: Executor, rows: readonly Pick<Row, 'acquisition'>[]) {
  const ids = rows.flatMap(({ acquisition }) => acquisition?.agreement ?? []);
  if (ids.length === 0) return [];
  return db
    .select({ id: attachments.id, name: attachments.name, type: attachments.type })
    .from(attachments)
    .where(inArray(attachments.id, ids));
}

const NOTHING_SAID: Described<Acquisition> = { elements: {}, acquisition: null };

export const saidIn = (row: Row | undefined): Described<Acquisition> =>
  row ? { elements: row.elements, acquisition: row.acquisition } : NOTHING_SAID;

/** What is said of a medium itself, and what counts for it with what its set and its lot say. */
export async function descriptionOfMedium(db: Executor, medium: Medium) {
  const rows = await rowsAbout(db, medium);
  const levels = Object.fromEntries(rows.map((row) => [levelOf(row), saidIn(row)]));
  return {
    own: saidIn(rows.find(({ mediumId }) => mediumId !== null)),
    ...inherited<Acquisition>(levels),
    agreements: await agreementsOf(db, rows),
  };
}

/** What has a page of its own beside a medium. */
export type RecordKind = Exclude<OwnerKind, 'media'>;

/** What is said of a set or of a lot, which inherit nothing. */
export async function descriptionOf(db: Executor, kind: RecordKind, asked: string) {
  const { owner } = await ownerOf(db, kind, asked);
  const rows = await db.select().from(descriptions).where(isOf(descriptions, owner));
  const own = saidIn(rows[0]);
  const level = LEVEL_OF[kind];
  return {
    own,
    ...inherited<Acquisition>({ [level]: own }, level),
    agreements: await agreementsOf(db, rows),
  };
}

/** What is said of a medium, and not of another that it was found to be, is said of that as well. */
export async function describeAsWell(
  tx: Executor,
  operatorId: number,
  from: Medium,
  to: Medium & { code: string },
): Promise<void> {
  const { own } = await descriptionOfMedium(tx, from);
  const { own: there } = await descriptionOfMedium(tx, to);
  const acquisition = there.acquisition ?? own.acquisition;
  // A paper that is gone is told of the one that goes; it can't be laid beside the other.
  const papers = await agreementsOf(tx, [{ acquisition }]);
  await describeIn(tx, operatorId, 'media', to.code, {
    elements: { ...own.elements, ...there.elements },
    acquisition: acquisition && { ...acquisition, agreement: papers[0]?.id ?? null },
  });
}
