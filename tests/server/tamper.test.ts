/**
 * Bytes that changed in the store, by every way out there is: each route that answers GET is asked
 * before and after one byte of a chunk was changed, and none of them gives what was changed.
 */
import { asc, eq, sql } from 'drizzle-orm';
import { fairCopies, files, volumes } from '@/server/features/copies/tables';
import { sounds } from '@/server/features/sounds/tables';
import type { ListedSample } from '@/core/sound/listed-sounds';
import { startExtract } from '@/server/features/extracts/extracts';
import { extracts } from '@/server/features/extracts/tables';
import { askForCheck, checkNext, fixityView } from '@/server/features/fixity/fixity';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { takeIn } from '@/server/features/intake/intake';
import { listLedger } from '@/server/features/ledger/entries';
import { addPaper } from '@/server/features/media/papers';
import { attachments, media } from '@/server/features/media/tables';
import { storeBlob } from '@/server/platform/blobs/blob-store';
import { checkBlob } from '@/server/platform/blobs/fixity';
import { readBlob } from '@/server/platform/blobs/read-blob';
import { blobChunks, blobs } from '@/server/platform/blobs/tables';
import { until } from '../support/application';
import { handlerOf, ROUTES } from '../support/server/route-handlers';
import { serverSuite } from '../support/server-suite';

const suite = serverSuite({ worker: true });
/** What a test has to put right again. */
const onTestEnd: (() => Promise<void>)[] = [];
afterEach(async () => {
  for (const end of onTestEnd.splice(0)) await end();
});
const who = 1;
const db = () => suite.connection.db;

/** Routes that answer from rows alone; no stored bytes are in what they say. */
const OF_ROWS = new Set([
  'api/codes',
  'api/named/[kind]/[name]',
  'api/alike',
  'api/assemblies',
  'api/blanks',
  'api/copies/[id]/files',
  'api/descriptions/[kind]/[name]',
  'api/events',
  'api/extracts',
  'api/fixity',
  'api/holdings',
  'api/holdings/index',
  'api/layouts',
  'api/layouts/[id]',
  'api/ledger',
  'api/ledger/export',
  'api/media',
  'api/media-facts',
  'api/memory-cards',
  'api/operators',
  'api/parcels',
  'api/permits/[code]',
  'api/lots/[name]/report',
  'api/receipts',
  'api/records',
  'api/records/[kind]/[name]',
  'api/rules',
  'api/shelf',
  'api/sittings/[id]',
  'api/stations',
  'api/store',
  'api/store/room',
  'api/to-complete',
  'api/sounds',
  'api/transfers',
  'api/uploads',
  'api/uploads/[id]',
  'api/writebacks',
  'api/writebacks/queue',
  'messages',
]);
/** Those that give bytes made by the same readers as others here, of things these tests have none of. */
const LIKE_OTHERS = new Set([
  'api/assemblies/[id]',
  'api/assemblies/[id]/sound',
  'api/captures/[id]',
  'api/memory-cards/[id]/zip',
  'api/parcels/[id]',
  'api/parcels/came/[id]',
  'api/receipts/[id]',
  'api/writebacks/[id]/certificate',
]);

interface Asked {
  route: string;
  params: Record<string, string>;
  query?: string;
  headers?: Record<string, string>;
}

interface Kept {
  copy: typeof fairCopies.$inferSelect;
  paperId: number;
  paperBlob: string;
  extractId: number;
  extractBlob: string;
  fileIds: number[];
}

let kept: Kept;

beforeAll(async () => {
  const [row] = await db()
    .select({ copy: fairCopies })
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(media.code, 'SKP-0103'))
    .orderBy(asc(fairCopies.id))
    .limit(1);
  const { copy } = row!;
  const text = new TextEncoder().encode('As the keeper told it, a lamp at a time.\n'.repeat(200));
  const { id: paperId } = await addPaper(db(), who, { code: 'SKP-0103' }, 'told.txt', text);
  const [paper] = await db().select().from(attachments).where(eq(attachments.id, paperId));
  const { id: extractId } = await startExtract(db(), who, { copies: [copy.id], what: 'files' });
  const extract = await until('the ZIP', async () => {
    const [row] = await db().select().from(extracts).where(eq(extracts.id, extractId));
    return row!.state === 'done' && row!;
  });
  const rows = await db()
    .select({ id: files.id, bytes: files.bytes })
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .where(
      sql`${volumes.fairCopyId} = ${copy.id} and ${files.kind} = 'file' and ${files.bytes} > 0`,
    )
    .orderBy(files.id);
  await hearAsSounds(copy.id, rows);
  kept = {
    copy,
    paperId,
    paperBlob: paper!.blobId,
    extractId,
    extractBlob: extract.blobId!,
    fileIds: rows.map(({ id }) => id),
  };
});

/** Files as a copy's sounds are kept: each the frames of one, of eight bits. */
async function hearAsSounds(fairCopyId: number, rows: readonly { id: number; bytes: number }[]) {
  const of = { rateHz: 22_050, rateAssumed: true, rootNote: 60, cents: 0, channels: 1, bits: 8 };
  await db()
    .insert(sounds)
    .values(
      rows.map(({ id, bytes }, position) => ({
        fairCopyId,
        fileId: id,
        folder: '',
        name: `sound ${id}`,
        seconds: bytes / of.rateHz,
        rateHz: of.rateHz,
        isLooped: false,
        listed: {
          ...of,
          ...{ path: '', name: `sound ${id}`, position, headerBytes: 0, frames: bytes },
          ...{ start: 0, end: bytes - 1, loops: [], playback: 'unknown', problems: [] },
        } as unknown as ListedSample,
      })),
    );
}

/** Everything that is asked for of what is kept. */
function everythingAsked({ copy, paperId, extractId, fileIds }: Kept): Asked[] {
  const id = String(copy.id);
  const ofCopy = (part: string, query = '', headers = {}): Asked => ({
    route: 'api/copies/[id]/[part]',
    params: { id, part },
    query,
    headers,
  });
  return [
    ofCopy('image'),
    ofCopy('image', '', { range: 'bytes=300-9000' }),
    ofCopy('sidecar'),
    ofCopy('capture'),
    ofCopy('zip'),
    ofCopy('files', `files=${fileIds.join()}`),
    { route: 'api/copies/[id]/bytes', params: { id }, query: 'from=0&length=4096' },
    { route: 'api/copies/[id]/find', params: { id }, query: 'pattern="a"' },
    { route: 'api/copies/[id]/strings', params: { id }, query: '' },
    { route: 'api/copies/[id]/map', params: { id } },
    { route: 'api/copies/[id]/sounds', params: { id } },
    { route: 'api/copies/[id]/stretch', params: { id }, query: 'from=300&length=9000' },
    { route: 'api/copies/[id]/hearing', params: { id }, query: 'from=300&length=9000' },
    { route: 'api/tracks/[copy]', params: { copy: id }, query: 'cylinder=0&head=0' },
    { route: 'api/compare', params: {}, query: 'a=SKP-0103&b=SKP-0104' },
    { route: 'api/alike/[a]/[b]', params: { a: 'SKP-0103', b: 'SKP-0104' } },
    { route: 'api/docket/[code]', params: { code: 'SKP-0103' } },
    { route: 'api/papers/[id]', params: { id: String(paperId) } },
    { route: 'api/extracts/[id]', params: { id: String(extractId) } },
    { route: 'api/writebacks/check', params: {}, query: `copy=${id}&station=2` },
    ...fileIds.flatMap((file): Asked[] => [
      { route: 'api/files/[id]', params: { id: String(file) } },
      { route: 'api/files/[id]', params: { id: String(file) }, query: 'preview' },
      { route: 'api/files/[id]', params: { id: String(file) }, query: 'listen' },
      { route: 'api/files/[id]', params: { id: String(file) }, query: 'wav' },
    ]),
  ];
}

/** Of a docket, what is not told of checks: a worker may come by with one of its own. */
function withoutChecks(docket: ArrayBuffer): Uint8Array {
  const told = JSON.parse(Buffer.from(docket).toString('utf8')) as Record<string, unknown>;
  for (const news of ['damage', 'history']) delete told[news];
  return Buffer.from(JSON.stringify(told));
}

/** What came: the status, and the whole body; null of one that broke off. */
async function answerTo({ route, params, query, headers }: Asked) {
  const request = new Request(`http://127.0.0.1/${route}?${query ?? ''}`, {
    headers: { host: '127.0.0.1', cookie: 'spindle-operator=Tam%20Okoro', ...headers },
  });
  const response = await handlerOf(route)!(request, { params: Promise.resolve(params) });
  const kept = route === 'api/docket/[code]' ? withoutChecks : (bytes: ArrayBuffer) => bytes;
  const body = await response.arrayBuffer().then(
    (bytes) => Buffer.from(kept(bytes) as ArrayBuffer).toString('base64'),
    () => null,
  );
  return { status: response.status, body };
}

/** Changes one byte of a chunk, as a failing disk would; gives what puts it right again. */
async function changeByte(
  blobId: string,
  seq: number,
  at: number,
): Promise<() => Promise<unknown>> {
  const flip = () =>
    db()
      .update(blobChunks)
      .set({
        bytes: sql`set_byte(${blobChunks.bytes}, ${at}, get_byte(${blobChunks.bytes}, ${at}) # 85)`,
      })
      .where(sql`${blobChunks.blobId} = ${blobId} and ${blobChunks.seq} = ${seq}`);
  await flip();
  return flip;
}

type Answer = Awaited<ReturnType<typeof answerTo>>;
const storedAlone = async (bytes: Uint8Array) =>
  (await db().transaction((tx) => storeBlob(tx, bytes))).id;

const isDelivered = (now: Answer, before: Answer) =>
  now.status < 400 && now.body !== null && now.body !== before.body;

test('every route that answers is tried here, or is known to give no stored bytes', () => {
  const tried = new Set(everythingAsked(kept).map(({ route }) => route));
  const answering = ROUTES.filter((route) => handlerOf(route));
  expect(answering.length).toBeGreaterThan(30);
  expect(
    answering.filter(
      (route) => !tried.has(route) && !OF_ROWS.has(route) && !LIKE_OTHERS.has(route),
    ),
  ).toEqual([]);
});

/** A worker's own check may have come by while a byte was wrong: it is told until the next one. */
async function foundSound(blobId: string): Promise<void> {
  await db().update(blobs).set({ dueAt: new Date() }).where(eq(blobs.id, blobId));
  while (await checkNext(db()));
  await until('it to be sound', async () => (await fixityView(db())).damaged.length === 0);
}

test.each([
  ['the image', () => kept.copy.imageBlob, 4],
  ['the sidecar', () => kept.copy.sidecarBlob!, 1],
  ['the capture', () => kept.copy.captureBlob!, 2],
  ['a paper', () => kept.paperBlob, 1],
  ['a ZIP', () => kept.extractBlob, 1],
] as const)('a changed byte of %s is given out by no way', async (_, blobOf, least) => {
  const asked = everythingAsked(kept);
  const before: Answer[] = [];
  for (const each of asked) before.push(await answerTo(each));
  const putBack = await changeByte(blobOf(), 0, 20);
  const now: Answer[] = [];
  try {
    for (const each of asked) now.push(await answerTo(each));
  } finally {
    await putBack();
    await foundSound(blobOf());
  }
  expect(asked.filter((__, i) => isDelivered(now[i]!, before[i]!))).toEqual([]);
  // And it is told: with a name where nothing was sent, by breaking off where something was.
  const told = now.filter(({ body }, i) => {
    if (before[i]!.status >= 400) return false;
    return body === null || Buffer.from(body, 'base64').includes('platform.storedBytesAreDamaged');
  });
  expect(told.length).toBeGreaterThanOrEqual(least);
  // Put right, all of it comes again.
  for (const [i, each] of asked.entries()) expect(await answerTo(each)).toEqual(before[i]);
});

test('a check is asked for of what there is', async () => {
  await expect(askForCheck(db(), who, { code: 'NOT-0001' })).rejects.toMatchObject({ status: 404 });
  await expect(askForCheck(db(), who, { lot: 'no such lot' })).rejects.toMatchObject({
    status: 404,
  });
  const [{ lot }] = (await db().select().from(media).where(eq(media.code, 'SKP-0103'))) as [
    typeof media.$inferSelect,
  ];
  const { asked: ofMedium } = await askForCheck(db(), who, { code: 'SKP-0103' });
  const { asked: ofLot } = await askForCheck(db(), who, { lot });
  const { asked: ofAll } = await askForCheck(db(), who, {});
  expect([ofMedium > 2, ofLot >= ofMedium, ofAll > ofLot]).toEqual([true, true, true]);
});

test('a check that breaks off leaves its blob to the next', async () => {
  const id = await storedAlone(new Uint8Array(20 * 262_144).fill(3));
  let pieces = 0;
  await expect(
    checkBlob(
      db(),
      id,
      async () => undefined,
      async () => {
        if (++pieces === 1) throw new Error('the worker ends');
      },
    ),
  ).rejects.toThrow('the worker ends');
  const stateOf = async () => (await db().select().from(blobs).where(eq(blobs.id, id)))[0]!;
  expect(await stateOf()).toMatchObject({ damagedChunk: null });
  const checked = await checkBlob(
    db(),
    id,
    async () => undefined,
    async () => void pieces++,
  );
  expect([checked, pieces]).toEqual([{ id, damagedChunk: null, isNews: false }, 3]);
});

test('where the whole is right and a digest is not, the digest is put right', async () => {
  const id = await storedAlone(new Uint8Array(300_000).fill(5));
  await db()
    .update(blobChunks)
    .set({ digest: Buffer.alloc(32) })
    .where(eq(blobChunks.blobId, id));
  await expect(readBlob(db(), id)).rejects.toMatchObject({
    code: 'platform.storedBytesAreDamaged',
  });
  const checked = await checkBlob(
    db(),
    id,
    async () => undefined,
    async () => undefined,
  );
  expect(checked.damagedChunk).toBeNull();
  expect(await readBlob(db(), id)).toHaveLength(300_000);
});

test('a check finds what is damaged, says whose it is, and when it is sound again', async () => {
  const twin = await takeIn(
    db(),
    who,
    { name: 'twin.img' },
    await readBlob(db(), kept.copy.imageBlob),
  );
  const putBack = await changeByte(kept.copy.imageBlob, 1, 77);
  await askForCheck(db(), who, { code: 'SKP-0103' });
  while (await checkNext(db()));
  const found = await until('the damage', async () => {
    const { damaged, due } = await fixityView(db());
    return due === 0 && damaged.length > 0 && damaged;
  });
  expect(found).toMatchObject([{ code: 'SKP-0103', offset: 262_144 }]);
  expect(found[0]!.files).toBeGreaterThan(0);
  const image = everythingAsked(kept)[0]!;
  expect((await answerTo(image)).status).toBe(500);
  const damageOf = async (code: string) => (await mediumDetail(db(), code)).damage;
  expect(await damageOf('SKP-0103')).toHaveLength(1);
  expect(await damageOf('SKP-0104')).toEqual([]);
  // Two media have the image: each is told of its own.
  expect(await damageOf('SKP-0103')).toEqual([expect.stringContaining('image of SKP-0103')]);
  expect(await damageOf(twin.code)).toEqual([expect.stringContaining(`image of ${twin.code}`)]);
  const told = (await listLedger(db())).entries.filter(({ kind }) => kind === 'fixity');
  expect(told[0]).toMatchObject({ code: 'SKP-0103', who: 'the application' });
  await putBack();
  await askForCheck(db(), who, {});
  while (await checkNext(db()));
  await until('all to be sound', async () => {
    const { damaged, due } = await fixityView(db());
    return due === 0 && damaged.length === 0;
  });
  expect((await answerTo(image)).status).toBe(200);
  expect(await damageOf('SKP-0103')).toEqual([]);
});

test('chunks of an older store are given their digests once their blob was found whole', async () => {
  // What it looks at meanwhile it would give its digests after they were taken away.
  await suite.worker.kill();
  onTestEnd.push(() => suite.worker.restart());
  const { imageBlob } = kept.copy;
  const digests = () =>
    db()
      .select({ digest: blobChunks.digest })
      .from(blobChunks)
      .where(eq(blobChunks.blobId, imageBlob))
      .orderBy(blobChunks.seq);
  const wanted = await digests();
  const forget = () =>
    db().update(blobChunks).set({ digest: null }).where(eq(blobChunks.blobId, imageBlob));
  const due = () => db().update(blobs).set({ dueAt: new Date() }).where(eq(blobs.id, imageBlob));
  await forget();
  await due();
  while (await checkNext(db()));
  await until('the digests', async () => (await digests()).every(({ digest }) => digest !== null));
  expect(await digests()).toEqual(wanted);
  // Without digests and hurt, none is made for what is wrong; and nothing of it is given out.
  await forget();
  const putBack = await changeByte(imageBlob, 0, 5);
  await due();
  while (await checkNext(db()));
  await until('it to be checked', async () => (await fixityView(db())).damaged.length === 1);
  expect((await digests()).every(({ digest }) => digest === null)).toBe(true);
  const bytes = everythingAsked(kept).find(({ route }) => route === 'api/copies/[id]/bytes')!;
  expect((await answerTo(bytes)).status).toBe(500);
  await putBack();
  await foundSound(imageBlob);
  expect(await digests()).toEqual(wanted);
});
