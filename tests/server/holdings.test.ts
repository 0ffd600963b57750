/**
 * The holdings: searched and narrowed, images inside images, what is alike settled, many disks
 * taken out, whole folders taken in, bytes in place.
 */
import { eq, sql } from 'drizzle-orm';
import { buildFat12 } from '../../demo/fat-builder';
import { shippedLayout } from '@/core/layout/shipped';
import { extracts } from '@/server/features/extracts/tables';
import { fairCopies } from '@/server/features/copies/tables';
import { holdings } from '@/server/features/holdings/tables';
import { findings } from '@/server/features/signatures/tables';
import { media, sets } from '@/server/features/media/tables';
import { blobChunks, blobs } from '@/server/platform/blobs/tables';
import { listAlike } from '@/server/features/holdings/alike';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import {
  cancelExtract,
  extractBytes,
  listExtracts,
  startExtract,
} from '@/server/features/extracts/extracts';
import { contentsOf } from '@/server/features/copies/queries';
import { EntriesQuestion, listEntries } from '@/server/features/copies/listing';
import { volumes } from '@/server/features/copies/tables';
import { copyPart, fileBytes } from '@/server/features/copies/downloads';
import { searchHoldings } from '@/server/features/holdings/holdings';
import {
  BytesQuestion,
  StringsQuestion,
  findInImage,
  imageBytes,
  imageMap,
  imageStrings,
} from '@/server/features/copies/image-bytes';
import { takeIn } from '@/server/features/intake/intake';
import { addPaper, papersOf, showPaper } from '@/server/features/media/papers';
import { relate } from '@/server/features/holdings/relations';
import { pairFiles, sideBySide } from '@/server/features/holdings/side-by-side';
import { runExtract } from '@/server/features/extracts/extract-job';
import { until } from '../support/application';
import { keepAllAlike } from '../support/alike';
import { serverSuite } from '../support/server-suite';
import { unzip } from '../support/unzip';
import { loadExpectation, loadVector, sha256Hex } from '../support/vectors';

const suite = serverSuite();
const who = 1;
const db = () => suite.connection.db;
const docket = (code: string) => mediumDetail(db(), code);
const file = (path: string, bytes: Uint8Array) => ({
  path,
  bytes,
  modified: '1990-02-03T04:05:06',
});
const text = (words: string) => new TextEncoder().encode(words);

const words = text('The lamp was trimmed at the turn of the tide.\r\n');
const disk = (label: string, more: { path: string; bytes: Uint8Array }[]) =>
  buildFat12(shippedLayout('mfm-35-9x512')!, label, [
    file('LAMP.TXT', words),
    file('FOG/HORN.TXT', text('Sounded twice.\r\n')),
    file('FOG/BELL.TXT', text('Silent, ice.\r\n')),
    ...more.map(({ path, bytes }) => file(path, bytes)),
  ]);
let gathered = '';
/** What is kept before any test keeps more. */
let atFirst: number[] = [];
beforeAll(async () => {
  const large = buildFat12(shippedLayout('mfm-35-18x512')!, 'GATHERED', [
    file('OLD/TIDES.D64', loadVector('volumes/d64-plain.d64')),
    file('LAMP.TXT', words),
  ]);
  ({ code: gathered } = await takeIn(db(), who, { name: 'gathered.img' }, large));
  ({ copyIds: atFirst } = await searchHoldings(db(), { q: '' }));
});

test('an image kept as a file is opened where it lies: listed, found, read, taken out', async () => {
  const { contents, copy } = await docket(gathered);
  expect(
    contents.map(({ filesystem, inside, fileCount }) => [filesystem, inside, fileCount]),
  ).toEqual([
    ['fat12', null, 2],
    ['d64', 'OLD/TIDES.D64', 7],
  ]);
  const { files } = loadExpectation<{
    files: { path: string; sha256: string; deleted?: boolean }[];
  }>('volumes/d64-plain-d64');
  const inner = contents[1]!.entries.filter(({ kind, deleted }) => kind === 'file' && !deleted);
  for (const { path, sha256 } of files.filter(({ deleted }) => !deleted)) {
    const entry = inner.find((each) => each.path === path)!;
    expect(sha256Hex(new Uint8Array(await (await fileBytes(db(), entry.id)).arrayBuffer()))).toBe(
      sha256,
    );
  }
  const { found } = await searchHoldings(db(), { q: 'tides 1987' });
  expect(found.map(({ code, inside, path }) => [code, inside, path])).toContainEqual([
    gathered,
    'OLD/TIDES.D64',
    'TIDES 1987',
  ]);
  const zip = unzip(new Uint8Array(await (await copyPart(db(), copy!.id, 'zip')).arrayBuffer()));
  expect(sha256Hex(zip.get('OLD/TIDES.D64 (opened)/TIDES 1987')!)).toBe(
    files.find(({ path }) => path === 'TIDES 1987')!.sha256,
  );
});

test('one folder is taken out alone', async () => {
  const { code } = await takeIn(db(), who, { name: 'lamp.img' }, disk('LAMP', []));
  const { contents, copy } = await docket(code);
  const names = [
    ...unzip(
      new Uint8Array(
        await (
          await copyPart(db(), copy!.id, 'zip', {
            folder: { volumeId: contents[0]!.id, path: 'FOG' },
          })
        ).arrayBuffer(),
      ),
    ).keys(),
  ];
  expect(names.sort()).toEqual(['FOG/BELL.TXT', 'FOG/HORN.TXT', 'manifest.json']);
  await expect(
    copyPart(db(), copy!.id, 'zip', { folder: { volumeId: contents[0]!.id, path: 'FO' } }),
  ).rejects.toThrow('no files to take out of FO');
});

test('facets say how many each choice would leave, and narrow files and texts too', async () => {
  const flatImages = async () => {
    const { facets } = await searchHoldings(db(), { q: '' });
    return facets.state.find(({ value }) => value === 'flat image')!.count;
  };
  const before = await flatImages();
  const { code: lamp } = await takeIn(db(), who, { name: 'facets.img' }, disk('FACETS', []));
  expect(await flatImages()).toBe(before + 1);
  const all = await searchHoldings(db(), { q: '' });
  expect(all.total).toBe(all.copies.length);
  const narrowed = await searchHoldings(db(), { q: 'lamp', state: 'flat image' });
  expect(narrowed.copies.map(({ code }) => code)).toEqual(expect.arrayContaining([gathered, lamp]));
  expect(
    [
      ...new Set(narrowed.found.map(({ code }) => code)),
      ...new Set(narrowed.texts.map(({ code }) => code)),
    ].every((code) => narrowed.copies.some((copy) => copy.code === code)),
  ).toBe(true);
  for (const { value, count: would } of all.facets.filesystem)
    expect((await searchHoldings(db(), { q: '', filesystem: value })).total).toBe(would);
  expect((await searchHoldings(db(), { q: '', lender: 'nobody', form: '3.5' })).total).toBe(0);
  // What a search is made of is data, whatever it is.
  for (const q of ['%', '_', '\\', "'; drop table media; --", '\0', 'a'.repeat(500)])
    expect((await searchHoldings(db(), { q })).total).toBeGreaterThanOrEqual(0);
});

test('a disk that is the same but for a few tracks is found, laid side by side, settled, and the settling taken back', async () => {
  const { code: one } = await takeIn(
    db(),
    who,
    { name: 'dues-a.img' },
    disk('DUES', [
      { path: 'DUES.TXT', bytes: text('Paid in full.\r\n'.repeat(3000)) },
      { path: 'BOOK.DAT', bytes: Uint8Array.from({ length: 90_000 }, (_, i) => (i * 7) & 0xff) },
    ]),
  );
  const second = disk('DUES', [
    { path: 'DUES.TXT', bytes: text('Paid in full.\r\n'.repeat(3000)) },
    {
      path: 'BOOK.DAT',
      bytes: Uint8Array.from({ length: 90_000 }, (_, i) => (i === 80_000 ? 1 : i * 7) & 0xff),
    },
  ]);
  const { code: two } = await takeIn(db(), who, { name: 'dues-b.img' }, second);
  const pairOf = async () => {
    await keepAllAlike(db());
    return (await listAlike(db())).nearly.find(({ a, b }) => a === one && b === two);
  };
  const pair = (await pairOf())!;
  expect(pair.of - pair.same).toBe(1);
  const both = await sideBySide(db(), one, two);
  expect(both.tracks).toEqual({ same: pair.same, of: pair.of });
  expect(both.files[0]).toMatchObject({
    likeness: 'differs',
    first: { path: 'BOOK.DAT' },
    second: { path: 'BOOK.DAT' },
  });
  expect(both.tally).toEqual({ same: 4, differs: 1 });
  await relate(db(), who, { of: two, to: one, kind: 'copy-of' });
  expect(await pairOf()).toBeUndefined();
  expect([(await docket(two)).related, (await docket(one)).related]).toEqual([
    [{ kind: 'copy-of', code: one }],
    [{ kind: 'has-copy', code: two }],
  ]);
  expect(
    (await searchHoldings(db(), { q: '', state: 'a copy' })).copies.map(({ code, copyOf }) => [
      code,
      copyOf,
    ]),
  ).toEqual([[two, one]]);
  await expect(relate(db(), who, { of: one, to: one, kind: 'copy-of' })).rejects.toThrow('itself');
  // Said the other way round, it takes the place of what was said.
  await relate(db(), who, { of: one, to: two, kind: 'copy-of' });
  expect((await docket(one)).related).toEqual([{ kind: 'copy-of', code: two }]);
  await relate(db(), who, { of: two, to: gathered, kind: 'copy-of' });
  await expect(relate(db(), who, { of: gathered, to: one, kind: 'copy-of' })).rejects.toThrow(
    'goes back to',
  );
  // Made from one disk, and from no other.
  await expect(relate(db(), who, { of: two, to: 'SKP-0104', kind: 'copy-of' })).rejects.toThrow(
    'already, and was made from one disk',
  );
  await relate(db(), who, { of: one, to: two, kind: null });
  expect(await pairOf()).toBeDefined();
  expect((await docket(one)).history[0]!.what).toContain('taken back');
  await expect(sideBySide(db(), one, 'SKP-0117')).rejects.toThrow('no fair copy yet');
});

test('files are paired by name, then by their bytes, and each is counted once', () => {
  const side = (id: number, path: string, sha256: string | null, bytes = 5) => ({
    id,
    path,
    bytes,
    modified: null,
    sha256,
    inDoubt: 0,
  });
  const pairs = pairFiles(
    [
      side(1, 'A', 'x'),
      side(2, 'B', 'y'),
      side(3, 'C', 'z'),
      side(4, 'E', 'e', 0),
      side(5, 'U', null),
      side(6, 'T', 'm'),
      side(7, 'T', 'n'),
    ],
    [
      side(16, 'T', 'm'),
      side(17, 'T', 'n'),
      side(18, 'T', 'o'),
      side(11, 'A', 'x'),
      side(12, 'B', 'q'),
      side(13, 'D', 'z'),
      side(14, 'F', 'e', 0),
      side(15, 'U', null),
    ],
  );
  expect(pairs.map(({ likeness, first, second }) => [likeness, first?.path, second?.path])).toEqual(
    [
      ['same', 'A', 'A'],
      ['differs', 'B', 'B'],
      ['differs', 'U', 'U'],
      ['same', 'T', 'T'],
      ['same', 'T', 'T'],
      ['renamed', 'C', 'D'],
      ['first-only', 'E', undefined],
      ['second-only', undefined, 'T'],
      ['second-only', undefined, 'F'],
    ],
  );
});

test('files of many disks come out as one ZIP in the background, with texts; and it can be given up', async () => {
  const worker = suite.application.startWorker();
  const { id } = await startExtract(db(), who, {
    copies: atFirst,
    asText: true,
    acknowledgesQuarantine: false,
  });
  const row = await until('the ZIP', async () => {
    const each = (await listExtracts(db())).find((extract) => extract.id === id)!;
    return each.state === 'done' && each;
  });
  expect(row.now).toMatch(/^[\d\u2009]+ files of \d+ media taken out as one ZIP\.$/);
  const zip = unzip(new Uint8Array(await (await extractBytes(db(), id)).arrayBuffer()));
  const manifest = JSON.parse(new TextDecoder().decode(zip.get('manifest.json'))) as {
    medium: string;
    files: { writtenAs: string; sha256: string; transcript: string | null }[];
  }[];
  expect(manifest).toHaveLength(atFirst.length);
  for (const { files } of manifest)
    for (const { writtenAs, sha256 } of files) expect(sha256Hex(zip.get(writtenAs)!)).toBe(sha256);
  const lamp = manifest
    .find(({ medium }) => medium === gathered)!
    .files.find(({ writtenAs }) => writtenAs.endsWith('/LAMP.TXT'))!;
  expect(new TextDecoder().decode(zip.get(lamp.transcript!))).toBe(
    'The lamp was trimmed at the turn of the tide.\n',
  );
  const basic = manifest
    .find(({ medium }) => medium === 'SKP-0099')!
    .files.find(({ writtenAs }) => writtenAs.endsWith('HORN.BAS'))!;
  expect(new TextDecoder().decode(zip.get(basic.transcript!))).toContain('50 IF S>30 THEN 70');
  // Asked for once more, it has the same bytes: they are kept once, and handed out all the same.
  const { id: again } = await startExtract(db(), who, {
    copies: atFirst,
    asText: true,
    acknowledgesQuarantine: false,
  });
  await until(
    'the same ZIP',
    async () =>
      (await listExtracts(db())).find((extract) => extract.id === again)!.state === 'done',
  );
  expect(sha256Hex(new Uint8Array(await (await extractBytes(db(), again)).arrayBuffer()))).toBe(
    sha256Hex(new Uint8Array(await (await extractBytes(db(), id)).arrayBuffer())),
  );
  await worker.kill();
  // Given up before a worker came to it, which finds that out with its first bytes: nothing of it
  // stays.
  const { id: early } = await startExtract(db(), who, {
    copies: atFirst,
    asText: false,
    acknowledgesQuarantine: false,
  });
  await cancelExtract(db(), early);
  const before = (await db().select().from(blobs)).length;
  const commit = <T>(
    work: (tx: Parameters<Parameters<ReturnType<typeof db>['transaction']>[0]>[0]) => Promise<T>,
  ) => db().transaction(work);
  await runExtract({
    db: db(),
    jobId: '',
    payload: { extractId: early },
    signal: new AbortController().signal,
    commit,
  });
  expect((await db().select().from(extracts).where(eq(extracts.id, early)))[0]).toMatchObject({
    state: 'cancelled',
    blobId: null,
    now: { code: 'extracts.givenUpNothingOf' },
  });
  expect((await db().select().from(blobs)).length).toBe(before);
  await expect(extractBytes(db(), early)).rejects.toThrow('no such extract');
  await expect(cancelExtract(db(), early)).rejects.toThrow('ended already');
  // Bytes of the store that are gone: it ends with a sentence, and nothing of it stays.
  const { id: hurt } = await startExtract(db(), who, {
    copies: atFirst,
    asText: false,
    acknowledgesQuarantine: false,
  });
  const [gone] = await db().select().from(fairCopies).where(eq(fairCopies.id, atFirst[0]!));
  const kept = await db()
    .delete(blobChunks)
    .where(eq(blobChunks.blobId, gone!.imageBlob))
    .returning();
  await expect(
    runExtract({
      db: db(),
      jobId: '',
      payload: { extractId: hurt },
      signal: new AbortController().signal,
      commit,
    }),
  ).resolves.toBe('done');
  expect((await db().select().from(extracts).where(eq(extracts.id, hurt)))[0]).toMatchObject({
    state: 'failed',
    blobId: null,
    now: { code: 'platform.storedBytesAreDamaged' },
  });
  await db().insert(blobChunks).values(kept);
  expect((await db().select().from(blobs)).length).toBe(before);
  await expect(
    startExtract(db(), who, { copies: [999_999], asText: false, acknowledgesQuarantine: false }),
  ).rejects.toThrow('one of these fair copies');
});

test.each([
  [
    'a picture',
    'sleeve.png',
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAQAAAC1HAwCAAAAC0lEQVR42mNkYAAAAAYAAjCB0C8AAAAASUVORK5CYII=',
    'inline',
  ],
  ['a text', 'note.txt', Buffer.from('<script>alert(1)</script>').toString('base64'), 'inline'],
  [
    'a document',
    'told.pdf',
    Buffer.from('%PDF-1.4\n1 0 obj <</JS (x)>> endobj\n').toString('base64'),
    'attachment',
  ],
])('%s laid beside a medium runs nothing in our pages', async (_, name, base64, disposition) => {
  const { id } = await addPaper(
    db(),
    who,
    { code: 'SKP-0104' },
    name,
    Buffer.from(base64, 'base64'),
  );
  const { headers } = await showPaper(db(), id);
  expect(headers.get('content-security-policy')).toMatch(/^default-src 'none';.*; sandbox$/);
  expect(headers.get('content-disposition')).toMatch(new RegExp(`^${disposition};`));
  expect(headers.get('x-content-type-options')).toBe('nosniff');
});

test('a folder keeps what its names and neighbours say', async () => {
  const { code } = await takeIn(
    db(),
    who,
    { name: 'boat house/shelf 3/horn 1.img', set: 'boat house/shelf 3', number: 1 },
    disk('HORN1', []),
  );
  const [medium] = await db().select().from(media).where(eq(media.code, code));
  expect(medium).toMatchObject({
    title: 'horn 1.img',
    setName: 'boat house/shelf 3',
    setNumber: 1,
  });
  expect(await db().select().from(sets).where(eq(sets.name, 'boat house/shelf 3'))).toHaveLength(1);
  expect((await searchHoldings(db(), { q: 'boat shelf' })).copies.map((copy) => copy.code)).toEqual(
    [code],
  );
  await addPaper(
    db(),
    who,
    { set: 'boat house/shelf 3' },
    'about.txt',
    text('Found in the boat house.\r\n'),
  );
  expect(
    (await papersOf(db(), { mediumId: medium!.id, setName: medium!.setName })).map(
      ({ name, type, own }) => [name, type, own],
    ),
  ).toEqual([['about.txt', 'text/plain', false]]);
  await expect(addPaper(db(), who, { code }, 'x.bin', Uint8Array.of(0, 1, 2))).rejects.toThrow(
    'no text',
  );
});

test('the image in place: what lies where, strings, and a search', async () => {
  const { copy, contents } = await docket(gathered);
  const map = await imageMap(db(), copy!.id);
  expect(map.areas.slice(0, 4).map(({ name, offset }) => [name, offset])).toEqual([
    ['Boot sector', 0],
    ['FAT 1', 512],
    ['FAT 2', 512 + 9 * 512],
    ['Root directory', 512 + 18 * 512],
  ]);
  const boot = await imageBytes(db(), copy!.id, BytesQuestion.parse({}));
  expect([boot.hex.slice(0, 2), boot.fields.find(({ name }) => name === 'sectors')!.value]).toEqual(
    ['eb', '2\u2009880'],
  );
  const kept = await contentsOf(db(), copy!.id);
  const lamp = kept[0]!.entries.find(({ path }) => path === 'LAMP.TXT')!;
  const { offsets } = await findInImage(db(), copy!.id, { pattern: '"lamp was trimmed"' });
  expect(offsets).toEqual([lamp.extents[0]!.offset + 4]);
  const there = await imageBytes(
    db(),
    copy!.id,
    BytesQuestion.parse({ from: offsets[0], length: 64 }),
  );
  expect(there.files).toEqual([
    {
      id: lamp.id,
      path: 'LAMP.TXT',
      volume: contents[0]!.id,
      deleted: false,
      pieces: [{ offset: lamp.extents[0]!.offset, length: lamp.extents[0]!.length, at: 0 }],
    },
  ]);
  // Bytes of a disk inside belong to the file that it is, and to a file on it.
  const tides = kept[1]!.entries.find(({ path }) => path === 'TIDES 1987')!;
  const inner = await imageBytes(
    db(),
    copy!.id,
    BytesQuestion.parse({ from: tides.extents[0]!.offset, length: 16 }),
  );
  expect(inner.files.map(({ path }) => path).sort()).toEqual([
    'OLD/TIDES.D64',
    'OLD/TIDES.D64/TIDES 1987',
  ]);
  const { strings } = await imageStrings(db(), copy!.id, StringsQuestion.parse({ least: 20 }));
  expect(strings.map(({ text: found }) => found)).toContain(
    'The lamp was trimmed at the turn of the tide.',
  );
  await expect(findInImage(db(), copy!.id, { pattern: 'zz' })).rejects.toThrow('hexadecimal');
  expect((await findInImage(db(), copy!.id, { pattern: '6C ?? 6D 70' })).count).toBeGreaterThan(0);
  await expect(imageBytes(db(), 999_999, BytesQuestion.parse({}))).rejects.toThrow('fair copy');
  expect((await imageBytes(db(), copy!.id, BytesQuestion.parse({ from: 9e9 }))).from).toBe(
    map.size - 1,
  );
});

test('a disc is listed by its fullest names, and its other directories beside that; nothing counts twice', async () => {
  const { code } = await takeIn(
    db(),
    who,
    { name: 'long.iso' },
    loadVector('optical/vol-joliet-rr.iso'),
  );
  const { contents, copy } = await docket(code);
  expect(contents.map(({ filesystem, view, fileCount }) => [filesystem, view, fileCount])).toEqual([
    ['iso9660', null, 14],
    ['iso9660', 'iso9660', expect.any(Number)],
    ['iso9660', 'joliet', 9],
  ]);
  const horn = contents[0]!.entries.find(({ path }) => path.endsWith('/Horn résumé.log'))!;
  const { files } = loadExpectation<{ files: { path: string; sha256: string }[] }>(
    'optical/vol-joliet-rr',
  );
  expect(horn.sha256).toBe(files.find(({ path }) => path.endsWith('HORN_R_S.LOG'))!.sha256);
  expect(contents[0]!.entries.find(({ path }) => path === 'absolute')!.link).toBe(
    '/srv/skerrow/index.txt',
  );
  await expect(
    fileBytes(db(), contents[0]!.entries.find(({ path }) => path === 'absolute')!.id),
  ).rejects.toThrow('a link to /srv/skerrow/index.txt');
  // Every directory knows the digests, which were worked out once.
  for (const { entries } of contents)
    for (const each of entries)
      if (each.kind === 'file' && each.bytes > 0) expect(each.sha256).toMatch(/^[0-9a-f]{64}$/);
  const { copies, found } = await searchHoldings(db(), { q: 'north jetty spring' });
  expect([
    copies.map((each) => [each.code, each.fileCount]),
    found.map(({ path }) => path),
  ]).toEqual([
    [[code, 14]],
    ['Survey of 1991 – fog & tide/Tide table for the north jetty, spring.csv'],
  ]);
  const names = [
    ...unzip(new Uint8Array(await (await copyPart(db(), copy!.id, 'zip')).arrayBuffer())).keys(),
  ];
  expect(names.filter((name) => !name.endsWith('manifest.json'))).toHaveLength(9);
  const bridge = await docket(
    (await takeIn(db(), who, { name: 'bridge.iso' }, loadVector('optical/vol-udf-bridge.iso')))
      .code,
  );
  expect(
    bridge.contents.map(({ filesystem, view, fileCount }) => [filesystem, view, fileCount]),
  ).toEqual([
    ['udf', null, 13],
    ['udf', 'iso9660', 13],
  ]);
});

test('files that are packed on their disc are listed, searched and handed out unpacked', async () => {
  const disc = loadVector('optical/vol-zisofs.iso');
  const { code } = await takeIn(db(), who, { name: 'packed.iso' }, disc);
  const { contents, copy } = await docket(code);
  const { rockridge } = loadExpectation<{
    rockridge: { path: string; bytes: number; sha256: string }[];
  }>('optical/vol-zisofs');
  const listed = contents[0]!.entries.filter(({ kind }) => kind === 'file');
  expect(listed.map(({ path, bytes, sha256 }) => ({ path, bytes, sha256 })).sort(byPath)).toEqual(
    [...rockridge].sort(byPath),
  );
  for (const { id, sha256 } of listed) {
    const answer = await fileBytes(db(), id);
    const bytes = new Uint8Array(await answer.arrayBuffer());
    expect([sha256Hex(bytes), answer.headers.get('content-length')]).toEqual([
      sha256,
      String(bytes.length),
    ]);
  }
  const zip = unzip(new Uint8Array(await (await copyPart(db(), copy!.id, 'zip')).arrayBuffer()));
  for (const { path, sha256 } of rockridge)
    expect(sha256Hex([...zip].find(([name]) => name.endsWith(path))![1])).toBe(sha256);
});

test('a packed file whose bytes are damaged ends in front of the damage, and says so', async () => {
  const disc = loadVector('optical/vol-zisofs.iso').slice();
  const at = Buffer.from(disc).indexOf(Buffer.from('37e45396c9dbd607a0860100', 'hex'));
  disc[at + 0x10de + 500]! ^= 1;
  const { code } = await takeIn(db(), who, { name: 'hurt.iso' }, disc);
  const { contents } = await docket(code);
  const hurt = contents[0]!.entries.find(({ path }) => path.startsWith('Letters/T'))!;
  expect(hurt).toMatchObject({ bytes: 100_000, damaged: true, sha256: null });
  expect(contents[0]!.problems.map(({ kind }) => kind)).toEqual(['packed-data-damaged']);
  const answer = await fileBytes(db(), hurt.id);
  expect((await answer.arrayBuffer()).byteLength).toBe(1 << 15);
});

const byPath = (a: { path: string }, b: { path: string }) => (a.path < b.path ? -1 : 1);

test('sectors in doubt are said of the file that they hurt, with their place in it', async () => {
  const { contents } = await docket('SKP-0103');
  const hurt = contents
    .flatMap(({ entries }) => entries)
    .filter(({ sectorsInDoubt }) => sectorsInDoubt > 0);
  expect(hurt.map(({ path, sectorsInDoubt }) => [path, sectorsInDoubt])).toEqual([
    [expect.stringMatching(/^LAMPS/), 1],
  ]);
  const [{ offset, length }] = hurt[0]!.doubts as [{ offset: number; length: number }];
  const bytes = new Uint8Array(await (await fileBytes(db(), hurt[0]!.id)).arrayBuffer());
  expect([
    offset % 512,
    length,
    bytes.subarray(offset, offset + length).every((byte) => byte === 0),
  ]).toEqual([0, 512, true]);
});

describe('the row that the search keeps of every medium', () => {
  const rowOf = async (code: string) =>
    (await db().select().from(holdings).where(eq(holdings.code, code)))[0];
  const stateOf = async (code: string) => (await rowOf(code))!.states;

  test('follows what is said of the medium, of its copies, and what is found in them', async () => {
    const { code } = await takeIn(db(), who, { name: 'summary.img' }, new Uint8Array(737_280));
    expect(await rowOf(code)).toMatchObject({
      lender: 'not known',
      lot: 'none',
      filesystems: ['none found'],
      states: ['flat image'],
      fileCount: 0,
    });
    const [medium] = await db().select().from(media).where(eq(media.code, code));
    await db().update(media).set({ lender: 'A Keeper' }).where(eq(media.id, medium!.id));
    expect(await rowOf(code)).toMatchObject({
      lender: 'A Keeper',
      described: expect.stringContaining('a keeper'),
    });
    const { copyId } = (await rowOf(code))!;
    await db().insert(findings).values({
      fairCopyId: copyId,
      rule: 'made.up',
      name: 'made up',
      note: '',
      path: null,
      offset: 0,
    });
    expect(await stateOf(code)).toContain('in quarantine');
    await db().delete(findings).where(eq(findings.fairCopyId, copyId));
    expect(await stateOf(code)).toEqual(['flat image']);
    // The same image once more: both are held twice, though only one was touched.
    const { code: twin } = await takeIn(db(), who, { name: 'twin.img' }, new Uint8Array(737_280));
    expect([await stateOf(code), await stateOf(twin)]).toEqual([
      ['flat image', 'held twice'],
      ['flat image', 'held twice'],
    ]);
    await relate(db(), who, { of: twin, to: code, kind: 'copy-of' });
    expect(await stateOf(twin)).toContain('a copy');
    await relate(db(), who, { of: twin, to: code, kind: null });
    expect(await stateOf(twin)).not.toContain('a copy');
  });
});

test('a disc of twenty thousand files is listed page by page, each once, with counts of all', async () => {
  const { code } = await takeIn(db(), who, { name: 'many.img' }, new Uint8Array(368_640));
  const { copy } = await docket(code);
  const [volume] = await db()
    .insert(volumes)
    .values({
      fairCopyId: copy!.id,
      filesystem: 'iso9660',
      offset: 0,
      length: 80_000_000,
      totalBytes: 80_000_000,
      freeBytes: 0,
      reasons: [],
      problems: [],
    })
    .returning();
  await db().execute(sql`insert into files (volume_id, position, path, recorded_name, kind, bytes,
      locked, deleted, damaged, extents, sectors_in_doubt)
    select ${volume!.id}, i, case i when 0 then 'D' when 20001 then 'EMPTY' when 20002 then 'D/E' else 'D/E/F' || i end, 'F',
      case when i in (0, 20001, 20002) then 'directory' else 'file' end,
      2048, false, false, i % 1000 = 1, jsonb_build_array(jsonb_build_object('offset', i * 4000, 'length', 2048)), 0
    from generate_series(0, 20002) i`);
  const page = await docket(code);
  expect(JSON.stringify(page).length).toBeLessThan(300_000);
  expect(page.contents[0]).toMatchObject({ entryCount: 20_003, liveFiles: 20_000, hurtFiles: 20 });
  expect(page.contents[0]!.entries[0]).toMatchObject({ path: 'D', extractable: true });
  const space = page.contents[0]!.space;
  expect(space.length).toBeLessThanOrEqual(2000);
  expect([space[0]![0], space.at(-1)![1]]).toEqual([0, 20_002 * 4000 + 2048]);
  const paths = new Set<string>();
  const folders: unknown[] = [];
  let pages = 0;
  for (let after: number | null = -1; after !== null; pages++) {
    const question = EntriesQuestion.parse({ volume: volume!.id, after });
    const { entries, next } = await listEntries(db(), copy!.id, question);
    for (const { path, kind, extractable } of entries) {
      paths.add(path);
      if (kind === 'directory') folders.push([path, extractable]);
    }
    after = next;
  }
  expect([paths.size, pages]).toEqual([20_003, 81]);
  expect(folders).toEqual([
    ['D', true],
    ['EMPTY', false],
    ['D/E', true],
  ]);
  // A volume of another copy is none of this one's.
  const other = EntriesQuestion.parse({ volume: volume!.id });
  expect((await listEntries(db(), copy!.id + 1, other)).entries).toEqual([]);
});
