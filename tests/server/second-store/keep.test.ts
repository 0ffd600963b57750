/** Everything a second time: files that anybody can read, versions, what breaks off, what is repaired. */
import {
  cpSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { and, desc, eq, sql } from 'drizzle-orm';
import { asWritten } from '@/core/said';
import { ELEMENTS } from '@/core/description/elements';
import { latestFairCopy } from '@/server/features/copies/queries';
import { startAssembly } from '@/server/features/assemblies/assemblies';
import { assemblies } from '@/server/features/assemblies/tables';
import { describe as describeMedium } from '@/server/features/descriptions/descriptions';
import { askForCheck, checkNext } from '@/server/features/fixity/fixity';
import { note } from '@/server/features/ledger/ledger';
import { ledger } from '@/server/features/ledger/tables';
import { findByCode } from '@/server/features/media/media';
import { media } from '@/server/features/media/tables';
import { operatorNamed } from '@/server/features/operators/operators';
import {
  ROWS_OF_HOUSE,
  ROWS_OF_MEDIUM,
  ROWS_OF_NOBODY,
} from '@/server/features/second-store/row-owners';
import { careView } from '@/server/features/second-store/care';
import { repairBlobs } from '@/server/features/second-store/repair';
import { keepWhatIsNew, verifyNext } from '@/server/features/second-store/second-store-job';
import {
  beginStore,
  houseObject,
  mediumObject,
  storeOfHouse,
  type StoreOfHouse,
} from '@/server/features/second-store/store-of-house';
import { houses, storedFiles, storedObjects } from '@/server/features/second-store/tables';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import { readBlob } from '@/server/platform/blobs/read-blob';
import { storeBlob } from '@/server/platform/blobs/blob-store';
import { blobChunks } from '@/server/platform/blobs/tables';
import { readConfigAnew } from '@/server/platform/config';
import { fileIn, inventoryIn, wrongIn } from '../../support/server/stored-object';
import { secondStoreJob } from '../../support/server/second-store-job';
import { serverSuite } from '../../support/server-suite';

const suite = serverSuite();
const db = () => suite.connection.db;
let folder: string;
let store: StoreOfHouse;
let who: number;

const asJob = (signal?: AbortSignal) => secondStoreJob(db(), signal);

const keepAll = async () => {
  let written = 0;
  for (;;) {
    const some = await keepWhatIsNew(asJob(), store, 0);
    if (some === 0) return written;
    written += some;
  }
};

beforeAll(async () => {
  who = await operatorNamed(db(), 'Tam Okoro');
});
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'second-'));
  process.env.SPINDLE_SECOND_STORE = folder;
  readConfigAnew();
  await db().delete(storedFiles);
  await db().delete(storedObjects);
  store = (await storeOfHouse(db()))!;
  await beginStore(db(), store);
});
afterEach(() => {
  rmSync(folder, { recursive: true });
  delete process.env.SPINDLE_SECOND_STORE;
  readConfigAnew();
});

const objectOf = async (code: string) => {
  const medium = await findByCode(db(), code);
  const id = mediumObject(store, medium!.id);
  return { id, medium: medium!, at: store.root.folderOf(id) };
};

test('every medium lies there in files that need nothing of ours to be read', async () => {
  await keepAll();
  const all = await db().select().from(media);
  for (const { id } of all)
    expect(wrongIn(store.root.folderOf(mediumObject(store, id)))).toEqual([]);
  const { at, medium } = await objectOf('SKP-0103');
  const copy = (await latestFairCopy(db(), medium.id))!;
  const image = await readBlob(db(), copy.imageBlob);
  expect(fileIn(at, 'copies/1/SKP-0103.img').equals(Buffer.from(image))).toBe(true);
  const record = JSON.parse(fileIn(at, 'record.json').toString()) as { code: string };
  expect(record.code).toBe('SKP-0103');
  expect(fileIn(at, 'premis.xml').toString()).toContain('copies/1/SKP-0103.img');
  expect(fileIn(at, 'copies/1/SKP-0103.fsflux').length).toBe(
    (await blobOf(db(), copy.captureBlob!)).size,
  );
});

test('what is as it was is not written again, and what is other is a version with what is new alone', async () => {
  await keepAll();
  expect(await keepAll()).toBe(0);
  await describeMedium(db(), who, 'media', 'SKP-0104', {
    elements: { [ELEMENTS[0]!]: ['seen again'] },
  });
  expect(await keepAll()).toBe(1);
  const { at } = await objectOf('SKP-0104');
  expect(wrongIn(at)).toEqual([]);
  expect(inventoryIn(at).head).toBe('v2');
  expect(fileIn(at, 'record.json').toString()).toContain('seen again');
  const written = readdirSync(join(at, 'v2/content'), { recursive: true }) as string[];
  expect(written.filter((path) => /\.(img|fsflux|sidecar\.json)$/.test(path))).toEqual([]);
});

test('wherever the writing of a version breaks off, the object is whole again with the next one', async () => {
  await keepAll();
  const { at, id } = await objectOf('SKP-0104');
  const before = join(folder, 'before');
  cpSync(at, before, { recursive: true });
  await describeMedium(db(), who, 'media', 'SKP-0104', {
    elements: { [ELEMENTS[0]!]: ['broken off'] },
  });
  await keepAll();
  const after = join(folder, 'after');
  cpSync(at, after, { recursive: true });
  const put = (from: string, name: string) => {
    rmSync(join(at, name), { recursive: true, force: true });
    cpSync(join(from, name), join(at, name), { recursive: true });
  };
  const head = inventoryIn(after).head;
  const breaks: [name: string, hurt: () => void][] = [
    ['the version stands beside an inventory without it', () => put(before, 'inventory.json')],
    ['the inventory is new and its digest old', () => put(before, 'inventory.json.sha512')],
    [
      'the version has no inventory yet',
      () => {
        put(before, 'inventory.json');
        put(before, 'inventory.json.sha512');
        rmSync(join(at, head, 'inventory.json'));
      },
    ],
    [
      'the version is not whole yet',
      () => {
        put(before, 'inventory.json');
        put(before, 'inventory.json.sha512');
        rmSync(join(at, head, 'content'), { recursive: true });
      },
    ],
    ['the inventory is gone', () => rmSync(join(at, 'inventory.json'))],
  ];
  for (const [name, hurt] of breaks) {
    rmSync(at, { recursive: true });
    cpSync(after, at, { recursive: true });
    hurt();
    await store.root.inventoryOf(id);
    expect([name, wrongIn(at)]).toEqual([name, []]);
  }
  mkdirSync(join(folder, 'on-its-way/left'), { recursive: true });
  await beginStore(db(), store);
  expect(readdirSync(join(folder, 'on-its-way'))).toEqual([]);
});

/** Hurts a byte of a chunk as a disk would. */
async function hurtBlob(id: string): Promise<void> {
  const { id: held } = await blobOf(db(), id);
  const [chunk] = await db()
    .select()
    .from(blobChunks)
    .where(and(eq(blobChunks.blobId, held), eq(blobChunks.seq, 0)));
  const bytes = Uint8Array.from(chunk!.bytes);
  bytes[1000]! ^= 0xff;
  await db()
    .update(blobChunks)
    .set({ bytes })
    .where(and(eq(blobChunks.blobId, held), eq(blobChunks.seq, 0)));
}

const lastNoted = async (mediumId: number) => {
  const [row] = await db()
    .select()
    .from(ledger)
    .where(and(eq(ledger.mediumId, mediumId), eq(ledger.kind, 'fixity')))
    .orderBy(desc(ledger.id));
  return row?.what;
};

test('a damaged image is put right from the second store, and it is told', async () => {
  await keepAll();
  const { medium } = await objectOf('SKP-0103');
  const { imageBlob } = (await latestFairCopy(db(), medium.id))!;
  const image = await readBlob(db(), imageBlob);
  await hurtBlob(imageBlob);
  await askForCheck(db(), who, { code: 'SKP-0103' });
  while (await checkNext(db()));
  await expect(readBlob(db(), imageBlob)).rejects.toThrow();
  expect(await repairBlobs(db(), store, asJob().commit)).toBe(1);
  expect(await readBlob(db(), imageBlob)).toEqual(image);
  expect(await lastNoted(medium.id)).toMatchObject({
    ...{ code: 'secondStore.broughtBack', with: { chunks: 1 } },
  });
});

test('a file that is damaged there too puts nothing right', async () => {
  await keepAll();
  const { medium, at } = await objectOf('SKP-0103');
  const { imageBlob } = (await latestFairCopy(db(), medium.id))!;
  const image = await readBlob(db(), imageBlob);
  const path = join(at, 'v1/content/copies/1/SKP-0103.img');
  writeFileSync(path, Buffer.from(image).fill(1, 5, 9));
  await hurtBlob(imageBlob);
  await askForCheck(db(), who, { code: 'SKP-0103' });
  while (await checkNext(db()));
  expect(await repairBlobs(db(), store, asJob().commit)).toBe(0);
  await expect(readBlob(db(), imageBlob)).rejects.toThrow();
  writeFileSync(path, image);
  expect(await repairBlobs(db(), store, asJob().commit)).toBe(1);
});

test('a damaged file of the store is put right from the database; what nothing has is told as lost', async () => {
  await keepAll();
  const { medium, at } = await objectOf('SKP-0103');
  const path = join(at, 'v1/content/copies/1/SKP-0103.img');
  const image = readFileSync(path);
  writeFileSync(path, image.subarray(0, 1000));
  rmSync(join(at, 'v1/content/premis.xml'));
  await db()
    .update(storedObjects)
    .set({ verifiedAt: new Date(0) })
    .where(eq(storedObjects.mediumId, medium.id));
  expect(await verifyNext(asJob(), store)).toBe(true);
  expect(readFileSync(path).equals(image)).toBe(true);
  const [row] = await db()
    .select()
    .from(storedObjects)
    .where(eq(storedObjects.mediumId, medium.id));
  expect(row!.trouble).toMatchObject({
    ...{ code: 'secondStore.fileIsLost', with: { path: 'v1/content/premis.xml' } },
  });
  expect(await lastNoted(medium.id)).toMatchObject({ code: 'secondStore.fileIsLost' });
});

const objectRow = async (mediumId: number) =>
  (await db().select().from(storedObjects).where(eq(storedObjects.mediumId, mediumId)))[0]!;
const isDue = (mediumId: number) =>
  db()
    .update(storedObjects)
    .set({ verifiedAt: new Date(0) })
    .where(eq(storedObjects.mediumId, mediumId));
const describeOnce = (code: string, note: string) =>
  describeMedium(db(), who, 'media', code, { elements: { notes: [note] } });

test('a worker that stops while it reads through says nothing of what it did not read', async () => {
  await keepAll();
  const { medium } = await objectOf('SKP-0103');
  await isDue(medium.id);
  const before = await lastNoted(medium.id);
  const stop = new AbortController();
  const verifying = verifyNext(asJob(stop.signal), store);
  stop.abort();
  await expect(verifying).rejects.toThrow();
  expect((await objectRow(medium.id)).trouble).toBeNull();
  expect(await lastNoted(medium.id)).toEqual(before);
});

test('a further version does not count as read through, nor takes back what is lost', async () => {
  await keepAll();
  const { medium, at } = await objectOf('SKP-0105');
  rmSync(join(at, 'v1/content/premis.xml'));
  await isDue(medium.id);
  await verifyNext(asJob(), store);
  const { verifiedAt } = await objectRow(medium.id);
  await describeOnce('SKP-0105', `once more ${Date.now()}`);
  await keepAll();
  const row = await objectRow(medium.id);
  expect([row.version, row.verifiedAt]).toEqual([2, verifiedAt]);
  expect(row.trouble).toMatchObject({ code: 'secondStore.fileIsLost' });
});

test('an object that can’t be written holds no other up, and is tried again', async () => {
  await keepAll();
  const { medium, at } = await objectOf('SKP-0103');
  for (const name of ['inventory.json', 'v1/inventory.json']) {
    renameSync(join(at, name), join(at, `${name}.away`));
  }
  await describeOnce('SKP-0103', `one ${Date.now()}`);
  await describeOnce('SKP-0104', `two ${Date.now()}`);
  const resting = new Map<number | null, number>();
  expect(await keepWhatIsNew(asJob(), store, 0, resting)).toBe(1);
  expect((await objectRow(medium.id)).trouble).toMatchObject({
    code: 'secondStore.couldNotBeWritten',
  });
  expect((await careView(db())).second!.behind).toBe(1);
  expect(await keepWhatIsNew(asJob(), store, 0, resting)).toBe(0);
  for (const name of ['inventory.json', 'v1/inventory.json'])
    renameSync(join(at, `${name}.away`), join(at, name));
  expect(await keepWhatIsNew(asJob(), store, 0)).toBe(1);
  expect((await objectRow(medium.id)).trouble).toBeNull();
});

test('what was put on a volume under way from this computer lies there too', async () => {
  const { id } = await startAssembly(db(), who, { title: 'Own', kind: 'fat12-720' });
  const own = Buffer.from('a file of somebody’s own');
  const blob = await storeBlob(db(), own);
  await db()
    .update(assemblies)
    .set({ edits: [{ kind: 'put', path: 'OWN.TXT', source: `blob:${blob.id}` }] as never })
    .where(eq(assemblies.id, id));
  await keepAll();
  const house = store.root.folderOf(houseObject(store));
  expect(fileIn(house, `assemblies/${blob.id}`).equals(own)).toBe(true);
  expect(fileIn(house, 'rows/blobs.jsonl').toString()).toContain(blob.id);
  await db().delete(assemblies).where(eq(assemblies.id, id));
});

test('what is of no medium is written once an hour, and its ledger in stretches that stay', async () => {
  await keepAll();
  const house = store.root.folderOf(houseObject(store));
  await note(db(), { operatorId: who, kind: 'lot', what: asWritten('something of the house') });
  expect(await keepAll()).toBe(0);
  await db()
    .update(storedObjects)
    .set({ writtenAt: new Date(Date.now() - 61 * 60_000) })
    .where(eq(storedObjects.id, houseObject(store)));
  expect(await keepAll()).toBe(1);
  expect(inventoryIn(house).head).toBe('v2');
  expect(fileIn(house, 'rows/ledger.0.jsonl').toString()).toContain('something of the house');
});

test('what is of older migrations is written anew with today’s', async () => {
  await keepAll();
  const all = (await db().select().from(storedObjects)).length;
  await db()
    .update(storedFiles)
    .set({ sha256: 'f'.repeat(64) })
    .where(eq(storedFiles.path, 'v1/content/rows/migrations.json'));
  await beginStore(db(), store);
  expect(await keepAll()).toBe(all);
});

test('a folder with what another house keeps is left alone', async () => {
  await keepAll();
  const [own] = await db().select().from(houses);
  await db().delete(houses);
  await db().insert(houses).values({});
  try {
    const other = (await storeOfHouse(db()))!;
    await expect(beginStore(db(), other)).rejects.toMatchObject({ status: 409 });
  } finally {
    await db().delete(houses);
    await db().insert(houses).values(own!);
  }
});

test('a folder that is empty again is a disk that is away, and another folder a new store', async () => {
  await keepAll();
  const away = join(folder, '..', `away-${Date.now()}`);
  renameSync(join(folder, 'ocfl'), away);
  await expect(beginStore(db(), store)).rejects.toMatchObject({ status: 409 });
  expect((await careView(db())).second).toMatchObject({ state: 'away' });
  expect(readdirSync(folder)).not.toContain('ocfl');
  renameSync(away, join(folder, 'ocfl'));
  await beginStore(db(), store);
  expect((await careView(db())).second).toMatchObject({ state: 'reached', behind: 0 });
  process.env.SPINDLE_SECOND_STORE = join(folder, 'new');
  readConfigAnew();
  const fresh = (await storeOfHouse(db()))!;
  await beginStore(db(), fresh);
  const { second } = await careView(db());
  expect([second!.objects, second!.behind]).toEqual([0, second!.media]);
});

test('every table is of a medium, of the house, or of nobody', async () => {
  const { rows } = await db().execute<{ name: string }>(
    sql`select table_name as name from information_schema.tables
      where table_schema = 'public' and table_type = 'BASE TABLE'`,
  );
  const known = new Set([
    ...Object.keys(ROWS_OF_MEDIUM),
    ...Object.keys(ROWS_OF_HOUSE),
    ...ROWS_OF_NOBODY,
  ]);
  expect(rows.map(({ name }) => name).filter((name) => !known.has(name))).toEqual([]);
});
