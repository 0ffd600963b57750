/** Media that come and go: a receipt that stays as it was given, and where each medium is. */
import { count, desc, eq } from 'drizzle-orm';
import { correctMedium } from '@/server/features/media/corrections';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { mergeMedia } from '@/server/features/holdings/merging';
import { takeIn } from '@/server/features/intake/intake';
import { ledger } from '@/server/features/ledger/tables';
import { listArrivals } from '@/server/features/media/arrivals';
import { changeLot } from '@/server/features/media/lots';
import { findByCode, registerMedium } from '@/server/features/media/media';
import { LotChange, NewMedium } from '@/server/features/media/new-medium';
import { changeNamed } from '@/server/features/media/named-records';
import { lotReport } from '@/server/features/receipts/lot-report';
import { NewReceipt } from '@/server/features/receipts/new-receipt';
import { handBacks } from '@/server/features/receipts/queries';
import { makeReceipt, showReceipt } from '@/server/features/receipts/receipts';
import { mediaOut, receipts } from '@/server/features/receipts/tables';
import { RightsChange } from '@/server/features/rights/new-rights';
import { changeRights } from '@/server/features/rights/rights';
import { placeMedium } from '@/server/features/stations/placing';
import { linesOfPdf } from '../../support/server/pdf-text';
import { handlerOf } from '../../support/server/route-handlers';
import { serverSuite } from '../../support/server-suite';
import { loadVector } from '../../support/vectors';

const suite = serverSuite();
const db = () => suite.connection.db;
const who = 1;
const image = loadVector('volumes/fat12-720k.img');

const register = (code: string, more: object = {}) =>
  registerMedium(db(), who, NewMedium.parse({ code, form: '3.5', title: `Disk ${code}`, ...more }));
const give = (kind: string, of: object, more: object = {}) =>
  makeReceipt(
    db(),
    who,
    NewReceipt.parse({ kind, of, day: '2026-11-30', person: 'R. Heron', ...more }),
  );
const whereabouts = async (code: string) => (await mediumDetail(db(), code)).whereabouts;
const waiting = async (q: string) =>
  (await listArrivals(db(), { q })).media.map(({ code }) => code);
const howMany = async () => (await db().select({ all: count() }).from(receipts))[0]!.all;
const pdfOf = async (id: number) =>
  new Uint8Array(await (await showReceipt(db(), id)).arrayBuffer());
const told = async (id: number) => (await linesOfPdf(await pdfOf(id))).flat();

test('what is handed back stays in the holdings, waits no more, and is in no drive until it is back', async () => {
  await register('GOA-1', { lender: 'harbour school' });
  await changeNamed(db(), who, 'lenders', 'harbour school', { contact: 'Pier Lane 2' });
  const { id } = await give('handed-back', { codes: ['GOA-1'] });
  expect(await waiting('GOA')).toEqual([]);
  expect(await whereabouts('GOA-1')).toEqual({
    out: { receipt: id, kind: 'handed-back', day: '2026-11-30', person: 'R. Heron', backBy: '' },
    receipts: [{ id, kind: 'handed-back', day: '2026-11-30', person: 'R. Heron' }],
  });
  const lines = await told(id);
  for (const line of ['GOA-1', 'Disk GOA-1', 'not read', 'harbour school (Pier Lane 2)'])
    expect(lines).toContain(line);
  await expect(placeMedium(db(), who, 1, 'GOA-1')).rejects.toMatchObject({
    ...{ status: 409, said: { code: 'receipts.isOut', with: { receipt: id } } },
  });
  await give('came-back', { codes: ['GOA-1'] });
  expect((await whereabouts('GOA-1')).out).toBeNull();
  expect(await waiting('GOA')).toEqual(['GOA-1']);
  const [entry] = await db().select().from(ledger).orderBy(desc(ledger.id)).limit(1);
  expect(entry).toMatchObject({ kind: 'came-back', what: { code: 'receipts.noted' } });
});

test('all of a lot: those that are here go, and the others are left as they are', async () => {
  for (const code of ['GOB-1', 'GOB-2', 'GOB-3']) await register(code, { lot: 'go b' });
  const first = await give('sent-out', { codes: ['GOB-2'] }, { backBy: '2026-12-24' });
  const { id } = await give('handed-back', { lot: 'go b' });
  const lines = await told(id);
  expect(lines.filter((line) => line.startsWith('GOB-'))).toEqual(['GOB-1', 'GOB-3']);
  expect((await whereabouts('GOB-2')).out).toMatchObject({
    receipt: first.id,
    backBy: '2026-12-24',
  });
  const { due, out } = await handBacks(db());
  expect(due.map(({ lot }) => lot)).not.toContain('go b');
  expect(out.find((each) => each.id === first.id)).toMatchObject({ media: 1, out: 1 });
  await give('came-back', { receipt: first.id });
  expect((await handBacks(db())).out.map((each) => each.id)).not.toContain(first.id);
  await expect(give('came-back', { receipt: first.id })).rejects.toMatchObject({
    ...{ status: 422, said: { code: 'receipts.noMedia' } },
  });
});

test('what is elsewhere, in a drive or not known is on no receipt, and nothing is noted', async () => {
  await register('GOC-1');
  await register('GOC-2');
  await give('handed-back', { codes: ['GOC-1'] });
  const before = await howMany();
  const refused = async (kind: string, codes: string[]) =>
    give(kind, { codes }).then(
      () => null,
      (error: { status: number; said: { code: string } }) => [error.status, error.said.code],
    );
  expect(await refused('sent-out', ['GOC-2', 'GOC-1'])).toEqual([409, 'receipts.areOut']);
  expect(await refused('arrived', ['GOC-1'])).toEqual([409, 'receipts.areOut']);
  expect(await refused('came-back', ['GOC-1', 'GOC-2'])).toEqual([409, 'receipts.areNotOut']);
  expect(await refused('handed-back', ['GOC-9'])).toEqual([404, 'platform.thereIsNo']);
  expect(await howMany()).toBe(before);
  expect((await whereabouts('GOC-2')).receipts).toEqual([]);
});

test('what is in a drive does not go', async () => {
  await register('GOI-1');
  const medium = (await findByCode(db(), 'GOI-1'))!;
  const { stations } = await import('@/server/features/stations/tables');
  const [station] = await db().select().from(stations).limit(1);
  await db().update(stations).set({ mediumId: medium.id }).where(eq(stations.id, station!.id));
  await expect(give('handed-back', { codes: ['GOI-1'] })).rejects.toMatchObject({
    ...{ status: 409, said: { code: 'media.isInWork' } },
  });
  await db()
    .update(stations)
    .set({ mediumId: station!.mediumId })
    .where(eq(stations.id, station!.id));
  expect((await whereabouts('GOI-1')).out).toBeNull();
});

test('of two receipts at the same moment one holds', async () => {
  await register('GOD-1');
  const both = await Promise.allSettled([
    give('handed-back', { codes: ['GOD-1'] }),
    give('sent-out', { codes: ['GOD-1'] }),
  ]);
  expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
  expect((await whereabouts('GOD-1')).receipts).toHaveLength(1);
});

test('a receipt stays as it was given, whatever is corrected later', async () => {
  await register('GOE-1', { title: 'As it was', condition: 'mould on the liner' });
  const { id } = await give('arrived', { codes: ['GOE-1'] }, { notes: 'in a box' });
  const given = await pdfOf(id);
  await correctMedium(db(), who, 'GOE-1', { title: 'As it is' });
  expect(await pdfOf(id)).toEqual(given);
  const lines = await told(id);
  for (const line of ['As it was', 'mould on the liner', 'in a box', 'Who gives them, and the day'])
    expect(lines).toContain(line);
  expect((await whereabouts('GOE-1')).out).toBeNull();
  await expect(showReceipt(db(), 999_999)).rejects.toMatchObject({ status: 404 });
});

test('what was found to be one medium is where one of the two was', async () => {
  await register('GOF-1');
  await register('GOF-2');
  const { id } = await give('sent-out', { codes: ['GOF-1'] });
  await mergeMedia(db(), who, 'GOF-1', { into: 'GOF-2', reason: 'two labels' });
  expect((await whereabouts('GOF-2')).out).toMatchObject({ receipt: id });
  const kept = (await findByCode(db(), 'GOF-2'))!;
  expect(await db().select().from(mediaOut).where(eq(mediaOut.receiptId, id))).toEqual([
    { mediumId: kept.id, receiptId: id },
  ]);
});

const lotFacts = (more: object) =>
  LotChange.parse({
    ...{ lender: 'a keeper', cameIn: '2026-01-05' },
    revolutions: 2,
    tries: 6,
    ...more,
  });

test('lots that are due, the earliest first, with what is here and what is not read', async () => {
  const days = { late: '2031-05-01', soon: '2026-02-01' };
  for (const [when, handBackBy] of Object.entries(days)) {
    const lot = `go g ${when}`;
    for (const number of [1, 2]) await register(`GOG-${when}-${number}`, { lot });
    await changeLot(db(), who, lot, lotFacts({ handBackBy }));
  }
  await takeIn(db(), who, { name: 'x.img', code: 'GOG-SOON-1' }, image);
  await give('sent-out', { codes: ['GOG-SOON-1'] });
  const due = (await handBacks(db())).due.filter(({ lot }) => lot.startsWith('go g'));
  expect(due).toEqual([
    {
      lot: 'go g soon',
      lender: 'a keeper',
      by: '2026-02-01',
      all: 2,
      here: 1,
      sentOut: 1,
      unread: 1,
    },
    {
      lot: 'go g late',
      lender: 'a keeper',
      by: '2031-05-01',
      all: 2,
      here: 2,
      sentOut: 0,
      unread: 2,
    },
  ]);
});

test('a report tells what was read and what is on it, and names nothing that is restricted', async () => {
  const lot = 'go h';
  for (const code of ['GOH-1', 'GOH-2', 'GOH-3']) await register(code, { lot, lender: 'a keeper' });
  for (const code of ['GOH-1', 'GOH-2']) await takeIn(db(), who, { name: 'x.img', code }, image);
  const closed = RightsChange.parse({
    ...{ statement: '', words: '', isPersonal: false },
    restriction: { reason: 'names of people', opensOn: '' },
  });
  await changeRights(db(), who, 'media', 'GOH-2', closed);
  const { blocks, head } = await lotReport(db(), lot);
  expect(head).toBe(lot);
  const factsOf = (code: string) => {
    const at = blocks.findIndex((block) => block.kind === 'heading' && block.text.startsWith(code));
    const block = blocks[at + 1]!;
    return block.kind === 'facts' ? Object.fromEntries(block.facts) : {};
  };
  const first = 'README.TXT';
  expect(factsOf('GOH-1').Files).toContain(first);
  expect(JSON.stringify(factsOf('GOH-2'))).not.toContain(first);
  expect(factsOf('GOH-3')).toEqual({ Medium: expect.any(String), Read: 'not read' });
  const answer = await handlerOf('api/lots/[name]/report')!(
    new Request('http://127.0.0.1/api/lots/go%20h/report?as=pdf', {
      headers: { host: '127.0.0.1', cookie: 'spindle-operator=Tam%20Okoro' },
    }),
    { params: Promise.resolve({ name: lot }) },
  );
  expect(answer.headers.get('content-type')).toBe('application/pdf');
  const lines = (await linesOfPdf(new Uint8Array(await answer.arrayBuffer()))).flat();
  expect(lines.filter((line) => line.startsWith('GOH-'))).toHaveLength(3);
});

test.each([
  ['a day that is none', { day: '2026-02-30' }],
  ['nobody', { person: ' ' }],
  ['back before it goes', { kind: 'sent-out', backBy: '2026-11-29' }],
  ['back of what goes for good', { backBy: '2026-12-01' }],
  ['no media', { of: { codes: [] } }],
])('%s is no receipt', (_, odd) => {
  const whole = { kind: 'handed-back', day: '2026-11-30', person: 'x', of: { codes: ['A-1'] } };
  expect(NewReceipt.safeParse(whole).success).toBe(true);
  expect(NewReceipt.safeParse({ ...whole, ...odd }).success).toBe(false);
});
