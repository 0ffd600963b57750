/**
 * The ledger's seals: a chain of digests over its entries. The application's role may add entries
 * and no more; whoever changes or removes one by other means is noticed here.
 */
import { createHash } from 'node:crypto';
import { desc, gt, sql } from 'drizzle-orm';
import { said } from '@/core/said';
import { causesOf } from '@/server/platform/db/causes';
import type { Database, Executor } from '@/server/platform/db/database';
import { announce } from '@/server/platform/events';
import { note } from './ledger';
import { ledgerChecks, ledgerSeals } from './tables';

/** Entries of one seal at the most: what is changed is known to be among so many. */
const MOST_ENTRIES = 500;
/** Seals that are looked at in one step. */
const STEP = 20;
/** All of it is looked at so often. */
const CHECKED_EVERY = '1 day';
/** Somebody writes an entry: the table is not waited for (PostgreSQL, appendix A). */
const LOCK_NOT_AVAILABLE = '55P03';

type Seal = typeof ledgerSeals.$inferSelect;
interface Stretch {
  from: number;
  through: number;
}

/** Seals what was added, where nobody writes just now; gives how many entries. */
export async function sealLedger(db: Database): Promise<number> {
  let sealed = 0;
  try {
    for (;;) {
      const { rows } = await db.execute<{ sealed: number }>(
        sql`select seal_ledger(${MOST_ENTRIES}) as sealed`,
      );
      if (rows[0]!.sealed === 0) return sealed;
      sealed += rows[0]!.sealed;
    }
  } catch (error) {
    if (causesOf(error).some(({ code }) => code === LOCK_NOT_AVAILABLE)) return sealed;
    throw error;
  }
}

const sha256 = (...parts: Uint8Array[]): Buffer => {
  const hash = createHash('sha256');
  for (const part of parts) hash.update(part);
  return hash.digest();
};

interface Line {
  [column: string]: unknown;
  /** A text: it may be larger than a number of the driver's. */
  id: string;
  line: string;
}

/** Entries as they are sealed, in order. */
async function linesOf(db: Executor, from: number, through: number): Promise<Line[]> {
  const { rows } = await db.execute<Line>(
    sql`select id, ledger_line(l) as line from ledger l
      where id between ${from} and ${through} order by id`,
  );
  return rows;
}

/** Whether a seal holds: it follows the one before, and its entries are what they were. */
function holds(lines: readonly Line[], before: Seal | null, seal: Seal): boolean {
  const { fromId, throughId, entries, digest } = seal;
  const own = lines.filter(({ id }) => Number(id) >= fromId && Number(id) <= throughId);
  const digests = own.map(({ line }) => sha256(Buffer.from(line, 'utf8')));
  const chained = sha256(Buffer.from(before?.digest ?? '', 'hex'), ...digests).toString('hex');
  const isNext = fromId === (before?.throughId ?? 0) + 1;
  return isNext && own.length === entries && chained === digest;
}

interface Look {
  entries: number;
  last: Seal | null;
  broken: Stretch | null;
}

async function lookAtAll(db: Executor, between: () => Promise<void>): Promise<Look> {
  const look: Look = { entries: 0, last: null, broken: null };
  for (;;) {
    const seals = await db
      .select()
      .from(ledgerSeals)
      .where(gt(ledgerSeals.throughId, look.last?.throughId ?? 0))
      .orderBy(ledgerSeals.throughId)
      .limit(STEP);
    if (seals.length === 0) return look;
    const lines = await linesOf(db, seals[0]!.fromId, seals.at(-1)!.throughId);
    for (const seal of seals) {
      if (!look.broken && !holds(lines, look.last, seal))
        look.broken = { from: seal.fromId, through: seal.throughId };
      look.entries += seal.entries;
      look.last = seal;
    }
    await between();
  }
}

const lastCheck = async (db: Executor) => (await db.select().from(ledgerChecks))[0] ?? null;
type Check = NonNullable<Awaited<ReturnType<typeof lastCheck>>>;

/** What was sealed when it was looked at last, and is not any more: entries were taken off the end. */
async function takenOff(db: Executor, last: Seal | null, check: Check): Promise<Stretch | null> {
  if (check.throughId === 0) return null;
  const [same] = await db
    .select()
    .from(ledgerSeals)
    .where(
      sql`${ledgerSeals.throughId} = ${check.throughId} and ${ledgerSeals.digest} = ${check.digest}`,
    );
  if (same) return null;
  return { from: Math.min((last?.throughId ?? 0) + 1, check.throughId), through: check.throughId };
}

/** Whether all seals are to be looked at again. */
export async function isLedgerDue(db: Executor): Promise<boolean> {
  const { rows } = await db.execute(
    sql`select 1 from ${ledgerChecks}
      where ${ledgerChecks.at} > now() - ${CHECKED_EVERY}::interval`,
  );
  return rows.length === 0;
}

/** Looks at all seals; what is not what it was is told once. `between` may end it by an error. */
export async function checkLedger(
  db: Database,
  between: () => Promise<void> = async () => undefined,
): Promise<Stretch | null> {
  const before = await lastCheck(db);
  const { entries, last, broken: within } = await lookAtAll(db, between);
  const broken = within ?? (before && (await takenOff(db, last, before)));
  await db.transaction(async (tx) => {
    // Other workers look as well: one of them tells it.
    await tx.execute(sql`lock table ${ledgerChecks} in exclusive mode`);
    const told = (await lastCheck(tx))?.brokenFrom ?? null;
    // Once something was taken off, what was there stays what the end is held against.
    const end = broken && before ? before : last;
    const values = {
      at: new Date(),
      entries,
      throughId: end?.throughId ?? 0,
      digest: end?.digest ?? '',
      brokenFrom: broken?.from ?? null,
      brokenThrough: broken?.through ?? null,
    };
    await tx
      .insert(ledgerChecks)
      .values(values)
      .onConflictDoUpdate({ target: ledgerChecks.id, set: values });
    if (told !== values.brokenFrom)
      await note(tx, {
        operatorId: null,
        kind: 'fixity',
        what: broken
          ? said('fixity.ledgerIsNotWhatItWas', broken)
          : said('fixity.ledgerIsAsItWas', { entries }),
      });
    await announce(tx, { kind: 'fixity' });
  });
  return broken;
}

/** Asks for a look at all seals. */
export const askForLedgerCheck = async (tx: Executor): Promise<void> => {
  await tx.update(ledgerChecks).set({ at: null });
};

/** What is known of the ledger's seals; null before the first look. */
export async function sealsOfLedger(db: Executor) {
  const check = await lastCheck(db);
  if (!check) return null;
  const [last] = await db.select().from(ledgerSeals).orderBy(desc(ledgerSeals.throughId)).limit(1);
  const { at, entries, brokenFrom, brokenThrough } = check;
  return {
    at,
    entries,
    digest: last?.digest ?? '',
    broken: brokenFrom === null ? null : { from: brokenFrom, through: brokenThrough! },
  };
}
