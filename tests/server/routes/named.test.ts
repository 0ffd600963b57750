/** Lenders and machines: named once, with a record from then on; corrected, and followed by media. */
import { asc, eq } from 'drizzle-orm';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import { makeBlank } from '@/core/identify/make-blank';
import { tell } from '@/messages/tell';
import { listRecords } from '@/server/features/descriptions/record-lists';
import { mediumRecord } from '@/server/features/descriptions/medium-record';
import { namedPage } from '@/server/features/descriptions/named-pages';
import { searchHoldings } from '@/server/features/holdings/holdings';
import { takeIn } from '@/server/features/intake/intake';
import { ledger } from '@/server/features/ledger/tables';
import { listArrivals } from '@/server/features/media/arrivals';
import { correctMedium } from '@/server/features/media/corrections';
import { changeLot } from '@/server/features/media/lots';
import { mediumByCode, registerMany } from '@/server/features/media/media';
import { changeNamed } from '@/server/features/media/named-records';
import { LotChange, NamedChange, NewMedium } from '@/server/features/media/new-medium';
import { lots } from '@/server/features/media/tables';
import { withdraw } from '@/server/features/media/withdrawals';
import { serverSuite } from '../../support/server-suite';

const suite = serverSuite();
const who = 1;
const db = () => suite.connection.db;
const image = makeBlank(BLANK_KINDS.find(({ id }) => id === 'wavesample')!);

const register = (...all: [code: string, more: object][]) =>
  registerMany(
    db(),
    who,
    all.map(([code, more]) =>
      NewMedium.parse({ code, form: '3.5', title: `Disk ${code}`, ...more }),
    ),
  );
const change = (kind: 'lenders' | 'machines', name: string, facts: object) =>
  changeNamed(db(), who, kind, name, NamedChange.parse(facts));
const page = (kind: 'lenders' | 'machines', name: string) => namedPage(db(), kind, name);
const lastEntry = async (kind: 'lender' | 'machine') => {
  const entries = await db()
    .select()
    .from(ledger)
    .where(eq(ledger.kind, kind))
    .orderBy(asc(ledger.id));
  return tell(entries.at(-1)!.what);
};

test('who lends has a record from the first medium or lot on, with lots and media', async () => {
  await register(['NMA-2', { lender: 'N. Crake', lot: 'nm a' }], ['NMA-1', { lender: 'N. Crake' }]);
  await change('lenders', 'N. Crake', { contact: 'Gull loft, Orrin' });
  const { record, lots: own, media } = await page('lenders', 'N. Crake');
  expect(record).toEqual({ name: 'N. Crake', contact: 'Gull loft, Orrin', notes: '' });
  expect(own.map(({ name }) => name)).toEqual(['nm a']);
  expect(media.rows.map(({ code }) => code)).toEqual(['NMA-1', 'NMA-2']);
  await withdraw(db(), who, 'NMA-1', 'gone');
  expect((await page('lenders', 'N. Crake')).media.all).toBe(1);
  const [lot] = await db().select().from(lots).where(eq(lots.name, 'nm a'));
  await changeLot(db(), who, 'nm a', LotChange.parse({ ...lot, lender: 'O. Dunlin' }));
  expect((await page('lenders', 'O. Dunlin')).lots.map(({ name }) => name)).toEqual(['nm a']);
  const { lenders } = await listRecords(db(), { q: 'gull loft' });
  expect(lenders).toEqual([{ name: 'N. Crake', contact: 'Gull loft, Orrin', all: 1, read: 0 }]);
});

test('a lender that is called otherwise is so in lots and media, and the ledger says what it was', async () => {
  await register(['NMB-1', { lender: 'P. Ruf', lot: 'nm b' }]);
  await change('lenders', 'P. Ruf', { name: 'P. Ruff', notes: 'the younger' });
  expect((await mediumByCode(db(), 'NMB-1')).lender).toBe('P. Ruff');
  expect((await page('lenders', 'P. Ruff')).lots).toHaveLength(1);
  await expect(page('lenders', 'P. Ruf')).rejects.toMatchObject({ status: 404 });
  expect(await lastEntry('lender')).toBe(
    'Lender P. Ruf corrected: name P. Ruff (was P. Ruf); notes the younger (was nothing).',
  );
  await register(['NMB-2', { lender: 'Q. Knot' }]);
  await expect(change('lenders', 'Q. Knot', { name: 'P. Ruff' })).rejects.toMatchObject({
    status: 409,
    field: 'name',
  });
  expect((await mediumByCode(db(), 'NMB-2')).lender).toBe('Q. Knot');
});

test('a machine is one record of all the disks that it was used with, and stands in what leaves', async () => {
  await register(
    ['NMC-1', { machine: 'tide-house terminal' }],
    ['NMC-2', { form: 'hard-disk', machine: 'tide-house terminal' }],
    ['NMC-3', {}],
  );
  await correctMedium(db(), who, 'NMC-3', { machine: 'gauge recorder' });
  await change('machines', 'tide-house terminal', { kind: '8-bit', identifier: 'no. 7' });
  const { record, lots: none, media } = await page('machines', 'tide-house terminal');
  expect(record).toMatchObject({ kind: '8-bit', identifier: 'no. 7', notes: '' });
  expect([none, media.rows.map(({ code }) => code)]).toEqual([[], ['NMC-1', 'NMC-2']]);
  expect((await page('machines', 'gauge recorder')).media.all).toBe(1);
  await change('machines', 'gauge recorder', { name: 'gauge recorder, first' });
  const medium = await mediumByCode(db(), 'NMC-3');
  expect(await mediumRecord(db(), medium)).toMatchObject({ machine: 'gauge recorder, first' });
  expect(await lastEntry('machine')).toContain('was gauge recorder');
  const found = await listArrivals(db(), { q: 'tide-house terminal' });
  expect(found.media.map(({ code }) => code)).toEqual(['NMC-1', 'NMC-2']);
  await takeIn(db(), who, { name: 'x.img', code: 'NMC-1' }, image);
  const held = await searchHoldings(db(), { q: 'tide-house' });
  expect(held.copies.map(({ code }) => code)).toEqual(['NMC-1']);
});

test('two who call it otherwise at once: one comes too late, and is told so', async () => {
  await register(['NME-1', { lender: 'S. Plover' }]);
  const outcomes = await Promise.allSettled([
    change('lenders', 'S. Plover', { name: 'S. Plover, sen.' }),
    change('lenders', 'S. Plover', { name: 'S. Plover, jun.' }),
  ]);
  const late = outcomes.find(({ status }) => status === 'rejected') as PromiseRejectedResult;
  expect(outcomes.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
  expect(late.reason).toMatchObject({ status: 404 });
});

test('what is not changed leaves no entry, and what is too long is refused', async () => {
  await register(['NMD-1', { lender: 'R. Stint' }]);
  const before = (await db().select({ id: ledger.id }).from(ledger)).length;
  await change('lenders', 'R. Stint', { name: 'R. Stint', contact: '' });
  expect((await db().select({ id: ledger.id }).from(ledger)).length).toBe(before);
  expect(NamedChange.safeParse({ name: '' }).success).toBe(false);
  expect(NamedChange.safeParse({ contact: 'x'.repeat(1001) }).success).toBe(false);
});
