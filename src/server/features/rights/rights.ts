/**
 * What is said of what may be done with media, sets and lots: each change with what it was in the
 * ledger, and what counts for a medium of all that is said of it.
 */
import { eq } from 'drizzle-orm';
import { isDeepStrictEqual } from 'node:util';
import type { z } from 'zod';
import { dayOf } from '@/core/description/day';
import {
  holdsOn,
  isWithoutRights,
  NO_RIGHTS_SAID,
  rightsOfBoth,
  statementOf,
  type Restriction,
  type Rights,
  type RightsOfLevels,
} from '@/core/description/rights';
import { said, type Words } from '@/core/said';
import type { Database, Executor } from '@/server/platform/db/database';
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
import type { media } from '../media/tables';
import type { RightsChange } from './new-rights';
import { rights } from './tables';

type Medium = Pick<typeof media.$inferSelect, 'id' | 'setName' | 'lot'>;
type Row = typeof rights.$inferSelect;
export type RightsColumns = Omit<Row, 'id' | keyof Owner>;

/** As the rules of restriction take them. */
export const rightsIn = ({
  statement,
  words,
  isRestricted,
  reason,
  opensOn,
  isPersonal,
}: RightsColumns): Rights => ({
  ...{ statement, words, isPersonal },
  restriction: isRestricted ? { reason, opensOn } : null,
});

const columnsOf = ({ restriction, ...all }: Rights) => ({
  ...all,
  isRestricted: restriction !== null,
  reason: restriction?.reason ?? '',
  opensOn: restriction?.opensOn ?? '',
});

/** What it says itself; null where it says nothing. */
const saidBy = (row: Row | undefined): Rights | null => {
  const own = row && rightsIn(row);
  return own && !isWithoutRights(own) ? own : null;
};

const orNothing = (text: string): Words => text || said('media.nothing');
const restricted = (restriction: Restriction | null): Words =>
  restriction ? said('rights.restricted', { ...restriction }) : said('rights.open');

function changesOf(was: Rights, now: Rights): Words[] {
  const changed = (fact: 'statement' | 'words'): Words[] =>
    was[fact] === now[fact]
      ? []
      : [said('rights.factWasNow', { fact, was: orNothing(was[fact]), now: orNothing(now[fact]) })];
  const isSame = isDeepStrictEqual(was.restriction, now.restriction);
  return [
    ...changed('statement'),
    ...changed('words'),
    ...(isSame
      ? []
      : [
          said('rights.restrictionWasNow', {
            was: restricted(was.restriction),
            now: restricted(now.restriction),
          }),
        ]),
    ...(was.isPersonal === now.isPersonal
      ? []
      : [said('rights.personalNow', { isPersonal: now.isPersonal })]),
  ];
}

/** Throws UserError, 404, where there is none of that name. */
export const changeRights = (
  db: Database,
  operatorId: number,
  kind: OwnerKind,
  asked: string,
  change: z.output<typeof RightsChange>,
): Promise<void> => db.transaction((tx) => changeRightsIn(tx, operatorId, kind, asked, change));

/** In the caller's transaction. */
export async function changeRightsIn(
  tx: Executor,
  operatorId: number,
  kind: OwnerKind,
  asked: string,
  now: Rights,
): Promise<void> {
  const { owner, name } = await ownerOf(tx, kind, asked);
  await tx.insert(rights).values(owner).onConflictDoNothing();
  const [row] = await tx.select().from(rights).where(isOf(rights, owner)).for('update');
  const changes = changesOf(rightsIn(row!), now);
  if (changes.length === 0) return;
  await tx.update(rights).set(columnsOf(now)).where(eq(rights.id, row!.id));
  await note(tx, {
    operatorId,
    kind: LEDGER_KIND[kind],
    mediumId: owner.mediumId,
    what: said('rights.changed', { name, changes }),
  });
  await announce(tx, { kind: 'media' });
}

async function levelsOf(db: Executor, medium: Medium): Promise<RightsOfLevels> {
  const rows = await db.select().from(rights).where(countsFor(rights, medium));
  return Object.fromEntries(rows.map((row) => [levelOf(row), saidBy(row)]));
}

/** What a medium says itself, and the statement that counts for it. */
export async function rightsOfMedium(db: Executor, medium: Medium) {
  const levels = await levelsOf(db, medium);
  return { own: levels.medium ?? null, statement: statementOf(levels) };
}

/** What a set or a lot says. */
export async function rightsOf(db: Executor, kind: Exclude<OwnerKind, 'media'>, asked: string) {
  const { owner } = await ownerOf(db, kind, asked);
  const [row] = await db.select().from(rights).where(isOf(rights, owner));
  const own = saidBy(row);
  const levels = { [LEVEL_OF[kind]]: own };
  return { own, statement: statementOf(levels), holds: holdsOn(levels, dayOf(new Date())) };
}

/** What keeps it in the house, without what it says else. */
const onlyHolding = (of: Rights | null | undefined): Rights | null =>
  of ? { ...of, statement: '', words: '' } : null;

/**
 * What may be done with a medium counts for the other that it was found to be: also what its set and
 * its lot say, where the other is in neither.
 */
export async function restrictAsWell(
  tx: Executor,
  operatorId: number,
  from: Medium,
  to: Medium & { code: string },
): Promise<void> {
  const ofOne = await levelsOf(tx, to);
  const ofOther = await levelsOf(tx, from);
  const now = [
    ofOther.medium ?? null,
    from.setName === to.setName ? null : onlyHolding(ofOther.set),
    from.lot === to.lot ? null : onlyHolding(ofOther.lot),
  ].reduce(rightsOfBoth, ofOne.medium ?? null);
  await changeRightsIn(tx, operatorId, 'media', to.code, now ?? NO_RIGHTS_SAID);
}
