/** Media as folders: what is open is read byte for byte, what may not leave is refused, and it is noted. */
import { and, eq } from 'drizzle-orm';
import { Sidecar } from '@/core/image/sidecar-schema';
import { latestFairCopy } from '@/server/features/copies/queries';
import { changeFolder } from '@/server/features/folders/folders';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { takeIn } from '@/server/features/intake/intake';
import { ledger } from '@/server/features/ledger/tables';
import { findByCode, registerMedium } from '@/server/features/media/media';
import { NewMedium } from '@/server/features/media/new-medium';
import { withdraw } from '@/server/features/media/withdrawals';
import { permit } from '@/server/features/rights/permits';
import { RightsChange } from '@/server/features/rights/new-rights';
import { changeRights } from '@/server/features/rights/rights';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import { blobChunks } from '@/server/platform/blobs/tables';
import { readConfigAnew } from '@/server/platform/config';
import { PROGRAM_VERSION } from '@/server/platform/version';
import { freePort, until } from '../../support/application';
import { askDav, findDav, walkDav } from '../../support/dav';
import { serverSuite } from '../../support/server-suite';
import { loadExpectation, loadVector, sha256Hex } from '../../support/vectors';

const suite = serverSuite();
const db = () => suite.connection.db;
const who = 1;
const image = loadVector('volumes/fat12-720k.img');
let base: string;
beforeAll(async () => {
  const port = await freePort();
  process.env.SPINDLE_FOLDERS_PORT = String(port);
  readConfigAnew();
  suite.application.startFolders(port);
  base = `http://127.0.0.1:${port}`;
  await until('the folders', () =>
    askDav(base, 'OPTIONS', '/').then(
      () => true,
      () => false,
    ),
  );
});
afterAll(() => {
  delete process.env.SPINDLE_FOLDERS_PORT;
  readConfigAnew();
});

async function held(code: string, more: object = {}, name = 'x.img', bytes = image) {
  await registerMedium(
    db(),
    who,
    NewMedium.parse({ code, form: '3.5', title: `Disk ${code}`, ...more }),
  );
  await takeIn(db(), who, { name, code }, bytes);
}
const open = (of: { code: string } | { lot: string }, isOpen = true) =>
  changeFolder(db(), who, { of, isOpen });
const names = async () =>
  (await findDav(base, '/')).slice(1).map(({ href }) => decodeURIComponent(href).slice(1, -1));
const handedOut = async (code: string) => {
  const medium = (await findByCode(db(), code))!;
  const rows = await db()
    .select({ what: ledger.what })
    .from(ledger)
    .where(and(eq(ledger.kind, 'handed-out'), eq(ledger.mediumId, medium.id)));
  return rows.map(({ what }) => what.with as { name: string; bytes: number; sha256: string });
};

test('a medium that is open is there with its image, its files and their bytes, and no other is', async () => {
  await held('FLA-1');
  await held('FLA-2');
  await open({ code: 'FLA-1' });
  expect(await names()).toContain('FLA-1');
  expect(await names()).not.toContain('FLA-2');
  expect((await askDav(base, 'GET', '/FLA-2/FLA-2.img')).status).toBe(404);
  const found = await walkDav(base, '/FLA-1/');
  const bytesAt = async (path: string) => (await askDav(base, 'GET', found.get(path)!.href)).body;
  expect(sha256Hex(await bytesAt('FLA-1.img'))).toBe(sha256Hex(image));
  const { files } = loadExpectation<{
    files: { path: string; sha256: string; deleted?: boolean; pathExact?: boolean }[];
  }>('volumes/fat12-720k-img');
  for (const { path, sha256, deleted, pathExact } of files)
    if (!deleted && pathExact !== false)
      expect([path, sha256Hex(await bytesAt(`files/${path}`))]).toEqual([path, sha256]);
  expect((await mediumDetail(db(), 'FLA-1')).folder).toMatchObject({
    ...{ address: `${base}/FLA-1/`, isOfLot: false },
  });
  await open({ code: 'FLA-1' }, false);
  expect(await names()).not.toContain('FLA-1');
  expect((await mediumDetail(db(), 'FLA-1')).folder).toBeNull();
});

test('what is read stands in the ledger under whoever opened it, once for all of its parts', async () => {
  await held('FLB-1');
  await open({ code: 'FLB-1' });
  for (const range of ['bytes=0-99', 'bytes=100-199'])
    await askDav(base, 'GET', '/FLB-1/FLB-1.img', { headers: { range } });
  await askDav(base, 'HEAD', '/FLB-1/files/README.TXT');
  expect(await handedOut('FLB-1')).toMatchObject([
    { name: 'FLB-1.img', bytes: image.length, sha256: sha256Hex(image) },
  ]);
});

test('all of a lot at once: what is restricted stays closed, what is withdrawn is gone', async () => {
  for (const code of ['FLC-1', 'FLC-2', 'FLC-3']) await held(code, { lot: 'fold c' });
  const closed = RightsChange.parse({
    ...{ statement: '', words: '', isPersonal: false },
    restriction: { reason: 'names of people', opensOn: '' },
  });
  await changeRights(db(), who, 'media', 'FLC-2', closed);
  await withdraw(db(), who, 'FLC-3', 'by mistake');
  await open({ lot: 'fold c' });
  expect((await names()).filter((name) => name.startsWith('FLC'))).toEqual(['FLC-1', 'FLC-2']);
  expect((await findDav(base, '/FLC-1/')).length).toBeGreaterThan(2);
  for (const [method, path] of [
    ['PROPFIND', '/FLC-2/'],
    ['GET', '/FLC-2/FLC-2.img'],
    ['GET', '/FLC-2/files/README.TXT'],
  ] as const) {
    const { status, body } = await askDav(base, method, path, { headers: { depth: '1' } });
    expect([status, body.toString()]).toEqual([403, expect.stringContaining('names of people')]);
  }
  expect(await handedOut('FLC-2')).toEqual([]);
  await expect(open({ code: 'FLC-2' })).rejects.toMatchObject({ status: 403 });
  await permit(db(), who, 'FLC-2', { recipient: 'the survey', reason: 'asked for' });
  expect((await askDav(base, 'GET', '/FLC-2/FLC-2.img')).status).toBe(200);
  expect(await handedOut('FLC-2')).toMatchObject([{ recipient: 'the survey' }]);
});

test('the sidecar says how the image was made; its digest is not told, as it changes', async () => {
  await open({ code: 'SKP-0103' });
  const { status, body } = await askDav(base, 'GET', '/SKP-0103/SKP-0103.sidecar.json');
  expect([status, Sidecar.parse(JSON.parse(body.toString())).made]).toMatchObject([
    200,
    { by: 'Ingrid Sollis', program: PROGRAM_VERSION, from: 'upload' },
  ]);
  expect(await handedOut('SKP-0103')).toMatchObject([
    { name: 'SKP-0103.sidecar.json', bytes: body.length, sha256: '' },
  ]);
});

test('bytes that changed in the store are given to nobody', async () => {
  const own = Uint8Array.from(image);
  own[600_000]! ^= 1;
  await held('FLD-1', {}, 'x.img', own);
  await open({ code: 'FLD-1' });
  const copy = (await latestFairCopy(db(), (await findByCode(db(), 'FLD-1'))!.id))!;
  const { id } = await blobOf(db(), copy.imageBlob);
  const first = and(eq(blobChunks.blobId, id), eq(blobChunks.seq, 0));
  const [chunk] = await db().select().from(blobChunks).where(first);
  const bytes = Uint8Array.from(chunk!.bytes);
  bytes[700]! ^= 0x55;
  await db().update(blobChunks).set({ bytes }).where(first);
  const outcome = await askDav(base, 'GET', '/FLD-1/FLD-1.img').then(
    ({ status }) => status,
    () => 'broken off',
  );
  expect(outcome === 'broken off' || Number(outcome) >= 400).toBe(true);
});

test('a code with signs in it is a folder with a name of its own', async () => {
  await held('2024/017/3');
  await held('2024_017_3');
  await open({ code: '2024/017/3' });
  await open({ code: '2024_017_3' });
  const own = (await names()).filter((name) => name.startsWith('2024'));
  expect(own).toHaveLength(2);
  for (const name of own)
    expect((await findDav(base, `/${encodeURIComponent(name)}/`)).length).toBeGreaterThan(2);
});

test('what was not read yet is an empty folder', async () => {
  await registerMedium(db(), who, NewMedium.parse({ code: 'FLE-1', form: '3.5', title: 'New' }));
  await open({ code: 'FLE-1' });
  expect(await findDav(base, '/FLE-1/')).toHaveLength(1);
});
