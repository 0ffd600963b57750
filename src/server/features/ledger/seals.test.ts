/**
 * Who works as the application changes no entry of the ledger; who changes one by other means is
 * noticed by its seals.
 */
import { asc, sql } from 'drizzle-orm';
import pg from 'pg';
import { asWritten } from '@/core/said';
import { askForCheck, fixityView } from '@/server/features/fixity/fixity';
import { note } from '@/server/features/ledger/ledger';
import { checkLedger, isLedgerDue, sealLedger } from '@/server/features/ledger/seals';
import { ledger, ledgerSeals } from '@/server/features/ledger/tables';
import { causesOf } from '@/server/platform/db/causes';
import { serverSuite } from '../../../../tests/support/server-suite';

const suite = serverSuite({});
const db = () => suite.connection.db;
const INSUFFICIENT_PRIVILEGE = '42501';

/** As the database's owner, who may do everything. */
async function asOwner(statement: string, values: unknown[] = []): Promise<number | null> {
  const client = new pg.Client({ connectionString: suite.application.ownerUrl });
  await client.connect();
  try {
    return (await client.query(statement, values)).rowCount;
  } finally {
    await client.end();
  }
}

beforeEach(async () => {
  await asOwner('truncate ledger_seals, ledger_checks');
});

const add = (entries: number) =>
  db().transaction(async (tx) => {
    for (let i = 0; i < entries; i++)
      await note(tx, { operatorId: 1, kind: 'registered', what: asWritten(`entry ${i}`) });
  });
const sealed = () => db().select().from(ledgerSeals).orderBy(asc(ledgerSeals.throughId));
const numbers = async () =>
  (await db().select({ id: ledger.id }).from(ledger).orderBy(asc(ledger.id))).map(({ id }) => id);

/** Stretches, looked at and found whole; gives the last, behind a number that nothing has. */
async function seal(): Promise<{ from: number; through: number }> {
  await sealLedger(db());
  await asOwner("select nextval('ledger_id_seq')");
  await add(3);
  expect(await sealLedger(db())).toBe(3);
  expect(await checkLedger(db())).toBeNull();
  const { fromId, throughId } = (await sealed()).at(-1)!;
  return { from: fromId, through: throughId };
}

test.each([
  'update ledger set kind = kind',
  'delete from ledger',
  'truncate ledger',
  "insert into ledger_seals (from_id, through_id, entries, digest) values (1, 2, 1, '')",
  'update ledger_seals set entries = 0',
  'delete from ledger_seals',
  'drop table media',
  'create table mine (id integer)',
  'alter table ledger disable trigger all',
  "select pg_read_file('postgresql.conf')",
  'create role another superuser',
])('refused to the application: %s', async (statement) => {
  const error: unknown = await db()
    .execute(sql.raw(statement))
    .catch((failure: unknown) => failure);
  expect(causesOf(error).map(({ code }) => code)).toContain(INSUFFICIENT_PRIVILEGE);
});

test('every entry is sealed once, in stretches that follow one another', async () => {
  await sealLedger(db());
  await add(1200);
  await sealLedger(db());
  const seals = await sealed();
  const ids = await numbers();
  expect(seals.reduce((sum, { entries }) => sum + entries, 0)).toBe(ids.length);
  expect(seals.at(-1)!.throughId).toBe(ids.at(-1));
  expect(seals.map(({ fromId }) => fromId)).toEqual([
    1,
    ...seals.slice(0, -1).map(({ throughId }) => throughId + 1),
  ]);
  expect(await sealLedger(db())).toBe(0);
  expect(await checkLedger(db())).toBeNull();
});

test('an entry that is being written is waited for, and nobody waits for the seal', async () => {
  await sealLedger(db());
  await db().transaction(async (tx) => {
    await note(tx, { operatorId: 1, kind: 'registered', what: asWritten('of a long transaction') });
    await add(2);
    expect(await sealLedger(db())).toBe(0);
  });
  expect(await sealLedger(db())).toBe(3);
});

test.each([
  ['another sentence', `update ledger set what = '"x"' where id = $1`],
  ['another moment', `update ledger set at = at + interval '1 us' where id = $1`],
  ['another operator', `update ledger set operator_id = 2 where id = $1`],
  ['one less', `delete from ledger where id = $1`],
  // A number that a transaction took which came to nothing.
  ['one more', `insert into ledger (id, kind, what) values ($1 - 3, 'registered', '{}')`],
])('a change among sealed entries is noticed, and told once: %s', async (_, change) => {
  const last = await seal();
  expect(await asOwner(change, [last.through])).toBe(1);
  const before = (await numbers()).length;
  expect(await checkLedger(db())).toEqual(last);
  expect((await fixityView(db())).ledger?.broken).toEqual(last);
  expect((await numbers()).length).toBe(before + 1);
  expect(await checkLedger(db())).toEqual(last);
  expect((await numbers()).length).toBe(before + 1);
});

test('what is put right again is told, and what two workers find is told once', async () => {
  const last = await seal();
  const change = 'update ledger set operator_id = $2 where id = $1';
  await asOwner(change, [last.through, 2]);
  const before = (await numbers()).length;
  expect(await Promise.all([checkLedger(db()), checkLedger(db())])).toEqual([last, last]);
  expect((await numbers()).length).toBe(before + 1);
  await asOwner(change, [last.through, 1]);
  expect(await Promise.all([checkLedger(db()), checkLedger(db())])).toEqual([null, null]);
  expect((await numbers()).length).toBe(before + 2);
});

test('entries taken off the end with their seals are missed', async () => {
  const last = await seal();
  await asOwner(`delete from ledger where id >= ${last.from}`);
  await asOwner(`delete from ledger_seals where from_id = ${last.from}`);
  expect(await checkLedger(db())).toEqual(last);
  // Also after others have come.
  await add(5);
  await sealLedger(db());
  expect((await checkLedger(db()))?.through).toBe(last.through);
});

test('it is looked at once a day, and when a check of everything is asked for', async () => {
  expect(await isLedgerDue(db())).toBe(true);
  await seal();
  expect(await isLedgerDue(db())).toBe(false);
  await askForCheck(db(), 1, {});
  expect(await isLedgerDue(db())).toBe(true);
  await checkLedger(db());
  await asOwner("update ledger_checks set at = at - interval '25 hours'");
  expect(await isLedgerDue(db())).toBe(true);
});
