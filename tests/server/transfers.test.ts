/**
 * Images over the bench's serial line: a receiving program that is there, or typed in first; noise,
 * kill -9, given up.
 */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import { BenchClient } from '@/benchlink/client';
import { readBlob } from '@/server/platform/blobs/read-blob';
import { fairCopies } from '@/server/features/copies/tables';
import { media } from '@/server/features/media/tables';
import { transfers } from '@/server/features/transfers/tables';
import { startRoute } from '@/server/features/assemblies/start-route';
import { assemblyView } from '@/server/features/assemblies/queries';
import {
  giveUpTransfer,
  listLines,
  listTransfers,
  startTransfer,
} from '@/server/features/transfers/transfers';
import { takeIn } from '@/server/features/intake/intake';
import { until } from '../support/application';
import { serverSuite } from '../support/server-suite';
import { loadVector, sha256Hex } from '../support/vectors';

const suite = serverSuite({ worker: true, speed: 200 });
const who = 1;
const db = () => suite.connection.db;
const LINE = 'L1';
let files = 0;
const arrived = () =>
  new Uint8Array(
    readFileSync(join(suite.application.folder, 'shelf', 'written', `line-${LINE}-${++files}.bin`)),
  );
const stateOf = async (id: number) =>
  (await db().select().from(transfers).where(eq(transfers.id, id)))[0]!;
const ended = (id: number) =>
  until(`transfer ${id} to end`, async () => {
    const row = await stateOf(id);
    return row.endedAt !== null && row;
  });
const hand = async (body: { receive?: { crc: boolean; large: boolean }; noise?: number }) => {
  const client = await BenchClient.connect(suite.application.bench);
  await client.hand({ op: 'hand-line', line: LINE, ...body }).finally(() => client.close());
};
const copyOf = async (code: string) =>
  (
    await db()
      .select({ id: fairCopies.id, imageBlob: fairCopies.imageBlob })
      .from(fairCopies)
      .innerJoin(media, eq(media.id, fairCopies.mediumId))
      .where(eq(media.code, code))
  )[0]!;

test('the other side receives: all bytes arrive, filled up to a whole block', async () => {
  expect(await listLines()).toMatchObject([{ id: LINE, rates: expect.arrayContaining([9600]) }]);
  const copy = await copyOf('SKP-0104');
  const image = await readBlob(db(), copy.imageBlob);
  await hand({ receive: { crc: true, large: true } });
  const { id } = await startTransfer(db(), who, {
    fairCopyId: copy.id,
    line: LINE,
    rate: 19_200,
    large: true,
  });
  await expect(
    startTransfer(db(), who, { fairCopyId: copy.id, line: LINE, rate: 9600 }),
  ).rejects.toThrow('is busy with another transfer');
  // The bench's connections are lost in the middle, as by a pulled cable.
  await until('some of it', async () => ((await stateOf(id)).progress?.acknowledged ?? 0) > 50_000);
  const client = await BenchClient.connect(suite.application.bench);
  await client.hand({ op: 'hand-insert', drive: 'A', label: 'BLK-0001' });
  await client.hand({ op: 'hand-fault', drive: 'A', fault: 'device-gone', after: 0 });
  await client
    .readTrack('A', { cylinder: 0, head: 0, pass: 0, revolutions: 1, approach: 'plain' })
    .catch(() => undefined);
  client.close();
  expect(await ended(id)).toMatchObject({
    state: 'done',
    now: {
      code: 'transfers.allBytesWereAcknowledged',
      with: { bytes: 737_280, filled: 0 },
    },
  });
  expect(sha256Hex(arrived())).toBe(sha256Hex(image));
});

test('a noisy line, and kill -9 of the worker in the middle: everything arrives once', async () => {
  const { code } = await takeIn(
    db(),
    who,
    { name: 'd64-plain.d64' },
    loadVector('volumes/d64-plain.d64'),
  );
  const copy = await copyOf(code);
  await hand({ receive: { crc: true, large: false }, noise: 30 });
  const { id } = await startTransfer(db(), who, { fairCopyId: copy.id, line: LINE, rate: 9600 });
  await until('some of it', async () => ((await stateOf(id)).progress?.acknowledged ?? 0) > 20_000);
  await suite.worker.kill();
  await suite.worker.restart();
  const row = await ended(id);
  await hand({ noise: 0 });
  expect(row.state).toBe('done');
  expect(row.repeated).toBeGreaterThan(5);
  const bytes = arrived();
  expect(sha256Hex(bytes.subarray(0, 174_848))).toBe(
    sha256Hex(loadVector('volumes/d64-plain.d64')),
  );
});

test('no receiving program there: one of ours is typed at its pace, and asks by itself', async () => {
  const { code } = await takeIn(
    db(),
    who,
    { name: 'granule.img' },
    loadVector('volumes/granule-plain.img'),
  );
  const copy = await copyOf(code);
  const { id } = await startTransfer(db(), who, {
    fairCopyId: copy.id,
    line: LINE,
    rate: 9600,
    loader: '10 REM RECEIVE\r\n20 GOSUB 900\r\nRUN',
    typingRate: 200,
    linePauseMs: 20,
  });
  await until('the typing', async () => (await stateOf(id)).state === 'typing');
  expect(await ended(id)).toMatchObject({ state: 'done' });
  expect(sha256Hex(arrived().subarray(0, loadVector('volumes/granule-plain.img').length))).toBe(
    sha256Hex(loadVector('volumes/granule-plain.img')),
  );
  expect((await listTransfers(db()))[0]).toMatchObject({ code, loaderLines: 3 });
});

test('nobody receives: it ends with what to check; or it is given up', async () => {
  const copy = await copyOf('SKP-0104');
  const { id } = await startTransfer(db(), who, { fairCopyId: copy.id, line: LINE, rate: 300 });
  expect(await ended(id)).toMatchObject({
    state: 'failed',
    now: {
      code: 'transfers.whatTheOtherSide',
      with: { reason: { code: 'transfers.theOtherSideDoesNotBegin' } },
    },
  });
  await hand({ receive: { crc: true, large: false } });
  const next = await startTransfer(db(), who, { fairCopyId: copy.id, line: LINE, rate: 1200 });
  await until(
    'some of it',
    async () => ((await stateOf(next.id)).progress?.acknowledged ?? 0) > 1000,
  );
  await giveUpTransfer(db(), next.id);
  expect(await ended(next.id)).toMatchObject({
    state: 'failed',
    now: { code: 'transfers.givenUpWhatThe' },
  });
  expect(
    existsSync(join(suite.application.folder, 'shelf', 'written', `line-${LINE}-${files + 1}.bin`)),
  ).toBe(false);
  await expect(
    startTransfer(db(), who, { fairCopyId: copy.id, line: LINE, rate: 12_345 }),
  ).rejects.toThrow('bits a second');
});

test('two steps: the image as a file on a volume that the far machine reads', async () => {
  const { code } = await takeIn(
    db(),
    who,
    { name: 'granule.img' },
    loadVector('volumes/granule-plain.img'),
  );
  const copy = await copyOf(code);
  const { id, name } = await startRoute(db(), who, { copyId: copy.id, kind: 'fat12-1440' });
  const view = await assemblyView(db(), id);
  expect(view.entries.map(({ path, digest }) => [path, digest])).toEqual([
    [name, sha256Hex(loadVector('volumes/granule-plain.img'))],
  ]);
  await expect(
    startRoute(db(), who, { copyId: (await copyOf('SKP-0098')).id, kind: 'fat12-720' }),
  ).rejects.toThrow('has no room for it');
});
