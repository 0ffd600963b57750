/** A house restored from its second store alone answers as the one that was lost, and goes on working. */
import { spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { asc, eq } from 'drizzle-orm';
import { cameBags } from '@/server/features/bags/tables';
import { latestFairCopy } from '@/server/features/copies/queries';
import { fairCopies } from '@/server/features/copies/tables';
import { recordPage } from '@/server/features/descriptions/record-pages';
import { listRecords } from '@/server/features/descriptions/record-lists';
import { addPaper } from '@/server/features/media/papers';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { searchHoldings } from '@/server/features/holdings/holdings';
import { uploads } from '@/server/features/intake/tables';
import { receiveWhole } from '@/server/features/intake/uploads';
import { takeIn } from '@/server/features/intake/intake';
import { eachEntry, listLedger } from '@/server/features/ledger/entries';
import { checkLedger, sealLedger } from '@/server/features/ledger/seals';
import { nextCode } from '@/server/features/media/codes';
import { findByCode, registerMedium } from '@/server/features/media/media';
import { NewMedium } from '@/server/features/media/new-medium';
import { lots, media } from '@/server/features/media/tables';
import { operatorNamed } from '@/server/features/operators/operators';
import { keepWhatIsNew } from '@/server/features/second-store/second-store-job';
import { objectsIn } from '@/server/features/second-store/restore/stored-objects-in';
import { stacks } from '@/server/features/sittings/tables';
import { houses } from '@/server/features/second-store/tables';
import { beginStore, storeOfHouse } from '@/server/features/second-store/store-of-house';
import { readBlob } from '@/server/platform/blobs/read-blob';
import { readConfigAnew } from '@/server/platform/config';
import type { Database } from '@/server/platform/db/database';
import { freePort } from '../../support/application';
import { emptyDatabase, type EmptyDatabase } from '../../support/server/empty-database';
import { secondStoreJob } from '../../support/server/second-store-job';
import { serverSuite } from '../../support/server-suite';
import { loadVector, sha256Hex } from '../../support/vectors';

const suite = serverSuite();
const db = () => suite.connection.db;
let folder: string;
let other: EmptyDatabase;
/** Of the house that was lost, and of the one restored before anybody works in it. */
const lost = { answers: {}, ledger: {} };
const restored = { answers: {}, ledger: {} };

async function keepAll(database: Database): Promise<number> {
  const store = (await storeOfHouse(database))!;
  await beginStore(database, store);
  let written = 0;
  for (;;) {
    const some = await keepWhatIsNew(secondStoreJob(database), store, 0);
    if (some === 0) return written;
    written += some;
  }
}

/** As `npm run restore` does once its database runs. */
function restore({ url } = other) {
  const { status, stdout } = spawnSync(process.execPath, ['build/restore.js', folder], {
    env: { ...process.env, DATABASE_URL: url },
    encoding: 'utf8',
  });
  return { status, stdout };
}

/** What two hundred questions of pages are answered. */
async function answersOf(database: Database): Promise<Record<string, unknown>> {
  const answers: Record<string, unknown> = {};
  const all = await database.select().from(media).orderBy(asc(media.id));
  for (const { code } of all) answers[`docket ${code}`] = await mediumDetail(database, code);
  const words = ['', 'lamp', 'fog', 'log', 'skp', 'tide', 'keeper', 'lot 4', 'txt', 'img', 'read'];
  for (const q of words)
    for (const more of [0, 1])
      answers[`search ${q} ${more}`] = await searchHoldings(database, { q, more });
  for (const form of ['3.5', '5.25', '8', 'hard-disk', 'optical-disc'])
    answers[`narrowed ${form}`] = await searchHoldings(database, { q: '', more: 0, form } as never);
  for (const { name } of await database.select().from(lots).orderBy(asc(lots.name)))
    answers[`lot ${name}`] = await recordPage(database, 'lots', name);
  answers.records = await listRecords(database, {});
  answers.ledger = await listLedger(database);
  answers.found = await listLedger(database, { q: 'registered fog' });
  const entries: unknown[] = [];
  for await (const entry of eachEntry(database, undefined)) entries.push(entry);
  answers.entries = entries;
  answers.next = await nextCode(database);
  for (const { id, imageBlob, sidecarBlob, captureBlob } of await database
    .select()
    .from(fairCopies)
    .orderBy(asc(fairCopies.id)))
    for (const [part, blob] of Object.entries({ imageBlob, sidecarBlob, captureBlob }))
      if (blob) answers[`${part} ${id}`] = sha256Hex(await readBlob(database, blob));
  return answers;
}

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'second-'));
  process.env.SPINDLE_SECOND_STORE = folder;
  readConfigAnew();
  const who = await operatorNamed(db(), 'Tam Okoro');
  await addPaper(db(), who, { lot: 'lot 4' }, 'agreement.txt', Buffer.from('as agreed'));
  await addPaper(db(), who, { code: 'SKP-0103' }, 'note.txt', Buffer.from('as told'));
  // The same image twice is stored once, and is both media's.
  await registerMedium(db(), who, NewMedium.parse({ code: 'TWN-1', form: '3.5', title: 'Twin' }));
  const twin = (await latestFairCopy(db(), (await findByCode(db(), 'SKP-0103'))!.id))!;
  await takeIn(
    db(),
    who,
    { name: 'twin.img', code: 'TWN-1' },
    await readBlob(db(), twin.imageBlob),
  );
  // A bag knows its upload by a number, and a stack was under way.
  await db()
    .insert(cameBags)
    .values({
      ...{ uploadNumber: 70, name: 'b.tar', manifestSha256: 'a'.repeat(64), info: [], files: 1 },
      ...{ bytes: 1, lot: '', leftOver: [], takenInBy: who },
    });
  await db().insert(stacks).values({ stationId: 1, codes: [], awaits: 'in', startedBy: who });
  await sealLedger(db());
  await keepAll(db());
  other = await emptyDatabase({ migrated: false });
  const { status, stdout } = restore();
  expect([status, stdout.trimEnd().split('\n').slice(2)]).toEqual([0, []]);
  for (const [house, database] of [
    [lost, db()],
    [restored, other.connection.db],
  ] as const)
    Object.assign(house, {
      answers: await answersOf(database),
      ledger: await checkLedger(database, async () => undefined),
    });
}, 300_000);
afterAll(async () => {
  await other?.drop();
  rmSync(folder, { recursive: true });
  delete process.env.SPINDLE_SECOND_STORE;
  readConfigAnew();
});

test('every answer is what it was: dockets, searches, lots, the ledger, and every byte', () => {
  const is = restored.answers as Record<string, unknown>;
  expect(Object.keys(lost.answers).length).toBeGreaterThan(80);
  for (const [question, answer] of Object.entries(lost.answers))
    expect([question, is[question]]).toEqual([question, answer]);
  expect(Object.keys(is)).toEqual(Object.keys(lost.answers));
});

test('the ledger is still sealed, and nothing in it is other', () => {
  expect(restored.ledger).toEqual(lost.ledger);
});

test('it goes on: a medium is registered, an image taken in, and all of it kept in the same store', async () => {
  const house = other.connection.db;
  const who = await operatorNamed(house, 'Tam Okoro');
  await registerMedium(house, who, NewMedium.parse({ code: 'NEW-1', form: '3.5', title: 'New' }));
  const image = loadVector('volumes/fat12-720k.img');
  await takeIn(house, who, { name: 'new.img', code: 'NEW-1' }, image);
  const medium = (await findByCode(house, 'NEW-1'))!;
  const copy = (await latestFairCopy(house, medium.id))!;
  expect(copy.imageSha256).toBe(sha256Hex(image));
  expect(await keepAll(house)).toBeGreaterThan(0);
  const { objects, unreadable } = await objectsIn(folder);
  expect(unreadable).toEqual([]);
  expect(objects.filter(({ isHouse }) => isHouse)).toHaveLength(1);
});

test('numbers go on behind those that came, and what was under way is ended', async () => {
  const house = other.connection.db;
  const who = await operatorNamed(house, 'Tam Okoro');
  const { id } = await receiveWhole(house, who, { name: 'a.img' }, new Uint8Array(512));
  const [upload] = await house.select().from(uploads).where(eq(uploads.id, id));
  expect(upload!.number).toBeGreaterThan(70);
  expect((await house.select().from(stacks)).every(({ endedAt }) => endedAt !== null)).toBe(true);
});

test('rows that are not what they were are told, and a restoring that broke off is begun anew', async () => {
  const third = await emptyDatabase({ migrated: false });
  try {
    const { objects } = await objectsIn(folder);
    const object = objects.find(({ isHouse }) => !isHouse)!;
    const store = (await storeOfHouse(db()))!;
    const { content } = object.files.get('rows/media.jsonl')!;
    const path = join(store.root.folderOf(object.inventory.id), content);
    const rows = readFileSync(path);
    writeFileSync(path, rows.subarray(0, 40));
    const hurt = restore(third);
    writeFileSync(path, rows);
    expect(hurt.status).toBe(2);
    expect(hurt.stdout).toContain(`${object.inventory.id}: rows/media.jsonl`);
    const count = async () => (await third.connection.db.select().from(media)).length;
    const without = await count();
    // As where it was killed before its end.
    await third.connection.db.delete(houses);
    expect(restore(third).status).toBe(0);
    expect(await count()).toBe(without + 1);
  } finally {
    await third.drop();
  }
});

/** A command on a data folder of its own. */
async function command(name: string, data: string, ...args: string[]) {
  const { status, stdout, stderr } = spawnSync(process.execPath, [`scripts/${name}.mjs`, ...args], {
    env: { ...process.env, SPINDLE_DATA: data, SPINDLE_DB_PORT: String(await freePort()) },
    encoding: 'utf8',
  });
  return { status, text: stdout + stderr };
}

test('the commands make a house of a store, a file of the house, and a house of the file', async () => {
  const [first, second, backups] = ['first', 'second', 'backups'].map((name) => {
    const made = mkdtempSync(join(tmpdir(), `${name}-`));
    chmodSync(made, 0o755);
    return made;
  });
  try {
    expect((await command('backup', first!, backups!)).status).toBe(1);
    expect(await command('restore', first!, folder)).toMatchObject({ status: 0 });
    expect(await command('backup', first!, backups!)).toMatchObject({ status: 0 });
    const [file, digest] = readdirSync(backups!).sort();
    const bytes = new Uint8Array(readFileSync(join(backups!, file!)));
    expect(readFileSync(join(backups!, digest!), 'utf8')).toBe(`${sha256Hex(bytes)}  ${file}\n`);
    const from = join(backups!, file!);
    expect(await command('restore', second!, from)).toMatchObject({ status: 0 });
    // There is a house now.
    expect((await command('restore', second!, from)).status).toBe(1);
    expect((await command('restore', second!, join(folder, 'nowhere'))).status).toBe(1);
  } finally {
    for (const made of [first, second, backups]) rmSync(made!, { recursive: true, force: true });
  }
});

test('a house is not restored over another', () => {
  expect(restore().status).toBe(1);
});
