/** Bags that come in: ours with all that was known, others with what they say; none that is not whole. */
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { and, asc, desc, eq, isNull, sql } from 'drizzle-orm';
import { bagAsItCame } from '@/server/features/bags/queries';
import { cameBags, cameMedia } from '@/server/features/bags/tables';
import { latestFairCopy } from '@/server/features/copies/queries';
import { fairCopies, files, volumes } from '@/server/features/copies/tables';
import { descriptionOf } from '@/server/features/descriptions/descriptions';
import { mediumRecord } from '@/server/features/descriptions/medium-record';
import { holdings } from '@/server/features/holdings/tables';
import { sweep } from '@/server/features/housekeeping/sweep';
import { runIntake } from '@/server/features/intake/intake-job';
import { uploads } from '@/server/features/intake/tables';
import { receiveWhole, uploadState } from '@/server/features/intake/uploads';
import { ledger } from '@/server/features/ledger/tables';
import { media } from '@/server/features/media/tables';
import { papersOf } from '@/server/features/media/papers';
import { operatorNamed } from '@/server/features/operators/operators';
import { eventsOfMedium } from '@/server/features/parcels/medium-events';
import { NewParcel } from '@/server/features/parcels/new-parcel';
import { makeParcel } from '@/server/features/parcels/parcels';
import { sendParcel } from '@/server/features/parcels/send-parcel';
import { parcelSendings } from '@/server/features/parcels/tables';
import { heldAmong } from '@/server/features/rights/holds';
import { blobs } from '@/server/platform/blobs/tables';
import type { Database } from '@/server/platform/db/database';
import type { JobContext } from '@/server/platform/jobs/engine';
import { emptyDatabase, type EmptyDatabase } from '../../support/server/empty-database';
import { serverSuite } from '../../support/server-suite';
import { loadVector, sha256Hex } from '../../support/vectors';

const suite = serverSuite();
const here = () => suite.connection.db;
let other: EmptyDatabase;
let folder: string;

beforeEach(async () => {
  other = await emptyDatabase();
  folder = mkdtempSync(join(tmpdir(), 'bag-'));
});
afterEach(async () => {
  await other?.drop();
  rmSync(folder, { recursive: true });
});
const there = () => other.connection.db;

/** As the job engine would run it, until `signal` says otherwise. */
const asJob = (db: Database, uploadNumber: number, signal = new AbortController().signal) =>
  ({
    ...{ db, jobId: '1', payload: { uploadNumber }, signal },
    commit: (work) => db.transaction(work),
  }) as JobContext<'intake'>;

/** Sends bytes in and takes them in; answers with what is told of it. */
async function takenIn(bytes: Uint8Array, about: object = {}, signal?: AbortSignal) {
  const db = there();
  const who = await operatorNamed(db, 'Ines Ferro');
  const { id } = await receiveWhole(db, who, { name: 'bag.tar', ...about }, bytes);
  const [row] = await db.select().from(uploads).where(eq(uploads.id, id));
  await runIntake(asJob(db, row!.number, signal));
  return { ...(await uploadState(db, id)), code: row!.number, uploadId: id };
}

const nowOf = async (id: string) => {
  const [row] = await there().select().from(uploads).where(eq(uploads.id, id));
  return row!.now!;
};

const countOf = async (table: typeof media | typeof fairCopies) =>
  (await there().select({ id: table.id }).from(table)).length;

/** A parcel of ours, as a tar. */
async function parcelOf(codes: string[], more: object = {}): Promise<Uint8Array> {
  const who = await operatorNamed(here(), 'Tam Okoro');
  const { id } = await makeParcel(
    here(),
    who,
    NewParcel.parse({ title: 'Logs', recipient: 'Harbour museum', of: { codes }, ...more }),
  );
  return new Uint8Array(await (await sendParcel(here(), who, id)).arrayBuffer());
}

/** What is known of a medium, wherever it is. */
async function knownOf(db: Database, code: string) {
  const [medium] = await db.select().from(media).where(eq(media.code, code));
  const copy = (await latestFairCopy(db, medium!.id))!;
  const listed = await db
    .select({ path: files.path, sha256: files.sha256, damaged: files.damaged, bytes: files.bytes })
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .where(and(eq(volumes.fairCopyId, copy.id), isNull(volumes.view)))
    .orderBy(asc(volumes.id), asc(files.position));
  const { layout, imageSha256, tally, inDoubt, surface, strange, blocks } = copy;
  const papers = await papersOf(db, { mediumId: medium!.id, setName: medium!.setName });
  return {
    record: await mediumRecord(db, medium!),
    ...{ imageSha256, tally, inDoubt, surface, strange: strange ?? [], blocks },
    layout: copy.proposal?.id ?? layout,
    hasCapture: copy.captureBlob !== null,
    problems: copy.problems.map(({ kind, offset }) => `${kind} ${offset}`).sort(),
    listed,
    papers: papers.map(({ sha256 }) => sha256).sort(),
    events: (await eventsOfMedium(db, medium!.id)).map(({ at, kind, what, name }) => ({
      ...{ at: at.toISOString(), kind, what, name },
    })),
  };
}

test('a parcel of every kind of medium gives another house the same digests, grades, words and events', async () => {
  const all = await here().select().from(holdings).orderBy(asc(holdings.code));
  const held = await heldAmong(
    here(),
    all.map(({ mediumId }) => mediumId),
  );
  const codes = all.filter(({ mediumId }) => !held.has(mediumId)).map(({ code }) => code);
  expect(codes.length).toBeGreaterThanOrEqual(8);
  const { state, kind } = await takenIn(await parcelOf(codes));
  expect([state, kind]).toEqual(['done', 'bag']);
  const [went] = await here().select().from(parcelSendings).orderBy(desc(parcelSendings.id));
  const [came] = await there().select().from(cameBags);
  expect([came!.manifestSha256, came!.lot]).toEqual([went!.manifestSha256, '']);
  for (const code of codes) {
    const [was, is] = [await knownOf(here(), code), await knownOf(there(), code)];
    expect(was.events.length).toBeGreaterThan(0);
    // Beside them stands what was noted when it was taken in.
    expect({ ...is, events: is.events.filter(({ name }) => name !== 'Ines Ferro') }).toEqual(was);
  }
}, 300_000);

test('whoever has a code keeps it: the other is given one, and told what it was', async () => {
  const parcel = await parcelOf(['SKP-0103']);
  await takenIn(parcel);
  const again = await parcelOf(['SKP-0103'], { withFlux: false });
  expect((await takenIn(again)).state).toBe('done');
  const codes = await there().select({ code: media.code }).from(media).orderBy(asc(media.id));
  expect(codes.map(({ code }) => code)).toEqual(['SKP-0103', 'SKP-0104']);
  const [came] = await there()
    .select({ what: ledger.what })
    .from(ledger)
    .innerJoin(media, eq(media.id, ledger.mediumId))
    .where(and(eq(media.code, 'SKP-0104'), sql`${ledger.what} ->> 'code' = 'copies.bytesSha256'`));
  expect(came!.what.with?.made).toMatchObject({ code: 'bags.cameIn', with: { was: 'SKP-0103' } });
});

test('the same bag is not taken in twice, and goes to the lot that was asked for', async () => {
  const parcel = await parcelOf(['SKP-0103']);
  await takenIn(parcel, { lot: 'from the museum' });
  const [medium] = await there().select().from(media);
  expect(medium!.lot).toBe('from the museum');
  const again = await takenIn(parcel);
  expect(again.state).toBe('refused');
  expect((await nowOf(again.uploadId)).code).toBe('bags.isHereAlready');
  expect(await countOf(media)).toBe(1);
});

/** A medium of ours goes on from there: only what was not kept is kept. */
test('one that breaks off goes on from there, also when it is sent once more', async () => {
  const parcel = await parcelOf(['SKP-0103', 'SKP-0104']);
  const stop = new AbortController();
  const who = await operatorNamed(there(), 'Ines Ferro');
  const { id } = await receiveWhole(there(), who, { name: 'bag.tar' }, parcel);
  const [row] = await there().select().from(uploads).where(eq(uploads.id, id));
  const job = asJob(there(), row!.number, stop.signal);
  const commit: typeof job.commit = async (work) => {
    const done = await job.commit(work);
    if ((await countOf(media)) === 1) stop.abort();
    return done;
  };
  await expect(runIntake({ ...job, commit })).rejects.toThrow();
  expect(await countOf(media)).toBe(1);
  await there().update(uploads).set({ state: 'refused', blobId: null }).where(eq(uploads.id, id));
  expect((await takenIn(parcel)).state).toBe('done');
  const codes = await there().select({ code: media.code }).from(media).orderBy(asc(media.code));
  expect(codes.map(({ code }) => code)).toEqual(['SKP-0103', 'SKP-0104']);
  expect(await there().select().from(cameBags)).toHaveLength(1);
  expect(await there().select().from(cameMedia)).toHaveLength(2);
});

/** A bag of another house, made by programs of the system. */
function bagOf(
  payload: Record<string, Uint8Array | string>,
  {
    info = '',
    algorithm = 'md5',
    beside = {},
  }: { info?: string; algorithm?: string; beside?: Record<string, string> } = {},
): string {
  const bag = join(folder, 'their-bag');
  const put = (path: string, bytes: Uint8Array | string) => {
    mkdirSync(dirname(join(bag, path)), { recursive: true });
    writeFileSync(join(bag, path), bytes);
  };
  const lines = Object.entries(payload).map(([path, bytes]) => {
    put(`data/${path}`, bytes);
    return `${createHash(algorithm).update(bytes).digest('hex')} data/${path}\n`;
  });
  put('bagit.txt', 'BagIt-Version: 0.97\nTag-File-Character-Encoding: UTF-8\n');
  put('bag-info.txt', info);
  put(`manifest-${algorithm}.txt`, lines.join(''));
  for (const [path, text] of Object.entries(beside)) put(path, text);
  return bag;
}

function tarOf(bag: string, ...options: string[]): Uint8Array {
  execFileSync('tar', ['cf', join(folder, 'bag.tar'), ...options, '-C', dirname(bag), 'their-bag']);
  return new Uint8Array(readFileSync(join(folder, 'bag.tar')));
}

const image = loadVector('volumes/fat12-720k.img');
/** No text, no picture, no image. */
const NEITHER = Uint8Array.from({ length: 1000 }, (_, i) => (i * 7919) & 0xff);

test('a bag of another house: images become media, texts papers of the lot, the rest keeps the bag', async () => {
  const info =
    'Source-Organization: Harbour museum\nExternal-Identifier: HM-7\n' +
    'External-Description: Disks of the lighthouse,\n  the second box\n';
  const long = `${'a long folder/'.repeat(12)}two.img`;
  const bag = bagOf(
    {
      'one/disk one.img': image,
      'one/label.txt': 'as it stood on the label\n',
      [long]: image.slice().fill(1, 5000, 5100),
      'notes.bin': NEITHER,
    },
    { info, beside: { 'metadata/dc.xml': '<dc><title>Box 2</title></dc>\n' } },
  );
  const tar = tarOf(bag, '--format=pax');
  const { state, kind } = await takenIn(tar, { lender: 'Harbour museum' });
  expect([state, kind]).toEqual(['done', 'bag']);
  const rows = await there().select().from(media).orderBy(asc(media.title));
  expect(rows.map(({ title, lot, lender }) => [title, lot, lender])).toEqual([
    ['disk one.img', 'HM-7', 'Harbour museum'],
    ['two.img', 'HM-7', 'Harbour museum'],
  ]);
  const copies = await there().select().from(fairCopies);
  expect(copies.map(({ imageSha256 }) => imageSha256)).toContain(sha256Hex(image));
  const papers = await papersOf(there(), { lotName: 'HM-7' });
  expect(papers.map(({ name }) => name).sort()).toEqual(['metadata/dc.xml', 'one/label.txt']);
  const [came] = await there().select().from(cameBags);
  expect(came!.leftOver).toEqual(['notes.bin']);
  await there()
    .update(blobs)
    .set({ createdAt: new Date(0) });
  await sweep(there());
  const kept = await bagAsItCame(there(), came!.id, new Headers());
  expect(sha256Hex(new Uint8Array(await kept.arrayBuffer()))).toBe(sha256Hex(tar));
  expect(came!.info).toContainEqual({
    ...{ label: 'External-Description', value: 'Disks of the lighthouse, the second box' },
  });
});

test.each<[string, (bag: string) => void, string]>([
  [
    'a byte is another',
    (bag) => writeFileSync(join(bag, 'data/a.img'), Uint8Array.from(image).fill(9, 99, 100)),
    'differs',
  ],
  ['a file is gone', (bag) => rmSync(join(bag, 'data/a.img')), 'missing'],
  ['a file is too many', (bag) => writeFileSync(join(bag, 'data/b.img'), image), 'unlisted'],
  [
    'a list leads out of it',
    (bag) => writeFileSync(join(bag, 'manifest-md5.txt'), `${'0'.repeat(32)} ../a.img\n`),
    'unsafe-path',
  ],
  ['it declares nothing', (bag) => writeFileSync(join(bag, 'bagit.txt'), 'bag\n'), 'undeclared'],
  ['it has no list', (bag) => rmSync(join(bag, 'manifest-md5.txt')), 'no-manifest'],
  [
    'its length is another',
    (bag) => writeFileSync(join(bag, 'bag-info.txt'), 'Payload-Oxum: 5.1\n'),
    'other-length',
  ],
])('nothing is kept of a bag of which %s', async (_, hurt, problem) => {
  const bag = bagOf({ 'a.img': image });
  hurt(bag);
  const { state, uploadId } = await takenIn(tarOf(bag));
  expect(state).toBe('refused');
  const { code, with: parameters } = await nowOf(uploadId);
  expect(code).toBe('bags.isNotWhole');
  const problems = parameters!.problems as unknown as { with: { kind: string } }[];
  expect(problems.map(({ with: { kind } }) => kind)).toContain(problem);
  expect(await countOf(media)).toBe(0);
  expect(await there().select().from(cameBags)).toEqual([]);
});

test('a bag that is cut is none, and a tar without one is looked at as an image', async () => {
  const parcel = await parcelOf(['SKP-0103']);
  for (const share of [0.2, 0.6, 0.99]) {
    const cut = await takenIn(parcel.slice(0, Math.floor(parcel.length * share)));
    expect((await nowOf(cut.uploadId)).code).toBe('bags.breaksOff');
  }
  expect(await countOf(media)).toBe(0);
  writeFileSync(join(folder, 'x'), 'no bag');
  execFileSync('tar', ['cf', join(folder, 'x.tar'), '-C', folder, 'x']);
  const plain = await takenIn(new Uint8Array(readFileSync(join(folder, 'x.tar'))));
  expect(plain.kind).not.toBe('bag');
});

test('what a record of ours says is held against what may be said, before anything is kept', async () => {
  const record = {
    ...{ code: 'A-1', form: '3.5', title: 'x'.repeat(900), sticker: '', lender: '', lot: '' },
    ...{ set: '', place: null, elements: {}, acquisition: null },
  };
  const bag = bagOf({ 'A-1/record.json': JSON.stringify(record), 'A-1/A-1.img': image });
  const { uploadId } = await takenIn(tarOf(bag));
  expect(await nowOf(uploadId)).toMatchObject({
    ...{ code: 'bags.recordIsOdd', with: { code: 'A-1', field: 'title' } },
  });
  expect(await countOf(media)).toBe(0);
});

/** The folder of a medium in a parcel of ours. */
async function folderOf(code: string): Promise<string> {
  writeFileSync(join(folder, 'p.tar'), await parcelOf([code]));
  execFileSync('tar', ['xf', 'p.tar'], { cwd: folder });
  const [base] = execFileSync('tar', ['tf', 'p.tar'], { cwd: folder }).toString().split('/');
  return join(folder, base!, 'data', code);
}

const filesAt = (at: string, names: string[]) =>
  Object.fromEntries(
    names.map((name) => [`SKP-0103/${name}`, new Uint8Array(readFileSync(join(at, name)))]),
  );

test('a parcel of before, without records of images, and one of a later form lose no image', async () => {
  const at = await folderOf('SKP-0103');
  const was = await knownOf(here(), 'SKP-0103');
  const older = filesAt(at, ['record.json', 'SKP-0103.img', 'SKP-0103.fsflux']);
  expect((await takenIn(tarOf(bagOf(older)))).state).toBe('done');
  const is = await knownOf(there(), 'SKP-0103');
  expect([is.imageSha256, is.tally]).toEqual([was.imageSha256, was.tally]);
  rmSync(join(folder, 'their-bag'), { recursive: true });
  const later = JSON.stringify({ format: 'frail-spindle-copy', version: 9 });
  const bag = bagOf({
    ...filesAt(at, ['record.json', 'SKP-0103.img']),
    'SKP-0103/copy.json': later,
  });
  expect((await takenIn(tarOf(bag))).state).toBe('done');
  expect((await knownOf(there(), 'SKP-0104')).imageSha256).toBe(was.imageSha256);
});

test('what somebody laid beside our own files keeps the bag', async () => {
  const at = await folderOf('SKP-0103');
  const more = { 'SKP-0103/scan.tiff': NEITHER, 'SKP-0103/papers/a.bin': NEITHER };
  const own = filesAt(at, ['record.json', 'copy.json', 'SKP-0103.img', 'SKP-0103.sidecar.json']);
  await takenIn(tarOf(bagOf({ ...own, ...more })));
  const [came] = await there().select().from(cameBags);
  expect([...came!.leftOver].sort()).toEqual(Object.keys(more).sort());
  expect(came!.blobId).not.toBeNull();
  expect(await countOf(media)).toBe(1);
});

test('of a bag of papers alone its words are said of the lot', async () => {
  const info = 'External-Identifier: HM-8\nExternal-Description: Letters\n';
  await takenIn(tarOf(bagOf({ 'a.txt': 'as he wrote\n' }, { info })));
  const { own } = await descriptionOf(there(), 'lots', 'HM-8');
  expect(own.elements.description).toEqual(['Letters']);
});

test('what is said of another image is not said of this one', async () => {
  const at = await folderOf('SKP-0103');
  const record = JSON.parse(readFileSync(join(at, 'copy.json'), 'utf8')) as {
    image: { name: string };
  };
  const bytes = readFileSync(join(at, record.image.name));
  const bag = bagOf({
    'SKP-0103/record.json': readFileSync(join(at, 'record.json')),
    'SKP-0103/copy.json': readFileSync(join(at, 'copy.json')),
    [`SKP-0103/${record.image.name}`]: bytes.fill(0x5a, 600, 700),
  });
  expect((await takenIn(tarOf(bag))).state).toBe('done');
  const [copy] = await there().select().from(fairCopies);
  expect([copy!.tally, copy!.surface, copy!.sidecarBlob, copy!.source]).toEqual([
    ...[null, null, null, 'upload'],
  ]);
});
