/** Parcels: a bag that holds what it says, told by programs that are not ours, and who it went to. */
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { and, eq } from 'drizzle-orm';
import { said } from '@/core/said';
import { blobChunks } from '@/server/platform/blobs/tables';
import { describe as describeMedium } from '@/server/features/descriptions/descriptions';
import { DescriptionChange } from '@/server/features/descriptions/new-description';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { mergeMedia } from '@/server/features/holdings/merging';
import { takeIn } from '@/server/features/intake/intake';
import { noteMany } from '@/server/features/ledger/ledger';
import { ledger } from '@/server/features/ledger/tables';
import { registerMedium } from '@/server/features/media/media';
import { NewMedium } from '@/server/features/media/new-medium';
import { addPaper } from '@/server/features/media/papers';
import { operatorNamed } from '@/server/features/operators/operators';
import { NewParcel } from '@/server/features/parcels/new-parcel';
import { listParcels, makeParcel } from '@/server/features/parcels/parcels';
import { sendParcel } from '@/server/features/parcels/send-parcel';
import { parcelSendings } from '@/server/features/parcels/tables';
import { RightsChange } from '@/server/features/rights/new-rights';
import { changeRights } from '@/server/features/rights/rights';
import { handlerOf } from '../../support/server/route-handlers';
import { serverSuite } from '../../support/server-suite';
import { loadVector, sha256Hex } from '../../support/vectors';

const suite = serverSuite();
let who: number;
let folder: string;
const db = () => suite.connection.db;
beforeAll(async () => {
  who = await operatorNamed(db(), 'Tam Okoro');
});
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'parcel-'));
});
afterEach(() => rmSync(folder, { recursive: true }));

const image = loadVector('volumes/fat12-720k.img');

async function held(code: string, more: object = {}): Promise<void> {
  await registerMedium(
    db(),
    who,
    NewMedium.parse({ code, form: '3.5', title: `Disk ${code}`, ...more }),
  );
  await takeIn(db(), who, { name: 'x.img', code }, image);
}

const make = async (codes: string[], more: object = {}) =>
  (
    await makeParcel(
      db(),
      who,
      NewParcel.parse({ title: 'Logs', recipient: 'Harbour museum', of: { codes }, ...more }),
    )
  ).id;

/** The bag as GNU tar unpacks it. */
async function unpacked(id: number): Promise<string> {
  const answer = await sendParcel(db(), who, id);
  writeFileSync(join(folder, 'bag.tar'), Buffer.from(await answer.arrayBuffer()));
  execFileSync('tar', ['xf', 'bag.tar'], { cwd: folder });
  return join(folder, `parcel-${id}`);
}

const filesUnder = (path: string): string[] =>
  readdirSync(path, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath, entry.name).slice(path.length + 1))
    .sort();

/** Lines of a manifest, by path. */
const manifest = (bag: string, name: string): Map<string, string> =>
  new Map(
    readFileSync(join(bag, name), 'utf8')
      .trimEnd()
      .split('\n')
      .map((line): [string, string] => {
        const [, digest, path] = /^([0-9a-f]+) {2}(.*)$/.exec(line)!;
        return [path!, digest!];
      }),
  );

test('every file of the bag is in its manifests with its digest, and every file of those is there', async () => {
  await held('PCA-1', { lot: 'parcel a', labelText: '“LOGS” & <more>' });
  await addPaper(db(), who, { code: 'PCA-1' }, 'told: a/b?.txt', Buffer.from('as he told it'));
  const id = await make(['PCA-1', 'SKP-0103'], { withFiles: true });
  const bag = await unpacked(id);
  const payload = filesUnder(join(bag, 'data')).map((path) => `data/${path}`);
  for (const algorithm of ['sha256', 'sha512'] as const) {
    const listed = manifest(bag, `manifest-${algorithm}.txt`);
    expect([...listed.keys()].sort()).toEqual(payload);
    const tags = manifest(bag, `tagmanifest-${algorithm}.txt`);
    expect([...tags.keys()].sort()).toEqual([
      ...['bag-info.txt', 'bagit.txt', 'manifest-sha256.txt', 'manifest-sha512.txt'],
    ]);
    for (const [path, digest] of [...listed, ...tags])
      expect([
        path,
        createHash(algorithm)
          .update(readFileSync(join(bag, path)))
          .digest('hex'),
      ]).toEqual([path, digest]);
  }
  expect(readFileSync(join(bag, 'bagit.txt'), 'utf8')).toBe(
    'BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n',
  );
  const bytes = payload.reduce((sum, path) => sum + readFileSync(join(bag, path)).length, 0);
  const info = readFileSync(join(bag, 'bag-info.txt'), 'utf8');
  expect(info).toContain(`Payload-Oxum: ${bytes}.${payload.length}\n`);
  expect(info).toContain('Recipient: Harbour museum\n');
  expect(payload).toEqual(
    expect.arrayContaining([
      'data/index.html',
      'data/PCA-1/PCA-1.img',
      'data/PCA-1/papers/told_ a_b_.txt',
      'data/PCA-1/record.json',
      'data/PCA-1/dublin-core.xml',
      'data/PCA-1/premis.xml',
      'data/SKP-0103/SKP-0103.img',
      'data/SKP-0103/SKP-0103.sidecar.json',
      'data/SKP-0103/SKP-0103.fsflux',
    ]),
  );
  expect(payload.some((path) => path.startsWith('data/SKP-0103/files/'))).toBe(true);
  expect(sha256Hex(readFileSync(join(bag, 'data/PCA-1/PCA-1.img')))).toBe(sha256Hex(image));
});

test('what is left out is left out, and what is said goes along', async () => {
  await held('PCB-1');
  await describeMedium(
    db(),
    who,
    'media',
    'PCB-1',
    DescriptionChange.parse({ elements: { creator: ['A. Rook'], date: ['1988'] } }),
  );
  const id = await make(['PCB-1', 'SKP-0103'], { withFlux: false });
  const bag = await unpacked(id);
  const names = filesUnder(bag);
  expect(names.filter((name) => /fsflux$|\/files\//.test(name))).toEqual([]);
  const record = JSON.parse(readFileSync(join(bag, 'data/PCB-1/record.json'), 'utf8')) as object;
  expect(record).toMatchObject({ code: 'PCB-1', elements: { creator: ['A. Rook'] } });
  const premis = readFileSync(join(bag, 'data/PCB-1/premis.xml'), 'utf8');
  expect(premis).toContain('<eventType>ingestion</eventType>');
  expect(premis).toContain(`<messageDigest>${sha256Hex(image)}</messageDigest>`);
});

test('all of a lot or a set, or what images are of, is a choice as well', async () => {
  await held('PCG-1', { lot: 'parcel g', setName: 'Parcel g' });
  await held('PCG-2', { lot: 'parcel g' });
  const { copy } = await mediumDetail(db(), 'PCG-2');
  const codesOf = async (of: object) => {
    const id = await make([], { of });
    return (await listParcels(db())).parcels.find((each) => each.id === id)!.codes;
  };
  expect(await codesOf({ lot: 'parcel g' })).toEqual(['PCG-1', 'PCG-2']);
  expect(await codesOf({ set: 'Parcel g' })).toEqual(['PCG-1']);
  expect(await codesOf({ copies: [copy!.id] })).toEqual(['PCG-2']);
  await expect(codesOf({ lot: 'no such lot' })).rejects.toMatchObject({ status: 422 });
});

test('of a lot what must stay is left out; of what was merged since, the one that stays goes', async () => {
  for (const code of ['PCH-1', 'PCH-2', 'PCH-3']) await held(code, { lot: 'parcel h' });
  const closed = { statement: '', words: '', restriction: null, isPersonal: true };
  await changeRights(db(), who, 'media', 'PCH-2', RightsChange.parse(closed));
  const id = await make([], { of: { lot: 'parcel h' } });
  await registerMedium(
    db(),
    who,
    NewMedium.parse({ code: 'PCH-4', form: '3.5', title: 'The same' }),
  );
  await mergeMedia(db(), who, 'PCH-1', { into: 'PCH-4', reason: 'one' });
  const folders = readdirSync(join(await unpacked(id), 'data')).sort();
  expect(folders).toEqual(['PCH-3', 'PCH-4', 'index.html']);
});

test('PREMIS says what went wrong, and nothing of whom else it was given to', async () => {
  await held('PCI-1');
  const { medium } = await mediumDetail(db(), 'PCI-1');
  const name = (of: string) => said('platform.medium', { code: of });
  await noteMany(db(), [
    {
      ...{ operatorId: who, kind: 'handed-out', mediumId: medium.id },
      what: said('rights.handedOut', { name: 'x', recipient: 'L. Grebe', bytes: 1, sha256: '' }),
    },
    {
      ...{ operatorId: null, kind: 'fixity', mediumId: medium.id },
      what: said('fixity.isDamaged', { what: name('PCI-1'), offset: 0 }),
    },
    {
      ...{ operatorId: null, kind: 'fixity', mediumId: medium.id },
      what: said('fixity.isSoundAgain', { what: name('PCI-1') }),
    },
  ]);
  const bag = await unpacked(await make(['PCI-1']));
  const premis = readFileSync(join(bag, 'data/PCI-1/premis.xml'), 'utf8');
  expect(premis).not.toContain('Grebe');
  const outcomes = [...premis.matchAll(/<eventType>(.*?)<.*?<eventOutcome>(.*?)</gs)].map(
    ([, type, outcome]) => [type, outcome],
  );
  expect(outcomes).toEqual([
    ['accession', 'success'],
    ['ingestion', 'success'],
    ['fixity check', 'failure'],
    ['fixity check', 'see the detail'],
  ]);
});

test('names of every kind stand beside one another on any system', async () => {
  const names = [
    'Rota.txt',
    'rota.TXT',
    'caf\u00e9.txt',
    'cafe\u0301.txt',
    'CON',
    'a\nb',
    '%0A',
    '~x',
    'x'.repeat(300),
    '..',
    'stra\u00dfe',
    'STRASSE',
    '\u202egpj.exe',
  ];
  await held('2024/21/3');
  await held('2024-21-3');
  for (const [i, name] of names.entries())
    await addPaper(db(), who, { code: '2024/21/3' }, name, Buffer.from(`paper ${i}`));
  const bag = await unpacked(await make(['2024/21/3', '2024-21-3']));
  const folders = readdirSync(join(bag, 'data')).sort();
  expect(folders).toEqual(['2024-21-3', '2024-21-3 (2)', 'index.html']);
  const papers = folders.flatMap((each) =>
    each === 'index.html'
      ? []
      : filesUnder(join(bag, 'data', each)).filter((path) => path.startsWith('papers/')),
  );
  expect(papers).toHaveLength(names.length);
  const folded = papers.map((name) => name.normalize('NFC').toUpperCase().toLowerCase());
  expect(new Set(folded).size).toBe(names.length);
});

test('who it went to, and what, is written down once all of it went, and not before', async () => {
  await held('PCD-1');
  const id = await make(['PCD-1'], { notes: 'two\nlines' });
  const broken = (await sendParcel(db(), who, id)).body!.getReader();
  await broken.read();
  await broken.cancel();
  const sendings = () => db().select().from(parcelSendings).where(eq(parcelSendings.parcelId, id));
  expect(await sendings()).toEqual([]);
  const bag = await unpacked(id);
  const [sending] = await sendings();
  expect(sending!.manifestSha256).toBe(sha256Hex(readFileSync(join(bag, 'manifest-sha256.txt'))));
  expect(sending!.manifest).toHaveLength(filesUnder(join(bag, 'data')).length);
  const { medium } = await mediumDetail(db(), 'PCD-1');
  const told = await db()
    .select({ what: ledger.what })
    .from(ledger)
    .where(and(eq(ledger.mediumId, medium.id), eq(ledger.kind, 'parcel')));
  expect(told.map(({ what }) => what.with)).toEqual([
    { id, title: 'Logs', recipient: 'Harbour museum', manifestSha256: sending!.manifestSha256 },
  ]);
  const { parcels, bytesPerSecond } = await listParcels(db());
  expect(bytesPerSecond).toBeGreaterThan(0);
  expect(parcels.find((each) => each.id === id)).toMatchObject({
    media: 1,
    codes: ['PCD-1'],
    bytes: image.length,
  });
});

test('what is damaged in the store breaks it off: no bag, and nothing written down', async () => {
  await held('PCE-1');
  const id = await make(['PCE-1']);
  const { copy } = await mediumDetail(db(), 'PCE-1');
  const chunk = and(eq(blobChunks.blobId, copy!.imageBlob), eq(blobChunks.seq, 1));
  const [before] = await db().select({ bytes: blobChunks.bytes }).from(blobChunks).where(chunk);
  const changed = Buffer.from(before!.bytes);
  changed[77]! ^= 1;
  await db().update(blobChunks).set({ bytes: changed }).where(chunk);
  try {
    await expect(
      sendParcel(db(), who, id).then((answer) => answer.arrayBuffer()),
    ).rejects.toThrow();
  } finally {
    await db().update(blobChunks).set({ bytes: before!.bytes }).where(chunk);
  }
  expect(await db().select().from(parcelSendings).where(eq(parcelSendings.parcelId, id))).toEqual(
    [],
  );
  expect(filesUnder(await unpacked(id))).toContain('data/PCE-1/PCE-1.img');
});

test('what is held is in no parcel, also where it was restricted after the parcel was made', async () => {
  await held('PCF-1');
  const id = await make(['PCF-1']);
  const closed = { statement: '', words: '', restriction: null, isPersonal: true };
  await changeRights(db(), who, 'media', 'PCF-1', RightsChange.parse(closed));
  await expect(make(['PCF-1'])).rejects.toMatchObject({ status: 403, code: 'rights.isHeld' });
  await expect(make(['NOPE-1'])).rejects.toMatchObject({ status: 404 });
  const request = new Request(`http://127.0.0.1/api/parcels/${id}`, {
    headers: { host: '127.0.0.1', cookie: 'spindle-operator=Tam%20Okoro' },
  });
  const params = Promise.resolve({ id: String(id) });
  expect((await handlerOf('api/parcels/[id]')!(request, { params })).status).toBe(403);
});
