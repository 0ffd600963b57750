/** What is registered, corrected: one and many, seen before, all or none, with what it was. */
import { and, asc, eq, inArray } from 'drizzle-orm';
import { tell } from '@/messages/tell';
import { searchHoldings } from '@/server/features/holdings/holdings';
import { ledger } from '@/server/features/ledger/tables';
import {
  correctMedia,
  correctMedium,
  previewCorrections,
} from '@/server/features/media/corrections';
import { FactsQuestion, factTable, listFacts } from '@/server/features/media/fact-list';
import { changeLot } from '@/server/features/media/lots';
import { mediumByCode, registerMany, registerMedium } from '@/server/features/media/media';
import { ManyCorrections } from '@/server/features/media/many-corrections';
import { LotChange, NewMedium } from '@/server/features/media/new-medium';
import { lots, media, sets } from '@/server/features/media/tables';
import { takeScan } from '@/server/features/stations/scanned-labels';
import { mediumFor, placeMedium } from '@/server/features/stations/placing';
import { stations } from '@/server/features/stations/tables';
import { takeIn } from '@/server/features/intake/intake';
import { correctionsIn } from '@/ui/media/correct/sheet-corrections';
import { makeBlank } from '@/core/identify/make-blank';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import { serverSuite } from '../../support/server-suite';

const suite = serverSuite();
const who = 1;
const db = () => suite.connection.db;

const made = (code: string, more: object = {}) =>
  NewMedium.parse({ code, form: '3.5', title: `Disk ${code}`, ...more });
const rowsOf = (...rows: [code: string, change: object][]) =>
  ManyCorrections.parse({ media: rows.map(([code, change]) => ({ code, change })), seen: null })
    .media;
const row = async (code: string) =>
  (await db().select().from(media).where(eq(media.code, code)))[0]!;
const told = async (code: string) => {
  const { id } = await mediumByCode(db(), code);
  const entries = await db()
    .select()
    .from(ledger)
    .where(eq(ledger.mediumId, id))
    .orderBy(asc(ledger.id));
  return entries.filter(({ kind }) => kind === 'described').map(({ what }) => tell(what));
};

test('a wrong lender of thirty media is seen, then corrected at once, each with what it was', async () => {
  const codes = Array.from({ length: 30 }, (_, i) => `LEN-${100 + i}`);
  await registerMany(
    db(),
    who,
    codes.map((code, i) => made(code, { lender: i < 28 ? 'The Skerow Society' : '' })),
  );
  const rows = rowsOf(
    ...codes.map((code): [string, object] => [code, { lender: 'The Skerrow Society' }]),
  );
  const { media: shown, seen } = await previewCorrections(db(), rows);
  expect(shown.map(({ code, trouble }) => [code, trouble])).toEqual(
    codes.map((code) => [code, null]),
  );
  expect([shown[0]!.changes, shown[29]!.changes]).toEqual(
    ['The Skerow Society', null].map((was) => [
      { fact: 'lender', was, now: 'The Skerrow Society' },
    ]),
  );
  expect((await row('LEN-100')).lender).toBe('The Skerow Society');
  expect(await correctMedia(db(), who, rows, seen)).toEqual({ corrected: 30 });
  const after = await db().select().from(media).where(inArray(media.code, codes));
  expect(new Set(after.map(({ lender }) => lender))).toEqual(new Set(['The Skerrow Society']));
  expect(await told('LEN-100')).toEqual([
    'LEN-100 corrected: lender The Skerrow Society (was The Skerow Society).',
  ]);
  expect(await told('LEN-129')).toEqual([
    'LEN-129 corrected: lender The Skerrow Society (was nothing).',
  ]);
  // What is so already is no correction.
  expect(await correctMedia(db(), who, rows, null)).toEqual({ corrected: 0 });
  expect(await told('LEN-100')).toHaveLength(1);
});

test('all or none: what can’t be so is named, and nothing is changed', async () => {
  await registerMany(db(), who, [made('NON-1'), made('NON-2'), made('NON-3')]);
  const rows = rowsOf(
    ['NON-1', { title: 'Another' }],
    ['NON-2', { code: 'NON-3' }],
    ['NON-9', { title: 'Nothing is called so' }],
    ['NON-3', { setNumber: 4 }],
  );
  const { media: shown } = await previewCorrections(db(), rows);
  expect(shown.map(({ trouble }) => trouble !== null)).toEqual([false, true, true, true]);
  await expect(correctMedia(db(), who, rows, null)).rejects.toMatchObject({
    status: 409,
    code: 'media.nothingWasCorrected',
  });
  expect([(await row('NON-1')).title, (await row('NON-3')).setNumber]).toEqual([
    'Disk NON-1',
    null,
  ]);
  const twice = rowsOf(['NON-1', { code: 'NON-7' }], ['NON-2', { code: 'NON-7' }]);
  await expect(correctMedia(db(), who, twice, null)).rejects.toMatchObject({ status: 409 });
  const same = rowsOf(['NON-1', { title: 'A' }], ['NON-1', { title: 'B' }]);
  await expect(correctMedia(db(), who, same, null)).rejects.toMatchObject({ status: 409 });
});

test('what was changed by another since it was seen is not corrected', async () => {
  await registerMedium(db(), who, made('SEE-1', { lot: 'lot 1' }));
  const rows = rowsOf(['SEE-1', { lot: 'lot 2' }]);
  const { seen } = await previewCorrections(db(), rows);
  await correctMedium(db(), who, 'SEE-1', { lot: 'lot 3' });
  await expect(correctMedia(db(), who, rows, seen)).rejects.toMatchObject({
    code: 'media.changedMeanwhile',
  });
  expect((await row('SEE-1')).lot).toBe('lot 3');
  expect(await db().select().from(lots).where(eq(lots.name, 'lot 3'))).toHaveLength(1);
});

test('a code that was wrong: pages, labels and search find the medium, and nobody else is given it', async () => {
  await registerMedium(db(), who, made('OLD-17', { title: 'Buoy logs' }));
  const { id } = await row('OLD-17');
  await correctMedium(db(), who, 'OLD-17', { code: 'OLD-71' });
  expect([
    (await mediumByCode(db(), 'OLD-71')).id,
    (await mediumByCode(db(), 'OLD-17')).id,
  ]).toEqual([id, id]);
  await placeMedium(db(), who, 1, 'OLD-71').catch(() => undefined);
  const scanned = await takeScan(db(), who, 'OLD-17', null);
  expect(JSON.stringify(scanned)).toContain('OLD-71');
  await expect(registerMedium(db(), who, made('OLD-17'))).rejects.toMatchObject({
    status: 409,
    code: 'media.codeIsAnothers',
  });
  await registerMedium(db(), who, made('OLD-18'));
  await expect(correctMedium(db(), who, 'OLD-18', { code: 'OLD-17' })).rejects.toMatchObject({
    status: 409,
  });
  // It may have its own again.
  await correctMedium(db(), who, 'OLD-71', { code: 'OLD-17' });
  expect((await mediumByCode(db(), 'OLD-71')).code).toBe('OLD-17');
  expect(await told('OLD-17')).toEqual(
    [
      'OLD-71 corrected: code OLD-17 (was OLD-71).',
      'OLD-17 corrected: code OLD-71 (was OLD-17).',
    ].reverse(),
  );
});

test('the form of what lies in a drive, or was read as another kind, stays; so does an original', async () => {
  await registerMany(db(), who, [made('FRM-1'), made('FRM-2'), made('FRM-3')]);
  await correctMedium(db(), who, 'FRM-1', { form: '5.25' });
  await correctMedium(db(), who, 'FRM-1', { form: 'optical-disc' });
  expect((await row('FRM-1')).form).toBe('optical-disc');
  const image = makeBlank(BLANK_KINDS.find(({ id }) => id === 'wavesample')!);
  await takeIn(db(), who, { name: 'x.img', code: 'FRM-2' }, image);
  for (const change of [{ form: 'hard-disk' }, { isBlank: true }])
    await expect(correctMedia(db(), who, rowsOf(['FRM-2', change]), null)).rejects.toMatchObject({
      status: 409,
    });
  await correctMedium(db(), who, 'FRM-2', { form: '5.25' });
  // What nothing was read of may be a blank after all, and is made for nothing once it is none.
  await correctMedium(db(), who, 'FRM-3', { isBlank: true, density: 'high' });
  await correctMedium(db(), who, 'FRM-3', { isBlank: false });
  expect(await row('FRM-3')).toMatchObject({ isBlank: false, density: null });
});

test('what is corrected is found by it, and not by what it was', async () => {
  const image = makeBlank(BLANK_KINDS.find(({ id }) => id === 'wavesample')!);
  const { code } = await takeIn(db(), who, { name: 'x.img' }, image);
  await correctMedium(db(), who, code, {
    title: 'Zygomorphic tide gauge',
    setName: 'Gauges',
    setNumber: 2,
  });
  const found = async (query: string) =>
    (await searchHoldings(db(), { q: query })).copies.map((each) => each.code);
  expect(await found('zygomorphic')).toEqual([code]);
  await correctMedium(db(), who, code, { title: 'Something else' });
  expect(await found('zygomorphic')).toEqual([]);
  expect(await db().select().from(sets).where(eq(sets.name, 'Gauges'))).toHaveLength(1);
});

test('a lot is called otherwise and came from another: its media follow, those of other lenders do not', async () => {
  await registerMany(db(), who, [
    made('LOT-1', { lot: 'lot 70', lender: 'Wrong club' }),
    made('LOT-2', { lot: 'lot 70', lender: 'Wrong club' }),
    made('LOT-3', { lot: 'lot 70', lender: 'Its own' }),
  ]);
  const [lot] = await db().select().from(lots).where(eq(lots.name, 'lot 70'));
  const change = (over: object) => LotChange.parse({ ...lot, ...over });
  await changeLot(
    db(),
    who,
    'lot 70',
    change({ name: 'lot 71', lender: 'Right club', withMedia: true }),
  );
  const own = await db().select().from(media).where(eq(media.lot, 'lot 71')).orderBy(media.code);
  expect(own.map(({ code, lender }) => [code, lender])).toEqual([
    ['LOT-1', 'Right club'],
    ['LOT-2', 'Right club'],
    ['LOT-3', 'Its own'],
  ]);
  expect(await db().select().from(lots).where(eq(lots.name, 'lot 70'))).toEqual([]);
  const last = (
    await db().select().from(ledger).where(eq(ledger.kind, 'lot')).orderBy(ledger.id)
  ).at(-1)!;
  expect(tell(last.what)).toBe(
    'Lot lot 70 corrected: name lot 71 (was lot 70); lender Right club (was Wrong club).',
  );
  // What is so already is no correction; a name that is taken is none of its.
  const count = () => db().$count(ledger);
  const before = await count();
  await changeLot(
    db(),
    who,
    'lot 71',
    LotChange.parse({ ...lot, name: 'lot 71', lender: 'Right club' }),
  );
  expect(await count()).toBe(before);
  await registerMedium(db(), who, made('LOT-4', { lot: 'lot 72' }));
  await expect(changeLot(db(), who, 'lot 71', change({ name: 'lot 72' }))).rejects.toMatchObject({
    status: 409,
    field: 'name',
  });
});

test('what was registered in another order, or comes back as it is, is no change', async () => {
  const origin = { jumpers: 'master', notes: 'as found' };
  await registerMany(db(), who, [
    made('ORD-1', { marks: ['scratches', 'mould'] }),
    made('ORD-2', { form: 'hard-disk', origin }),
  ]);
  await correctMedium(db(), who, 'ORD-1', { title: 'Another' });
  expect(await told('ORD-1')).toEqual(['ORD-1 corrected: title Another (was Disk ORD-1).']);
  await correctMedium(db(), who, 'ORD-1', { marks: { mould: true } });
  await correctMedium(db(), who, 'ORD-2', { origin: { ...origin } });
  expect([(await told('ORD-1')).length, await told('ORD-2')]).toEqual([1, []]);
  // What was noted beside it is in the ledger as well, once it is noted otherwise.
  await correctMedium(db(), who, 'ORD-2', { origin: { ...origin, notes: 'its lid is lost' } });
  const [entry] = await told('ORD-2');
  expect([entry!.includes('as found'), entry!.includes('its lid is lost')]).toEqual([true, true]);
});

test('what the ledger keeps of marks, sides and densities are codes, not words', async () => {
  await registerMedium(db(), who, made('COD-1', { isBlank: true, density: 'double' }));
  const { id } = await row('COD-1');
  await correctMedium(db(), who, 'COD-1', {
    ...{ density: 'high', recordedSide: 'both', marks: { mould: true, shedding: true } },
  });
  const [entry] = await db()
    .select({ what: ledger.what })
    .from(ledger)
    .where(and(eq(ledger.mediumId, id), eq(ledger.kind, 'described')));
  const kept = JSON.stringify(entry!.what);
  for (const code of ['marks.mould', 'marks.shedding', 'sides.both', 'media.densityOf'])
    expect(kept).toContain(code);
});

test('two that are given the same code at once: one has it, the other is told', async () => {
  await registerMany(db(), who, [made('RAC-51'), made('RAC-52')]);
  const ends = await Promise.allSettled(
    ['RAC-51', 'RAC-52'].map((code) => correctMedium(db(), who, code, { code: 'RAC-59' })),
  );
  const refused = ends.flatMap((end) => (end.status === 'rejected' ? [end.reason as unknown] : []));
  expect(refused).toHaveLength(1);
  expect(refused[0]).toMatchObject({ status: 409 });
  expect((await row('RAC-59')).title).toMatch(/^Disk RAC-5[12]$/);
});

test('by the code that it had, a medium is put in a station, and a file comes to it', async () => {
  await registerMany(db(), who, [made('WAS-1'), made('WAS-3', { form: '5.25' })]);
  await correctMedium(db(), who, 'WAS-1', { code: 'WAS-2' });
  const image = makeBlank(BLANK_KINDS.find(({ id }) => id === 'wavesample')!);
  expect((await takeIn(db(), who, { name: 'x.img', code: 'WAS-1' }, image)).code).toBe('WAS-2');
  const [station] = await db().select().from(stations).where(eq(stations.form, '3.5')).limit(1);
  expect((await mediumFor(db(), station!, 'WAS-1')).code).toBe('WAS-2');
});

test('nothing to correct is said as that', () => {
  const { error } = ManyCorrections.safeParse({ media: [], seen: null });
  expect(error!.issues[0]!.message).toContain('correct');
});

test('without its set a medium has no place in one', async () => {
  await registerMedium(db(), who, made('PLC-1', { setName: 'Charts', setNumber: 2 }));
  await correctMedium(db(), who, 'PLC-1', { setName: '' });
  expect(await row('PLC-1')).toMatchObject({ setName: '', setNumber: null });
});

test('a table goes out and comes back: what was changed in it is what is corrected', async () => {
  const odd = `=cmd|'/c calc'!A1, "quoted"; and\nbroken`;
  await registerMany(db(), who, [
    made('TAB-1', { lender: 'Table club', labelText: odd, marks: ['mould', 'scratches'] }),
    made('TAB-2', { lender: 'Table club', writeProtected: true, setName: 'Tables', setNumber: 3 }),
  ]);
  const question = FactsQuestion.parse({ q: 'table club' });
  expect((await listFacts(db(), question)).media.map(({ code }) => code)).toEqual([
    'TAB-1',
    'TAB-2',
  ]);
  const csv = await factTable(db(), question, false).text();
  const untouched = correctionsIn(csv)!;
  expect([untouched.odd, untouched.unknown]).toEqual([[], []]);
  const same = await previewCorrections(
    db(),
    ManyCorrections.parse({ media: untouched.rows, seen: null }).media,
  );
  expect(same.media.map(({ changes, trouble }) => [changes, trouble])).toEqual([
    [[], null],
    [[], null],
  ]);
  const changed = correctionsIn(
    csv.replaceAll('Table club', 'The table club').replace('Disk TAB-2', 'Disk 2'),
  )!;
  const rows = ManyCorrections.parse({ media: changed.rows, seen: null }).media;
  const { seen, media: shown } = await previewCorrections(db(), rows);
  expect(shown.map(({ changes }) => changes.map(({ fact }) => fact))).toEqual([
    ['lender'],
    ['title', 'lender'],
  ]);
  await correctMedia(db(), who, rows, seen);
  expect(await row('TAB-1')).toMatchObject({ lender: 'The table club', labelText: odd });
  expect(await row('TAB-2')).toMatchObject({ title: 'Disk 2', writeProtected: true, setNumber: 3 });
});

test.each([
  ['a code that is none', { code: 'x-' }],
  ['a form that is none', { form: '4' }],
  ['a place below the first', { setNumber: 0 }],
])('%s', (_, change) =>
  expect(
    ManyCorrections.safeParse({ media: [{ code: 'SKP-0103', change }], seen: null }).success,
  ).toBe(false),
);
