/**
 * Hard disks and discs read block by block with the real database, bench and worker: bad bands, raw
 * sectors, drives that vanish, kill -9.
 */
import { tell } from '@/messages/tell';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { eq, sql } from 'drizzle-orm';
import { BenchClient } from '@/benchlink/client';
import { ExtentsFile } from '@/core/block/extents-file';
import { RAW_BYTES } from '@/core/optical/raw-sector';
import { said } from '@/core/said';
import { isConnectionLost } from '@/server/platform/db/connection-lost';
import { blobSource, readBlob } from '@/server/platform/blobs/read-blob';
import { fairCopies, files, volumes } from '@/server/features/copies/tables';
import { ledger } from '@/server/features/ledger/tables';
import { media } from '@/server/features/media/tables';
import { sittings } from '@/server/features/sittings/tables';
import { blockReadings } from '@/server/features/sittings/tables';
import { answerBlockPreview, extentsOf } from '@/server/features/sittings/blocks/block-sittings';
import { contentsOf } from '@/server/features/copies/queries';
import { copyPart } from '@/server/features/copies/downloads';
import { registerMedium } from '@/server/features/media/media';
import { NewMedium } from '@/server/features/media/new-medium';
import { askSitting, startSitting } from '@/server/features/sittings/sittings';
import { sittingView } from '@/server/features/sittings/queries';
import { listStations } from '@/server/features/stations/stations';
import { takeIn } from '@/server/features/intake/intake';
import { placeMedium, removeMedium } from '@/server/features/stations/placing';
import { deviceScenario } from '../../demo/devices';
import { until } from '../support/application';
import { readConfigAnew } from '@/server/platform/config';
import { wakeJob } from '@/server/platform/jobs/enqueue';
import { serverSuite } from '../support/server-suite';

/** A file of the server's own that may be read, as a device. */
const folder = mkdtempSync(join(tmpdir(), 'spindle-own-'));
const own = join(folder, 'old-disk.img');
writeFileSync(own, Buffer.alloc(40_000_512, 'the fog came in at four. '));
process.env.SPINDLE_DEVICES = own;
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const suite = serverSuite({ worker: true });
const who = 1;
const db = () => suite.connection.db;
const DISK = 7;
const OPTICAL = 8;
const devices = Object.fromEntries(deviceScenario().map((each) => [each.code, each]));

const stateOf = async (id: number) =>
  (await db().select().from(sittings).where(eq(sittings.id, id)))[0]!;
/** Connections that were cut are met one after the other, while the pool still holds them. */
const nothingYet = (error: unknown): null => {
  if (!isConnectionLost(error)) throw error;
  return null;
};
const inState = (id: number, state: string, seconds = 300) =>
  until(
    `sitting ${id} to be ${state}`,
    async () => {
      const row = await stateOf(id).catch(nothingYet);
      if (row?.state === 'failed') throw new Error(tell(row.now));
      return row?.state === state && row;
    },
    seconds,
  );
const copyOf = async (code: string) => {
  const [row] = await db()
    .select()
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(media.code, code))
    .orderBy(fairCopies.id);
  return (await db().select().from(fairCopies).where(eq(fairCopies.mediumId, row!.media.id))).at(
    -1,
  )!;
};
const hand = async (work: (bench: BenchClient) => Promise<void>) => {
  const client = await BenchClient.connect(suite.application.bench);
  await work(client).finally(() => client.close());
};
const sha = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

/** The image of a device with zeros where it can't be read. */
function wanted(code: string, blockBytes: number): Uint8Array {
  const device = devices[code]!;
  const { blocks } = device.medium as { blocks: number };
  const image = new Uint8Array(blocks * blockBytes);
  image.set(device.image);
  for (const { from, count } of (device.faults as { bad: { from: number; count: number }[] }).bad)
    image.fill(0, from * blockBytes, (from + count) * blockBytes);
  return image;
}

// Each test finds the optical drive empty.
afterEach(() => removeMedium(db(), who, OPTICAL));

test('the bench shows a hard disk’s cable and an optical drive as stations that read blocks', async () => {
  const stations = await listStations(db());
  expect(
    stations
      .filter(({ id, abilities }) => abilities?.delivers === 'blocks' && id < 9)
      .map(({ id, form, abilities }) => [id, form, abilities]),
  ).toEqual([
    [DISK, 'hard-disk', { bus: 'parallel, 40 pins', speeds: [], delivers: 'blocks', writes: true }],
    [
      OPTICAL,
      'optical-disc',
      { bus: 'serial, 7 pins', speeds: [16, 8, 4, 1], delivers: 'blocks', writes: true },
    ],
  ]);
  await expect(placeMedium(db(), who, DISK, 'SKP-0112')).rejects.toThrow('does not fit station 7');
});

test('a hard disk asks how far, is read with loss in mind, survives kill -9, and every readable block is there; files that a lost range touches say so', async () => {
  await placeMedium(db(), who, DISK, 'SKP-0111');
  const id = await startSitting(db(), who, DISK, { unattended: false });
  const asked = await inState(id, 'asks');
  expect(tell(asked.now)).toBe('Hard disk, 820 × 6 × 17; 1 partition, FAT16: how far?');
  const [blocks] = [asked.device!.blocks];
  expect(asked.blockPreview!.landmarks).toMatchObject([
    { name: { code: 'plan.inUse' } },
    { name: { code: 'plan.everything' }, to: blocks },
  ]);
  await expect(answerBlockPreview(db(), who, id, { from: 0, to: blocks + 1 })).rejects.toThrow(
    'blocks, not',
  );
  await answerBlockPreview(db(), who, id, { from: 0, to: blocks });
  const readings = async () =>
    (
      await db()
        .select({ id: blockReadings.id })
        .from(blockReadings)
        .where(eq(blockReadings.sittingId, id))
    ).length;
  for (const many of [15, 100, 400]) {
    await until(`${many} requests`, async () => (await readings()) >= many);
    await suite.worker.kill();
    await suite.worker.restart();
  }
  const ended = await inState(id, 'done');
  expect(tell(ended.now)).toBe('320 blocks could not be read; asking again brought nothing more.');
  const view = await sittingView(db(), id);
  // A try that failed and was not committed when the worker was killed is not counted: the next one
  // is the block's first.
  const { mended } = view.blocks!.tally;
  expect(mended).toBeGreaterThanOrEqual(60);
  expect(mended).toBeLessThanOrEqual(63);
  expect(view.blocks!.tally).toEqual({
    firm: blocks - 320 - mended,
    mended,
    doubtful: 0,
    lost: 320,
    unread: 0,
  });
  const copy = await copyOf('SKP-0111');
  expect(copy.imageSha256).toBe(sha(wanted('SKP-0111', 512)));
  expect(copy.tally).toEqual(view.blocks!.tally);
  // The health that the drive tells of itself was worse after it.
  const told = (
    await db()
      .select({ what: ledger.what })
      .from(ledger)
      .where(eq(ledger.sittingId, id))
      .orderBy(ledger.id)
  ).map(({ what }) => tell(what));
  expect(
    told.some((what) =>
      /^Health of the drive: sectors waiting to be set aside 0 before, \d+ after/.test(what),
    ),
  ).toBe(true);
  expect(told[1]).toContain('LH-40-22817');
  await expectDoubtsTold();
});

/** What it is, where it came from and what was filled in stand in its sidecar. */
async function expectDoubtsTold(): Promise<void> {
  const copy = await copyOf('SKP-0111');
  const [volume] = await db().select().from(volumes).where(eq(volumes.fairCopyId, copy.id));
  expect(volume).toMatchObject({ filesystem: 'fat16', partition: 1, label: 'LOGHOUSE' });
  const entries = await db().select().from(files).where(eq(files.volumeId, volume!.id));
  const hurt = entries.filter(({ sectorsInDoubt }) => sectorsInDoubt > 0).map(({ path }) => path);
  expect(hurt.length).toBeGreaterThan(0);
  expect(hurt.length).toBeLessThan(entries.length / 2);
  const sidecar = ExtentsFile.parse(
    JSON.parse(new TextDecoder().decode(await readBlob(db(), copy.sidecarBlob!))),
  );
  expect(sidecar).toMatchObject({
    blockBytes: 512,
    device: { serial: 'LH-40-22817', geometry: { cylinders: 820, heads: 6, sectors: 17 } },
    description: { machine: 'log-house desk computer, 16-bit', jumpers: 'master, alone' },
  });
  expect(sidecar.filledIn.map(({ offset, length }) => [offset / 512, length / 512])).toEqual([
    [1260, 60],
    [41_300, 260],
  ]);
  // Blocks are counted, not stretches of them.
  const lost = sidecar.filledIn.flatMap(({ offset, length }) =>
    Array.from({ length: length / 512 }, (_, i) => offset + i * 512),
  );
  const blocksOf = ({ extents }: (typeof entries)[number]) =>
    lost.filter((at) =>
      extents.some((each) => {
        const from = volume!.offset + each.offset;
        return at >= from && at < from + each.length;
      }),
    ).length;
  expect(entries.map(({ path, sectorsInDoubt }) => [path, sectorsInDoubt])).toEqual(
    entries.map((entry) => [entry.path, blocksOf(entry)]),
  );
}

test('a look that a worker died of is taken up, and asks the drive for nothing that is there', async () => {
  await placeMedium(db(), who, OPTICAL, 'SKP-0112');
  const id = await startSitting(db(), who, OPTICAL, { unattended: false });
  await inState(id, 'asks');
  const readings = () =>
    db()
      .select({ from: blockReadings.from, count: blockReadings.count })
      .from(blockReadings)
      .where(eq(blockReadings.sittingId, id));
  const first = await readings();
  // Its tables, and not the disc.
  expect(first.reduce((sum, { count }) => sum + count, 0)).toBeLessThan(200);
  await db()
    .update(sittings)
    .set({ state: 'reading', blockPreview: null, now: said('sittings.lookingAtItsOwn') })
    .where(eq(sittings.id, id));
  await wakeJob(db(), 'sitting', { sittingId: id });
  await inState(id, 'asks');
  expect(await readings()).toEqual(first);
  await answerBlockPreview(db(), who, id, { from: 0, to: 8 });
  await inState(id, 'done');
});

test('another disk in its place is not taken for it; a second reading is put together with the first', async () => {
  await placeMedium(db(), who, OPTICAL, 'SKP-0113');
  const id = await startSitting(db(), who, OPTICAL);
  await until('some requests', async () => (await extentsOf(db(), id)).length > 0);
  await askSitting(db(), who, id, 'pause');
  await inState(id, 'paused');
  await hand(async (bench) => {
    await bench.hand({ op: 'hand-remove', drive: 'H' });
    await bench.hand({ op: 'hand-insert', drive: 'H', label: 'SKP-0112' });
  });
  await askSitting(db(), who, id, 'go-on');
  expect(tell((await inState(id, 'paused')).now)).toMatch(
    /^Another disc is there than this sitting began with/,
  );
  await hand(async (bench) => {
    await bench.hand({ op: 'hand-remove', drive: 'H' });
    await bench.hand({ op: 'hand-insert', drive: 'H', label: 'SKP-0113' });
    await bench.hand({ op: 'hand-fault', drive: 'H', fault: 'device-gone', after: 3 });
  });
  await askSitting(db(), who, id, 'go-on');
  // A disc that only says that a request failed, with blocks that never answer but at the lowest
  // speed.
  const ended = await inState(id, 'done');
  expect(tell(ended.now)).toBe('12 blocks could not be read; asking again brought nothing more.');
  const copy = await copyOf('SKP-0113');
  expect(copy.imageSha256).toBe(sha(wanted('SKP-0113', 2048)));
  expect(copy.tally).toMatchObject({ doubtful: 0, lost: 12, unread: 0 });
  // The four that answer at the lowest speed only came late; of the weak ones some do while others
  // are asked for.
  expect(copy.tally!.mended).toBeGreaterThanOrEqual(4);
  expect((await contentsOf(db(), copy.id))[0]).toMatchObject({
    filesystem: 'iso9660',
    label: 'CHARTS_1994',
  });
  await expectSecondReading();
});

test('a scratched mixed-mode disc is read raw: sectors mended by their own parity, sound as WAV, image and sheet', async () => {
  await placeMedium(db(), who, OPTICAL, 'SKP-0112');
  const id = await startSitting(db(), who, OPTICAL);
  await inState(id, 'done');
  const copy = await copyOf('SKP-0112');
  const device = devices['SKP-0112']!;
  const raw = await readBlob(db(), copy.captureBlob!);
  expect(raw.length).toBe(device.image.length);
  const { blocks } = device.medium as { blocks: number };
  const wrong = Array.from({ length: blocks }, (_, block) => block).filter(
    (block) =>
      Buffer.compare(
        raw.subarray(block * RAW_BYTES, (block + 1) * RAW_BYTES),
        device.image.subarray(block * RAW_BYTES, (block + 1) * RAW_BYTES),
      ) !== 0,
  );
  const map = (await extentsOf(db(), id))
    .filter(({ grade }) => grade === 'doubtful' || grade === 'lost')
    .flatMap(({ from, to }) => Array.from({ length: to - from }, (_, i) => from + i));
  // No sector is called sound that is not what is on the disc.
  expect(wrong.filter((block) => !map.includes(block))).toEqual([]);
  expect(copy.tally!.mended).toBeGreaterThanOrEqual(3);
  expect(copy.tally!.lost).toBe(2);
  expect((await contentsOf(db(), copy.id))[0]).toMatchObject({
    filesystem: 'iso9660',
    label: 'SKERROW_SOUNDS',
  });
  const sound = new Uint8Array(
    await (await copyPart(db(), copy.id, 'sound', { track: 3 })).arrayBuffer(),
  );
  const [, , third] = copy.blocks!.tracks;
  expect(sound.length).toBe(44 + third!.sectors * RAW_BYTES);
  expect(
    Buffer.compare(sound.subarray(44), device.image.subarray(third!.startLba * RAW_BYTES)),
  ).toBe(0);
  const sheet = await (await copyPart(db(), copy.id, 'cue')).text();
  expect(sheet).toMatch(/^FILE "SKP-0112\.bin" BINARY\r\n {2}TRACK 01 MODE1\/2352\r\n/);
  await expect(copyPart(db(), copy.id, 'sound', { track: 1 })).rejects.toThrow(
    'no track of sound 1',
  );
});

test('a range of a download is that range, and what was sealed is what comes', async () => {
  const { code } = await takeIn(db(), who, { name: 'charts.iso' }, wanted('SKP-0113', 2048));
  const copy = await copyOf(code);
  const whole = await readBlob(db(), copy.imageBlob);
  const part = await copyPart(db(), copy.id, 'image', {
    headers: new Headers({ range: 'bytes=1000000-1999999' }),
  });
  expect([part.status, part.headers.get('content-range')]).toEqual([
    206,
    `bytes 1000000-1999999/${whole.length}`,
  ]);
  expect(
    Buffer.compare(new Uint8Array(await part.arrayBuffer()), whole.subarray(1_000_000, 2_000_000)),
  ).toBe(0);
  const last = await copyPart(db(), copy.id, 'image', {
    headers: new Headers({ range: 'bytes=-100', 'if-range': `"${copy.imageSha256}"` }),
  });
  expect(Buffer.compare(new Uint8Array(await last.arrayBuffer()), whole.subarray(-100))).toBe(0);
  expect(
    (
      await copyPart(db(), copy.id, 'image', {
        headers: new Headers({ range: `bytes=${whole.length}-` }),
      })
    ).status,
  ).toBe(416);
  expect(
    (
      await copyPart(db(), copy.id, 'image', {
        headers: new Headers({ range: 'bytes=0-9', 'if-range': '"another"' }),
      })
    ).status,
  ).toBe(200);
  const source = await blobSource(db(), copy.imageBlob);
  expect(sha(await source.read(0, source.size))).toBe(copy.imageSha256);
});

/** A second reading is put together with the first. */
async function expectSecondReading(): Promise<void> {
  await removeMedium(db(), who, OPTICAL);
  await placeMedium(db(), who, OPTICAL, 'SKP-0113');
  const id = await startSitting(db(), who, OPTICAL);
  await inState(id, 'done');
  const copy = await copyOf('SKP-0113');
  expect(copy.blocks).toMatchObject({ readings: 2, differing: [] });
  expect(copy.imageSha256).toBe(sha(wanted('SKP-0113', 2048)));
}

test('a file of the server’s own on the allow-list is a station, read only; another is none', async () => {
  const station = (await listStations(db())).find(({ model }) => model === 'file on the server')!;
  expect(station).toMatchObject({
    form: 'hard-disk',
    serial: 'old-disk.img',
    abilities: { bus: 'file', delivers: 'blocks', writes: false },
  });
  await registerMedium(
    db(),
    who,
    NewMedium.parse({ code: 'OWN-0001', form: 'hard-disk', title: 'a disk of old' }),
  );
  await placeMedium(db(), who, station.id, 'OWN-0001');
  const id = await startSitting(db(), who, station.id);
  // Every connection to the database is cut while it is read, ours too, as when it is killed.
  await until('some of it', async () => (await extentsOf(db(), id)).length > 0);
  await db()
    .execute(
      sql`select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database()`,
    )
    .catch(() => undefined);
  await inState(id, 'done');
  const copy = await copyOf('OWN-0001');
  expect(copy.imageSha256).toBe(sha(readFileSync(own)));
  expect(copy.finding).toMatchObject({
    verdict: 'written-over',
    traces: [{ kind: 'text', offset: 0 }],
  });
  await removeMedium(db(), who, station.id);
  process.env.SPINDLE_DEVICES = '';
  readConfigAnew();
  expect((await listStations(db())).some(({ id: each }) => each === station.id)).toBe(false);
  await expect(placeMedium(db(), who, station.id, 'OWN-0001')).rejects.toThrow('not on the list');
});
