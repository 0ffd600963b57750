/** What is said of media, sets and lots: kept, told with what it was, inherited, searched, refused. */
import { asc, eq } from 'drizzle-orm';
import { makeBlank } from '@/core/identify/make-blank';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import { readContainer } from '@/core/flux/container-reader';
import { PROGRAM_VERSION } from '@/server/platform/version';
import { Sidecar } from '@/core/image/sidecar-schema';
import { tell } from '@/messages/tell';
import { nodeDigester } from '@/node/digester';
import { copyPart } from '@/server/features/copies/downloads';
import { latestFairCopy } from '@/server/features/copies/queries';
import {
  describe as describeIt,
  descriptionOf,
  descriptionOfMedium,
} from '@/server/features/descriptions/descriptions';
import { dublinCoreRecord } from '@/server/features/descriptions/dublin-core-record';
import { DescriptionChange } from '@/server/features/descriptions/new-description';
import { listRecords } from '@/server/features/descriptions/record-lists';
import { recordPage } from '@/server/features/descriptions/record-pages';
import { descriptions } from '@/server/features/descriptions/tables';
import { nameOfBlob } from '@/server/features/fixity/blob-names';
import { searchHoldings } from '@/server/features/holdings/holdings';
import { takeIn } from '@/server/features/intake/intake';
import { ledger } from '@/server/features/ledger/tables';
import { listArrivals } from '@/server/features/media/arrivals';
import { changeLot } from '@/server/features/media/lots';
import { mediumByCode, registerMedium } from '@/server/features/media/media';
import { LotChange, NewMedium, SetChange } from '@/server/features/media/new-medium';
import { addPaper, papersOf, removePaper } from '@/server/features/media/papers';
import { attachments } from '@/server/features/media/tables';
import { changeSet } from '@/server/features/media/sets';
import { readBlob } from '@/server/platform/blobs/read-blob';
import { serverSuite } from '../../support/server-suite';
import { loadVector } from '../../support/vectors';

const suite = serverSuite();
const who = 1;
const db = () => suite.connection.db;

const register = (code: string, more: object = {}) =>
  registerMedium(db(), who, NewMedium.parse({ code, form: '3.5', title: `Disk ${code}`, ...more }));
const say = (kind: 'media' | 'sets' | 'lots', name: string, change: object) =>
  describeIt(db(), who, kind, name, DescriptionChange.parse(change));
const saidOf = async (code: string) => descriptionOfMedium(db(), await mediumByCode(db(), code));
const lastEntry = async (kind: 'described' | 'set' | 'lot') => {
  const entries = await db()
    .select()
    .from(ledger)
    .where(eq(ledger.kind, kind))
    .orderBy(asc(ledger.id));
  return tell(entries.at(-1)!.what);
};
const ACQUIRED = { from: 'E. Wren', on: '2019-05', how: 'gift', notes: '', agreement: null };

test('what is said is kept, element by element, and the ledger has what it was', async () => {
  await register('DSC-0001');
  await say('media', 'DSC-0001', { elements: { creator: ['A. Rook', 'B. Jay'], date: ['1987~'] } });
  expect(await lastEntry('described')).toBe(
    'DSC-0001 described: creator: A. Rook, B. Jay (was nothing); date: 1987~ (was nothing).',
  );
  await say('media', 'DSC-0001', { elements: { creator: ['A. Rook'], language: ['en'] } });
  expect((await saidOf('DSC-0001')).own.elements).toEqual({
    creator: ['A. Rook'],
    date: ['1987~'],
    language: ['en'],
  });
  expect(await lastEntry('described')).toBe(
    'DSC-0001 described: creator: A. Rook (was A. Rook, B. Jay); language: en (was nothing).',
  );
  await say('media', 'DSC-0001', { elements: { date: [] } });
  expect((await saidOf('DSC-0001')).own.elements).not.toHaveProperty('date');
});

test('what is said already is no event', async () => {
  await register('DSC-0002');
  await say('media', 'DSC-0002', { elements: { subject: ['fog'] }, acquisition: ACQUIRED });
  const before = await db().$count(ledger);
  await say('media', 'DSC-0002', { elements: { subject: ['fog'] }, acquisition: ACQUIRED });
  await say('media', 'DSC-0002', {});
  expect(await db().$count(ledger)).toBe(before);
});

test('a medium has what its set says, and then what its lot says', async () => {
  await register('DSC-0003', { lot: 'Lamp house', setName: 'Logs of the lamp', setNumber: 1 });
  await say('lots', 'Lamp house', {
    elements: { subject: ['lamps'], coverage: ['The Skerries'] },
    acquisition: ACQUIRED,
  });
  await say('sets', 'Logs of the lamp', { elements: { subject: ['logs', 'lamps'] } });
  await say('media', 'DSC-0003', { elements: { description: ['Nights in March'] } });
  const { elements, acquisition } = await saidOf('DSC-0003');
  expect(elements).toEqual([
    { element: 'description', values: ['Nights in March'], from: 'medium' },
    { element: 'subject', values: ['logs', 'lamps'], from: 'set' },
    { element: 'coverage', values: ['The Skerries'], from: 'lot' },
  ]);
  expect(acquisition).toEqual({ value: ACQUIRED, from: 'lot' });
});

test('what is said follows a lot and a set to their new names, as papers do', async () => {
  await register('DSC-0004', { lot: 'Atic', setName: 'Roll', setNumber: 2 });
  await say('lots', 'Atic', { elements: { source: ['In a tin'] } });
  await say('sets', 'Roll', { elements: { language: ['fo'] } });
  await addPaper(db(), who, { lot: 'Atic' }, 'list.txt', Buffer.from('A list of all'));
  await addPaper(db(), who, { set: 'Roll' }, 'roll.txt', Buffer.from('The roll'));
  const lot = LotChange.parse({
    ...{ name: 'Attic', lender: '', cameIn: '', handBackBy: '', revolutions: 3, tries: 5 },
  });
  await changeLot(db(), who, 'Atic', lot);
  await changeSet(db(), who, 'Roll', SetChange.parse({ name: 'Rolls', members: 3 }));
  expect(await lastEntry('set')).toBe('The set Rolls should have 3 media.');
  expect((await saidOf('DSC-0004')).elements.map(({ element, from }) => [element, from])).toEqual([
    ['language', 'set'],
    ['source', 'lot'],
  ]);
  expect((await papersOf(db(), { lotName: 'Attic' })).map(({ name }) => name)).toEqual([
    'list.txt',
  ]);
  expect((await papersOf(db(), { setName: 'Rolls' })).map(({ name }) => name)).toEqual([
    'roll.txt',
  ]);
  expect(await mediumByCode(db(), 'DSC-0004')).toMatchObject({ lot: 'Attic', setName: 'Rolls' });
});

test('a set is not given the name of another', async () => {
  await register('DSC-0005', { setName: 'Left', setNumber: 1 });
  await register('DSC-0006', { setName: 'Right', setNumber: 1 });
  await expect(
    changeSet(db(), who, 'Left', SetChange.parse({ name: 'Right', members: null })),
  ).rejects.toMatchObject({ status: 409, code: 'media.setIsThere', field: 'name' });
  expect((await mediumByCode(db(), 'DSC-0005')).setName).toBe('Left');
});

test('an agreement is a paper that lies beside it, and is told when it is gone', async () => {
  await register('DSC-0007', { lot: 'Deposit 7' });
  const owner = { lot: 'Deposit 7' };
  const { id } = await addPaper(db(), who, owner, 'agreement.txt', Buffer.from('We lend'));
  const others = await addPaper(db(), who, { code: 'DSC-0007' }, 'x.txt', Buffer.from('Its own'));
  await expect(
    say('lots', 'Deposit 7', { acquisition: { ...ACQUIRED, agreement: others.id } }),
  ).rejects.toMatchObject({ status: 422, code: 'descriptions.noPaperOfIt', field: 'agreement' });
  await say('lots', 'Deposit 7', { acquisition: { ...ACQUIRED, agreement: id } });
  expect(await lastEntry('lot')).toBe(
    'lot Deposit 7 described: acquired as a gift from E. Wren, 2019-05, agreement agreement.txt (was nothing).',
  );
  const newer = await addPaper(db(), who, owner, 'newer.txt', Buffer.from('We lend longer'));
  await say('lots', 'Deposit 7', { acquisition: { ...ACQUIRED, agreement: newer.id } });
  expect(await lastEntry('lot')).toMatch(/agreement newer\.txt \(was .*agreement agreement\.txt\)/);
  await say('lots', 'Deposit 7', { acquisition: { ...ACQUIRED, agreement: id } });
  expect((await saidOf('DSC-0007')).agreements).toEqual([
    { id, name: 'agreement.txt', type: 'text/plain' },
  ]);
  await removePaper(db(), who, id);
  expect(await saidOf('DSC-0007')).toMatchObject({
    acquisition: { value: { agreement: id } },
    agreements: [],
  });
});

test('what is held is found by what is said of it, of its set and of its lot, and no longer by what was', async () => {
  const image = makeBlank(BLANK_KINDS.find(({ id }) => id === 'wavesample')!);
  const code = 'HLD-1';
  await register(code);
  await takeIn(db(), who, { name: 'words.img', code }, image);
  const found = async (q: string) => (await searchHoldings(db(), { q })).copies.map((c) => c.code);
  expect(await found('quernstone')).toEqual([]);
  await say('media', code, { elements: { subject: ['Quernstones'] } });
  expect(await found('quernstone')).toEqual([code]);
  await say('media', code, { elements: { subject: ['millponds'] } });
  expect(await found('quernstone')).toEqual([]);
  expect(await found('millpond')).toEqual([code]);
});

test('what waits is found by what is said of its lot', async () => {
  await register('WTS-1', { lot: 'Loft of the mill' });
  await register('WTS-2');
  const waiting = async (q: string) =>
    (await listArrivals(db(), { q })).media.map(({ code }) => code);
  await say('lots', 'Loft of the mill', { elements: { coverage: ['Ashwater'] } });
  expect(await waiting('ashwater')).toEqual(['WTS-1']);
  await say('media', 'WTS-2', { elements: { contributor: ['P. Ashwater'] } });
  expect(await waiting('Ashwater')).toEqual(['WTS-1', 'WTS-2']);
});

test.each([
  ['a day there is none of', { elements: { date: ['1987-02-30'] } }, ['elements', 'date']],
  ['a language in words', { elements: { language: ['English'] } }, ['elements', 'language']],
  ['a type of our own', { elements: { type: ['Disk'] } }, ['elements', 'type']],
  ['an element there is none of', { elements: { maker: ['x'] } }, ['elements']],
  ['an empty value', { elements: { creator: [' '] } }, ['elements', 'creator', 0]],
  [
    'a value without end',
    { elements: { creator: ['x'.repeat(4001)] } },
    ['elements', 'creator', 0],
  ],
  [
    'a way there is none of',
    { acquisition: { ...ACQUIRED, how: 'theft' } },
    ['acquisition', 'how'],
  ],
  ['a day in words', { acquisition: { ...ACQUIRED, on: 'in May' } }, ['acquisition', 'on']],
])('%s is refused', (_, change, path) => {
  expect(DescriptionChange.safeParse(change).error?.issues[0]).toMatchObject({ path });
});

test('two who describe one medium at once undo nothing of one another', async () => {
  await register('DSC-0010');
  await Promise.all([
    say('media', 'DSC-0010', { elements: { creator: ['A. Rook'] } }),
    say('media', 'DSC-0010', { elements: { publisher: ['The Society'] } }),
    say('media', 'DSC-0010', { acquisition: ACQUIRED }),
  ]);
  expect((await saidOf('DSC-0010')).own).toEqual({
    elements: { creator: ['A. Rook'], publisher: ['The Society'] },
    acquisition: ACQUIRED,
  });
  const { id } = await mediumByCode(db(), 'DSC-0010');
  expect(await db().$count(descriptions, eq(descriptions.mediumId, id))).toBe(1);
});

test('the page of a lot has its facts, what is said, its papers and its media; of none there is none', async () => {
  await register('DSC-0011', { lot: 'Tin box', lender: 'E. Wren' });
  await register('DSC-0012', { lot: 'Tin box' });
  await say('lots', 'Tin box', { elements: { extent: ['2 disks'] } });
  expect(await recordPage(db(), 'lots', 'Tin box')).toMatchObject({
    lot: { name: 'Tin box', lender: 'E. Wren' },
    description: { own: { elements: { extent: ['2 disks'] } } },
    media: { all: 2, read: 0, rows: [{ code: 'DSC-0011' }, { code: 'DSC-0012' }] },
  });
  await expect(recordPage(db(), 'lots', 'No box')).rejects.toMatchObject({ status: 404 });
  await expect(recordPage(db(), 'sets', 'Tin box')).rejects.toMatchObject({ status: 404 });
  await expect(descriptionOf(db(), 'sets', 'Tin box')).rejects.toMatchObject({ status: 404 });
  await expect(say('media', 'DSC-9999', { elements: {} })).rejects.toMatchObject({ status: 404 });
});

test('the page of a set has its media in their places, and which are missing', async () => {
  await register('DSC-0013', { setName: 'Charts', setNumber: 3 });
  await register('DSC-0014', { setName: 'Charts', setNumber: 1 });
  expect(await recordPage(db(), 'sets', 'Charts')).toMatchObject({
    members: null,
    missing: [2],
    media: { all: 2, rows: [{ code: 'DSC-0014', setNumber: 1 }, { code: 'DSC-0013' }] },
  });
});

/** A medium that was read elsewhere, as flux, and is described. */
async function heldFlux(code: string) {
  await register(code, {
    labelText: '“ROTA”',
    lender: 'The keeper',
    setName: 'Rotas',
    setNumber: 2,
  });
  const capture = loadVector('flux/clean-mfm-35-9x512.fsflux');
  await takeIn(db(), who, { name: `${code}.fsflux`, code }, capture);
  await say('sets', 'Rotas', { elements: { subject: ['rotas'] }, acquisition: ACQUIRED });
  await say('media', code, { elements: { creator: ['A. Rook'] } });
  const { id } = await mediumByCode(db(), code);
  return { capture, copy: (await latestFairCopy(db(), id))! };
}

test('the sidecar leaves with what is said of the medium, its grades as they were stored', async () => {
  const { copy } = await heldFlux('OUT-1');
  const answer = await copyPart(db(), copy.id, 'sidecar');
  const text = await answer.text();
  const { record, made, ...rest } = Sidecar.parse(JSON.parse(text));
  expect(record).toEqual({
    ...{ code: 'OUT-1', form: '3.5', title: 'Disk OUT-1', sticker: '“ROTA”', lender: 'The keeper' },
    ...{ lot: '', set: 'Rotas', place: 2 },
    elements: { creator: ['A. Rook'], subject: ['rotas'] },
    acquisition: { from: 'E. Wren', on: '2019-05', how: 'gift', notes: '' },
  });
  expect(made).toEqual({
    ...{ at: copy.madeAt.toISOString(), by: 'Ingrid Sollis', program: PROGRAM_VERSION },
    ...{ from: 'upload', readings: [] },
  });
  const stored = new TextDecoder().decode(await readBlob(db(), copy.sidecarBlob!));
  expect(rest).toEqual(JSON.parse(stored));
  expect(answer.headers.get('content-length')).toBe(String(Buffer.byteLength(text)));
  // Any range of it is that range, over the place where the stored one begins.
  const bytes = Buffer.from(text);
  const front = text.indexOf('"format"');
  for (const [from, to] of [
    [0, 9],
    [front - 4, front + 20],
    [front + 3, bytes.length - 1],
  ]) {
    const headers = new Headers({ range: `bytes=${from}-${to}` });
    const part = await copyPart(db(), copy.id, 'sidecar', { headers });
    expect(Buffer.from(await part.arrayBuffer())).toEqual(bytes.subarray(from, to! + 1));
  }
  const tag = answer.headers.get('etag');
  await say('media', 'OUT-1', { elements: { creator: ['B. Jay'] } });
  const later = await copyPart(db(), copy.id, 'sidecar');
  expect(later.headers.get('etag')).not.toBe(tag);
});

test('a capture leaves as it came, or with what is said of the medium in its header', async () => {
  const { capture, copy } = await heldFlux('OUT-2');
  const bytesOf = async (isDescribed: boolean) =>
    new Uint8Array(await (await copyPart(db(), copy.id, 'capture', { isDescribed })).arrayBuffer());
  expect(Buffer.compare(await bytesOf(false), capture)).toBe(0);
  const { header, problems, tracks } = readContainer(await bytesOf(true), nodeDigester);
  expect(problems).toEqual([]);
  expect(header).toMatchObject({
    label: 'OUT-2 Disk OUT-2',
    notes: '“ROTA”\ndc:creator: A. Rook\ndc:subject: rotas',
  });
  expect(tracks).toEqual(readContainer(capture, nodeDigester).tracks);
});

test('a capture that is cut leaves as it is, and is not written anew', async () => {
  await register('OUT-3');
  const capture = loadVector('flux/clean-mfm-35-9x512.fsflux');
  const cut = capture.subarray(0, capture.length - 30);
  await takeIn(db(), who, { name: 'cut.fsflux', code: 'OUT-3' }, cut);
  const { id } = await mediumByCode(db(), 'OUT-3');
  const copy = (await latestFairCopy(db(), id))!;
  await expect(copyPart(db(), copy.id, 'capture', { isDescribed: true })).rejects.toMatchObject({
    status: 422,
    code: 'copies.captureIsNotWhole',
  });
  const whole = await (await copyPart(db(), copy.id, 'capture')).arrayBuffer();
  expect(Buffer.compare(new Uint8Array(whole), cut)).toBe(0);
});

test('what is taken in comes from the lender and in the lot that were said, a further copy from its own', async () => {
  await register('BAT-1', { lot: 'Crate 9', lender: 'The pilots' });
  const image = makeBlank(BLANK_KINDS.find(({ id }) => id === 'wavesample')!);
  const taken = async (about: object) => {
    const { code } = await takeIn(db(), who, { name: 'x.img', ...about }, image);
    const { lender, lot } = await mediumByCode(db(), code);
    return { lender, lot };
  };
  expect(await taken({ lender: ' A. Tern ', lot: 'Crate 10' })).toEqual({
    lender: 'A. Tern',
    lot: 'Crate 10',
  });
  expect((await recordPage(db(), 'lots', 'Crate 10')).media.all).toBe(1);
  // A lot that is known says from whom it came.
  expect(await taken({ lot: 'Crate 9' })).toEqual({ lender: 'The pilots', lot: 'Crate 9' });
  expect(await taken({ code: 'BAT-1', lender: 'Another', lot: 'Another' })).toEqual({
    lender: 'The pilots',
    lot: 'Crate 9',
  });
  expect(await taken({})).toEqual({ lender: '', lot: '' });
});

test('the record of a medium has what counts for it, that of a lot what it says itself', async () => {
  await register('XML-1', { lot: 'Box <7> & more', labelText: '“ROTA”', title: 'Rota' });
  await say('lots', 'Box <7> & more', {
    elements: { creator: ['Rook & Jay'], extent: ['9 disks'] },
  });
  await say('media', 'XML-1', { elements: { language: ['en'] } });
  const lines = async (kind: 'media' | 'lots', name: string) => {
    const answer = await dublinCoreRecord(db(), kind, name);
    expect(answer.headers.get('content-type')).toBe('application/xml; charset=utf-8');
    return (await answer.text()).split('\n').filter((line) => line.startsWith('  <dc:'));
  };
  expect(await lines('media', 'XML-1')).toEqual([
    '  <dc:title>Rota</dc:title>',
    '  <dc:identifier>XML-1</dc:identifier>',
    '  <dc:creator>Rook &amp; Jay</dc:creator>',
    '  <dc:language>en</dc:language>',
    '  <dc:description>“ROTA”</dc:description>',
    '  <dc:format>3½-inch</dc:format>',
    '  <dc:relation>Box &lt;7&gt; &amp; more</dc:relation>',
  ]);
  expect(await lines('lots', 'Box <7> & more')).toContain('  <dc:format>9 disks</dc:format>');
  await expect(dublinCoreRecord(db(), 'sets', 'No set')).rejects.toMatchObject({ status: 404 });
});

test('lots and sets are listed with how far they are read, and found by what is said of them', async () => {
  await register('LST-1', { lot: 'Zinc box', lender: 'The dredgers', setName: 'Zinc tapes' });
  await register('LST-2', { lot: 'Zinc box', lender: 'The dredgers' });
  const image = makeBlank(BLANK_KINDS.find(({ id }) => id === 'wavesample')!);
  await takeIn(db(), who, { name: 'x.img', code: 'LST-2' }, image);
  await say('sets', 'Zinc tapes', { elements: { subject: ['Soundings of the bar'] } });
  const zinc = await listRecords(db(), { q: 'ZINC' });
  expect(zinc).toMatchObject({
    lots: [{ name: 'Zinc box', lender: 'The dredgers', all: 2, read: 1 }],
    sets: [{ name: 'Zinc tapes', members: null, all: 1, read: 0 }],
    isAll: true,
  });
  const names = async (q: string) => {
    const found = await listRecords(db(), { q });
    return [...found.lots, ...found.sets].map(({ name }) => name);
  };
  expect(await names('dredgers zinc')).toEqual(['Zinc box']);
  expect(await names('soundings bar')).toEqual(['Zinc tapes']);
  expect(await names('100%_')).toEqual([]);
});

test('a paper of a lot or of a set that is damaged is told by whose it is', async () => {
  await register('PAP-1', { lot: 'Lot of papers', setName: 'Set of papers' });
  for (const owner of [{ lot: 'Lot of papers' }, { set: 'Set of papers' }]) {
    const { id } = await addPaper(db(), who, owner, 'told.txt', Buffer.from(JSON.stringify(owner)));
    const [paper] = await db().select().from(attachments).where(eq(attachments.id, id));
    expect(await nameOfBlob(db(), paper!.blobId)).toEqual({
      code: 'platform.storedPaperOf',
      with: { name: 'told.txt', code: Object.values(owner)[0] },
    });
  }
});
