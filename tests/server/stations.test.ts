/**
 * Stations: heads that want cleaning, tests given up, stacks refused and kept waiting, drives that
 * tell sectors; what goes wrong first of all.
 */
import { asWritten } from '@/core/said';
import { and, desc, eq, like } from 'drizzle-orm';
import { BenchClient } from '@/benchlink/client';
import { media } from '@/server/features/media/tables';
import { sittings, stacks } from '@/server/features/sittings/tables';
import { selfTests, stations } from '@/server/features/stations/tables';
import { correctMedium } from '@/server/features/media/corrections';
import { MediumCorrection } from '@/server/features/media/new-medium';
import { endSelfTest, startSelfTest } from '@/server/features/stations/self-tests';
import { startSitting } from '@/server/features/sittings/sittings';
import { sittingView, sittingsOfMedium } from '@/server/features/sittings/queries';
import { startStack } from '@/server/features/sittings/stacks';
import { listStations, syncStations } from '@/server/features/stations/stations';
import { takeScan } from '@/server/features/stations/scanned-labels';
import { placeMedium, removeMedium } from '@/server/features/stations/placing';
import { cleanHead } from '@/server/features/stations/head-cleaning';
import { readConfigAnew } from '@/server/platform/config';
import { jobs } from '@/server/platform/jobs/tables';
import { until } from '../support/application';
import { serverSuite } from '../support/server-suite';

const suite = serverSuite({ speed: 150, worker: true });
const who = 1;

const station = async (id: number) =>
  (await listStations(suite.connection.db)).find((each) => each.id === id)!;
const mediumId = async (code: string) =>
  (await suite.connection.db.select().from(media).where(eq(media.code, code)))[0]!.id;

async function byHand<T>(work: (client: BenchClient) => Promise<T>): Promise<T> {
  const client = await BenchClient.connect(suite.application.bench);
  return work(client).finally(() => client.close());
}

test('a sitting that waits for a clean head goes on with its own disk only, and never keeps the head from being cleaned', async () => {
  const { db } = suite.connection;
  const [dirty] = await db
    .insert(sittings)
    .values({
      mediumId: await mediumId('SKP-0128'),
      stationId: 1,
      state: 'dirty',
      now: asWritten('dirty'),
      policy: {
        range: null,
        revolutions: 2,
        laterRevolutions: 5,
        tries: 6,
        patience: 3,
        sweep: 'inward',
        gentle: false,
      },
      startedBy: who,
    })
    .returning();
  const state = async () =>
    (await db.select().from(sittings).where(eq(sittings.id, dirty!.id)))[0]!.state;
  // Its disk was taken out: the empty drive is cleaned like any other.
  await cleanHead(db, who, 1);
  expect(await state()).toBe('dirty');
  await placeMedium(db, who, 1, 'SKP-0124');
  await expect(cleanHead(db, who, 1)).rejects.toThrow('Take the disk out of station 1 first');
  expect(await state()).toBe('dirty');
  await removeMedium(db, who, 1);
  await db.update(sittings).set({ state: 'failed' }).where(eq(sittings.id, dirty!.id));
});

test('dirt counts from the first track on, also of a sitting that is put aside', async () => {
  const { db } = suite.connection;
  await placeMedium(db, who, 1, 'SKP-0117');
  await startSitting(db, who, 1, { unattended: false });
  await until('the question', async () => (await station(1)).sitting?.state === 'asks');
  await removeMedium(db, who, 1);
  await placeMedium(db, who, 1, 'SKP-0124');
  await expect(startSitting(db, who, 1)).rejects.toThrow('A medium that sheds was read');
  await removeMedium(db, who, 1);
  await cleanHead(db, who, 1);
  expect((await station(1)).cleaningDue).toBeNull();
});

test('a test that waits for its disk is given up, and the station is free', async () => {
  const { db } = suite.connection;
  await expect(endSelfTest(db, who, 2)).rejects.toThrow('is not being tested');
  await placeMedium(db, who, 2, 'REF-0001');
  await byHand((client) => client.hand({ op: 'hand-remove', drive: 'B' }));
  await startSelfTest(db, who, 2);
  await until('it to wait', async () => (await station(2)).test?.state === 'held');
  await expect(removeMedium(db, who, 2)).rejects.toThrow('is being tested');
  await endSelfTest(db, who, 2);
  await removeMedium(db, who, 2);
  const [test] = await db.select().from(selfTests).orderBy(desc(selfTests.id)).limit(1);
  const ofTest = and(eq(jobs.kind, 'self-test'), eq(jobs.subject, test!.id));
  await until('its job to end', async () => {
    const [job] = await db.select().from(jobs).where(ofTest);
    return job!.state === 'done';
  });
  expect((await db.select().from(selfTests).where(eq(selfTests.id, test!.id)))[0]).toMatchObject({
    state: 'failed',
    now: { code: 'stations.givenUpByHand' },
  });
});

test('a test of a drive that the bench has no more ends with a sentence', async () => {
  const { db } = suite.connection;
  await placeMedium(db, who, 2, 'REF-0001');
  await db.update(stations).set({ drive: 'Q' }).where(eq(stations.id, 2));
  await startSelfTest(db, who, 2);
  await until('its end', async () => (await station(2)).test?.state === 'done');
  expect((await station(2)).test!.result).toMatchObject({
    passed: false,
    findings: ['The bench has no drive Q any more.'],
  });
  await db.update(stations).set({ drive: 'B' }).where(eq(stations.id, 2));
  await removeMedium(db, who, 2);
});

test('a bench that was started with another token says so', async () => {
  process.env.SPINDLE_BENCH_TOKEN = 'of another run';
  readConfigAnew();
  await expect(syncStations(suite.connection.db)).rejects.toMatchObject({
    status: 503,
    code: 'stations.theBenchWantsAnother',
  });
  process.env.SPINDLE_BENCH_TOKEN = suite.application.bench.token;
  readConfigAnew();
  await syncStations(suite.connection.db);
});

test('a stack that is refused leaves nothing in the register', async () => {
  const { db } = suite.connection;
  const pattern = { first: 'STK-0001', count: 3, title: 'Disk {n}', from: 1, lot: '', lender: '' };
  await db
    .insert(stacks)
    .values({ stationId: 2, codes: ['SKP-0128'], awaits: 'in', startedBy: who, endedAt: null });
  await expect(startStack(db, who, 2, { pattern })).rejects.toThrow('A stack is being read');
  expect(await db.select().from(media).where(like(media.code, 'STK-%'))).toEqual([]);
  await db.update(stacks).set({ endedAt: new Date() });
});

test('a stack that can not go on says why, and goes on by itself when it can', async () => {
  const { db } = suite.connection;
  await startStack(db, who, 2, { codes: ['SKP-0128'] });
  await correctMedium(db, who, 'SKP-0128', MediumCorrection.parse({ treatFirst: true }));
  await byHand((client) => client.hand({ op: 'hand-insert', drive: 'B', label: 'SKP-0128' }));
  await until(
    'the reason',
    async () => (await station(2)).stack?.trouble?.includes('not to be read before treatment'),
    20,
  );
  expect((await station(2)).medium).toBeNull();
  await correctMedium(db, who, 'SKP-0128', MediumCorrection.parse({ treatFirst: false }));
  await until('it to begin', async () => (await station(2)).sitting !== null);
  await until('its end', async () => (await station(2)).sitting === null);
  expect((await station(2)).stack).toBeNull();
  await removeMedium(db, who, 2);
});

test('what a drive told is counted as readings, like flux', async () => {
  const { db } = suite.connection;
  await placeMedium(db, who, 6, 'SKP-0124', { scanned: true });
  expect((await station(6)).confirmedAt).not.toBeNull();
  await expect(takeScan(db, who, 'SKP-0128', 6)).rejects.toThrow('Station 6 should hold SKP-0124');
  const id = await startSitting(db, who, 6);
  await until('its end', async () => (await sittingView(db, id)).state === 'done');
  const { readings } = await sittingView(db, id);
  expect(readings).toBeGreaterThanOrEqual(160);
  expect((await sittingsOfMedium(db, await mediumId('SKP-0124')))[0]).toMatchObject({
    id,
    readings,
    captureBlob: null,
  });
  await removeMedium(db, who, 6);
});
