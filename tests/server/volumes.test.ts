/**
 * Images of every family taken in: listed, searched, taken out, held against signatures, found to
 * be alike.
 */
import { eq } from 'drizzle-orm';
import { buildFat12 } from '../../demo/fat-builder';
import { shippedLayout } from '@/core/layout/shipped';
import { jobs } from '@/server/platform/jobs/tables';
import { SignatureRules } from '@/core/scan/rules';
import { listAlike } from '@/server/features/holdings/alike';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { fairCopies } from '@/server/features/copies/tables';
import { media } from '@/server/features/media/tables';
import { copyPart, fileBytes } from '@/server/features/copies/downloads';
import { indexExport } from '@/server/features/holdings/index-export';
import { takeIn } from '@/server/features/intake/intake';
import { searchHoldings } from '@/server/features/holdings/holdings';
import { addRules, removeRule } from '@/server/features/signatures/signatures';
import { keepAllAlike } from '../support/alike';
import { until } from '../support/application';
import { serverSuite } from '../support/server-suite';
import { unzip } from '../support/unzip';
import { loadExpectation, loadVector, sha256Hex } from '../support/vectors';

const suite = serverSuite();
const who = 1;

/** Codes of what was taken in, by file name. */
const taken = new Map<string, string>();
const take = async (name: string, bytes = loadVector(`volumes/${name}`)) => {
  const { code } = await takeIn(suite.connection.db, who, { name }, bytes);
  taken.set(name, code);
  return code;
};
const takenAtLeastOnce = async (name: string) => taken.get(name) ?? (await take(name));

test.each([
  'd64-plain.d64',
  'prodos-280.do',
  'catalogue16-plain.do',
  'granule-plain.img',
  'mbr-small.img',
  'sampler-two-partitions.img',
  'cpm-8inch.img',
])('%s is opened as what it is, and its files are whole', async (name) => {
  const docket = await mediumDetail(suite.connection.db, await take(name));
  const expected = loadExpectation<{
    filesystem: string;
    files: { path: string; sha256: string; deleted?: boolean }[];
  }>(`volumes/${name.replace('.', '-')}`);
  const files = docket.contents
    .flatMap(({ entries }) => entries)
    .filter(({ kind }) => kind === 'file');
  if (expected.filesystem !== 'mbr')
    expect(docket.contents.map(({ filesystem }) => filesystem)).toEqual([expected.filesystem]);
  for (const { sha256, deleted } of expected.files.filter((file) => !file.deleted))
    expect([
      sha256,
      files.some((file) => file.sha256 === sha256 && file.deleted === Boolean(deleted)),
    ]).toEqual([sha256, true]);
  // As they come out one by one: also those in many pieces, and those with holes.
  for (const file of files.slice(0, 4))
    expect(
      sha256Hex(
        new Uint8Array(await (await fileBytes(suite.connection.db, file.id)).arrayBuffer()),
      ),
    ).toBe(file.sha256);
});

test('800 KB of blocks in order are no layout’s sectors, and come out as they came in', async () => {
  const bytes = loadVector('volumes/prodos-1600.po');
  const docket = await mediumDetail(suite.connection.db, await take('prodos-1600.po', bytes));
  const [copy] = await suite.connection.db
    .select()
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(media.code, docket.medium.code));
  const { id, layout, imageSha256 } = copy!.fair_copies;
  const image = await copyPart(suite.connection.db, id, 'image');
  const out = new Uint8Array(await image.arrayBuffer());
  expect([layout, imageSha256, sha256Hex(out)]).toEqual([null, sha256Hex(bytes), sha256Hex(bytes)]);
});

test('words inside files are found, with what stands beside them', async () => {
  const { texts, found } = await searchHoldings(suite.connection.db, { q: 'dues kittiwake' });
  expect(texts.map(({ code, path }) => [code, path])).toContainEqual(['SKP-0104', 'LETTER.TXT']);
  expect(
    texts.find(({ code, path }) => code === 'SKP-0104' && path === 'LETTER.TXT')!.excerpt,
  ).toContain('the dues of the Kittiwake');
  expect(found).toEqual([]);
  expect((await searchHoldings(suite.connection.db, { q: 'zzzzqqq' })).texts).toEqual([]);
});

test('all files come out as one ZIP with safe names and a manifest of what they were called', async () => {
  const code = await take('bad-fat12-hostile-names.img');
  const docket = await mediumDetail(suite.connection.db, code);
  const files = unzip(
    new Uint8Array(
      await (await copyPart(suite.connection.db, docket.copy!.id, 'zip')).arrayBuffer(),
    ),
  );
  const manifest = JSON.parse(new TextDecoder().decode(files.get('manifest.json'))) as {
    files: { writtenAs: string; recordedName: string; sha256: string }[];
  };
  expect(files.size).toBe(manifest.files.length + 1);
  for (const { writtenAs, sha256 } of manifest.files) {
    expect(sha256Hex(files.get(writtenAs)!)).toBe(sha256);
    expect(writtenAs).not.toMatch(/(^|\/)\.\.?(\/|$)|^\/|\\|[\u0000-\u001f<>:"|?*]/);
  }
  expect(new Set(manifest.files.map(({ writtenAs }) => writtenAs.toLowerCase())).size).toBe(
    manifest.files.length,
  );
});

test('a signature puts an image in quarantine: it is said, and nothing is handed out unknowingly', async () => {
  const pattern = Buffer.from('TIDE TABLES OF THE NORTH').toString('hex');
  const infected = loadVector('volumes/fat12-old-fe.img').slice();
  infected.set(Buffer.from('TIDE TABLES OF THE NORTH MOLE'), 0x60);
  const code = await take('infected.img', infected);
  const rules = SignatureRules.parse([
    { id: 'demo.one', name: 'A made-up sign', where: 'boot', pattern, note: 'only for trying' },
  ]);
  const worker = suite.application.startWorker();
  expect(await addRules(suite.connection.db, who, rules)).toEqual({ rules: 1 });
  await until(
    'the scan',
    async () => (await mediumDetail(suite.connection.db, code)).findings.length > 0,
  );
  // Asked for once more: a docket gathered while the scan commits may have one part from before it.
  const docket = await mediumDetail(suite.connection.db, code);
  expect(docket.findings).toEqual([
    { rule: 'demo.one', name: 'A made-up sign', note: 'only for trying', path: null, offset: 0x60 },
  ]);
  expect(docket.history[0]!.what).toContain('It is in quarantine');
  await expect(copyPart(suite.connection.db, docket.copy!.id, 'image')).rejects.toThrow(
    'in quarantine',
  );
  await expect(copyPart(suite.connection.db, docket.copy!.id, 'zip')).rejects.toThrow(
    'in quarantine',
  );
  expect(
    (
      await copyPart(suite.connection.db, docket.copy!.id, 'image', {
        acknowledgesQuarantine: true,
      })
    ).status,
  ).toBe(200);
  // What is taken in later is held against it too.
  infected.set(Buffer.from('x'), 0x1000);
  expect(
    (await mediumDetail(suite.connection.db, await take('infected-2.img', infected))).findings,
  ).toHaveLength(1);
  // Looked through again by one more rule: what was known is not told twice.
  const told = async () =>
    (await mediumDetail(suite.connection.db, code)).history.filter(({ what }) =>
      what.includes('It is in quarantine'),
    ).length;
  expect(await told()).toBe(1);
  await addRules(
    suite.connection.db,
    who,
    SignatureRules.parse([
      { id: 'demo.two', name: 'Another', where: 'boot', pattern: 'DEADBEEF00' },
    ]),
  );
  await until('the second scan', async () =>
    (await suite.connection.db.select().from(jobs).where(eq(jobs.kind, 'scan'))).every(
      ({ state }) => state === 'done',
    ),
  );
  expect(await told()).toBe(1);
  await worker.kill();
  await removeRule(suite.connection.db, who, 'demo.one');
  expect((await mediumDetail(suite.connection.db, code)).findings).toEqual([]);
});

test('the same disk twice, and disks that share files, are found to be alike', async () => {
  const one = await takenAtLeastOnce('prodos-280.do');
  const other = await take('prodos-280.po');
  await keepAllAlike(suite.connection.db);
  const { images, pairs } = await listAlike(suite.connection.db);
  expect(images.every(({ media }) => media.length > 1)).toBe(true);
  const [a, b] = [one, other].sort();
  expect(pairs.find((pair) => pair.a === a && pair.b === b)).toMatchObject({
    shared: 7,
    ofA: 7,
    ofB: 7,
  });
});

test('the index lists every file, and no cell of it is a formula', async () => {
  await takenAtLeastOnce('d64-plain.d64');
  const csv = await indexExport(suite.connection.db, false).text();
  expect(csv.split('\r\n')[0]).toBe(
    'medium,title,partition,filesystem,label,path,type,bytes,modified,locked,deleted,recoverable,inDoubt,sha256,inside',
  );
  expect(csv).toContain(',d64,SKERROW POINT,TIDES 1987,PRG,7002,');
  expect(csv).not.toMatch(/(^|,)"?[=+@]/m);
  const lines = (await indexExport(suite.connection.db, true).text())
    .trimEnd()
    .split('\n')
    .map((line) => JSON.parse(line) as { medium: string });
  expect(lines).toHaveLength(csv.trimEnd().split('\r\n').length - 1);
});

test('a worker finds out what a new copy is alike; what many media hold says nothing of two', async () => {
  const { db } = suite.connection;
  const name = (i: number) => `common-${i}.img`;
  const modified = '1990-01-01T00:00:00';
  const common = { path: 'SYSTEM.BIN', bytes: new Uint8Array(600).fill(7), modified };
  const own = (of: number) => ({
    path: 'OWN.TXT',
    bytes: new TextEncoder().encode(`only ${of}`),
    modified,
  });
  const codes: string[] = [];
  for (let i = 0; i < 23; i++) {
    // Two of them share a file of their own; all share the system's.
    const files = [common, own(i), ...(i < 2 ? [{ ...own(99), path: 'BOTH.TXT' }] : [])];
    const image = buildFat12(shippedLayout('mfm-35-9x512')!, `COMMON${i}`, files);
    codes.push((await takeIn(db, who, { name: name(i) }, image)).code);
  }
  const worker = suite.application.startWorker();
  await until('what is alike is kept up', async () =>
    (await db.select().from(jobs).where(eq(jobs.kind, 'alike'))).every(
      ({ state }) => state === 'done',
    ),
  );
  await worker.kill();
  const { pairs } = await listAlike(db);
  const ours = pairs.filter(({ a, b }) => codes.includes(a) && codes.includes(b));
  expect(ours).toMatchObject([{ a: codes[0], b: codes[1], shared: 1, examples: ['BOTH.TXT'] }]);
});
