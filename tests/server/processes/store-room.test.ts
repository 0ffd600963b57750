/**
 * A disk that fills up, and a database that goes away: refused and paused in words before anything
 * is lost, told to every page, and gone on with.
 */
import { tmpdir } from 'node:os';
import { and, eq, gt, inArray, notExists, sql } from 'drizzle-orm';
import { fairCopies } from '@/server/features/copies/tables';
import { cancelExtract, startExtract } from '@/server/features/extracts/extracts';
import { extracts } from '@/server/features/extracts/tables';
import { createUpload } from '@/server/features/intake/uploads';
import { ledger } from '@/server/features/ledger/tables';
import { said } from '@/core/said';
import type { JobContext } from '@/server/platform/jobs/engine';
import { giveUpSitting } from '@/server/features/sittings/sitting-job';
import { goOnWithRoom } from '@/server/features/sittings/go-on-with-room';
import { askSitting, startSitting } from '@/server/features/sittings/sittings';
import { sittings, trackReadings } from '@/server/features/sittings/tables';
import { placeMedium } from '@/server/features/stations/placing';
import { hasRoomFor, storeRoom } from '@/server/platform/blobs/store-room';
import { blobs } from '@/server/platform/blobs/tables';
import { readConfigAnew } from '@/server/platform/config';
import { isDiskFull } from '@/server/platform/db/disk-full';
import { connectDatabase } from '@/server/platform/db/database';
import { jobs } from '@/server/platform/jobs/tables';
import { announce, EventHub, STORE_AWAY } from '@/server/platform/events';
import { until } from '../../support/application';
import { serverSuite } from '../../support/server-suite';

const suite = serverSuite({});
const who = 1;

function keepFree(mib: number | null): void {
  process.env.SPINDLE_STORE = mib === null ? '' : tmpdir();
  process.env.SPINDLE_RESERVE_MIB = String(mib ?? 512);
  readConfigAnew();
}

beforeAll(() => {
  process.env.DATABASE_URL ??= suite.application.databaseUrl;
});
afterEach(() => keepFree(null));

const readingsOf = (id: number) =>
  suite.connection.db.$count(trackReadings, eq(trackReadings.sittingId, id));

/** What a worker leaves when it is killed would be taken up by that of another test. */
const untilNothingRuns = () =>
  until(
    'nothing to run',
    async () =>
      (await suite.connection.db.$count(jobs, inArray(jobs.state, ['waiting', 'running']))) === 0,
  );

const upload = (size: number) =>
  createUpload(suite.connection.db, who, size, { filename: 'letters.img' });

test('what there is no room for is refused before a byte of it comes', async () => {
  keepFree(1);
  expect(await storeRoom()).toMatchObject({ reserve: 2 ** 20 });
  await expect(upload(1000)).resolves.toMatch(/-/);
  await expect(upload(2 ** 41)).rejects.toMatchObject({ code: 'platform.noRoomFor', status: 507 });
  keepFree(2 ** 30);
  expect([await hasRoomFor(0), (await storeRoom()).isLow]).toEqual([false, true]);
  await expect(upload(1000)).rejects.toMatchObject({ code: 'platform.noRoomFor', status: 507 });
  keepFree(null);
  expect(await storeRoom()).toMatchObject({ free: null, isLow: false });
});

test('a full disk is known by what the database says of it', () => {
  const wrapped = new Error('Failed query', {
    cause: Object.assign(new Error('x'), { code: '53100' }),
  });
  expect([
    isDiskFull(wrapped),
    isDiskFull(new Error('could not extend')),
    isDiskFull(null),
  ]).toEqual([true, false, false]);
});

test('listeners are told that the database is away, and that it is back, and miss nothing after', async () => {
  const hub = new EventHub(() => suite.application.databaseUrl);
  const heard: string[] = [];
  await hub.subscribe((payload) => heard.push(payload));
  // What came while there was no connection yet, nobody heard: the first is told so, no later one.
  expect(heard.splice(0)).toEqual(['']);
  const later: string[] = [];
  const leave = await hub.subscribe((payload) => later.push(payload));
  const { db } = suite.connection;
  await announce(db, { kind: 'media' });
  await until('the event', () => heard.length === 1 && later.length === 1);
  leave();
  await db.execute(
    sql`select pg_terminate_backend(pid) from pg_stat_activity
        where datname = current_database() and query like 'listen%' or query = 'select 1'`,
  );
  await until('the way back', () => heard.at(-1) === '');
  expect(heard).toEqual([JSON.stringify({ kind: 'media' }), STORE_AWAY, '']);
  await announce(db, { kind: 'layouts' });
  await until('what comes then', () => heard.length === 4);
  await hub.close();
});

test('a page is answered while there is no database, is told, and told when it is there', async () => {
  let url = 'postgres://nobody@127.0.0.1:9/nothing';
  const hub = new EventHub(() => url);
  const heard: string[] = [];
  await hub.subscribe((payload) => heard.push(payload));
  expect(heard).toEqual([STORE_AWAY]);
  url = suite.application.databaseUrl;
  await until('the database', () => heard.length > 1);
  expect(heard).toEqual([STORE_AWAY, '']);
  await hub.close();
});

test('a sitting pauses while there is no room, and goes on by itself when there is', async () => {
  const { db } = suite.connection;
  const stateOf = async (id: number) =>
    (await db.select().from(sittings).where(eq(sittings.id, id)))[0]!;
  await placeMedium(db, who, 1, 'SKP-0124');
  const id = await startSitting(db, who, 1);
  keepFree(2 ** 30);
  const worker = suite.application.startWorker();
  await until('the pause', async () => (await stateOf(id)).state === 'paused');
  expect((await stateOf(id)).now).toMatchObject({ code: 'platform.pausedForRoom' });
  await worker.kill();
  keepFree(null);
  const another = suite.application.startWorker();
  await until('it to read', async () => (await readingsOf(id)) > 3);
  const told = await db.select({ what: ledger.what }).from(ledger).where(eq(ledger.sittingId, id));
  expect(told.map(({ what }) => what.code)).toContain('sittings.goneOnWithRoom');
  // What a person paused stays so.
  await askSitting(db, who, id, 'pause');
  await until('the pause by hand', async () => (await stateOf(id)).state === 'paused');
  await goOnWithRoom(db);
  expect((await stateOf(id)).state).toBe('paused');
  await askSitting(db, who, id, 'stop');
  await until('its end', async () => (await stateOf(id)).state === 'done');
  await untilNothingRuns();
  await another.kill();
});

test('a sitting that the full disk itself stopped goes on as well', async () => {
  const { db } = suite.connection;
  await placeMedium(db, who, 3, 'SKP-0106');
  const sittingId = await startSitting(db, who, 3);
  const commit: JobContext['commit'] = (work) => db.transaction(work);
  const context = { db, commit, payload: { sittingId } } as JobContext<'sitting'>;
  const stateOf = async () =>
    (await db.select().from(sittings).where(eq(sittings.id, sittingId)))[0]!.state;
  await giveUpSitting(context, said('platform.theDiskIsFull'));
  expect(await stateOf()).toBe('paused');
  await goOnWithRoom(db);
  expect(await stateOf()).toBe('waiting');
  await askSitting(db, who, sittingId, 'stop');
  // Nothing of it is left to the workers of other tests.
  const worker = suite.application.startWorker();
  await until('its end', async () => (await stateOf()) === 'done');
  await untilNothingRuns();
  await worker.kill();
});

test('an extract that the full disk stopped begins anew, and nothing of the first is left', async () => {
  const { db } = suite.connection;
  const owner = connectDatabase(suite.application.ownerUrl, { max: 1 });
  const ofSittings = db.select({ id: sittings.captureBlob }).from(sittings);
  const isOther = notExists(ofSittings.where(eq(sittings.captureBlob, blobs.id)));
  const begun = new Date();
  const growing = () =>
    db
      .select()
      .from(blobs)
      .where(and(eq(blobs.state, 'growing'), gt(blobs.createdAt, begun), isOther));
  await owner.db.execute(sql`
    create function no_room() returns trigger language plpgsql as
    $$ begin raise exception 'no space left' using errcode = '53100'; end $$`);
  await owner.db.execute(sql`
    create trigger full_disk before insert on blob_chunks for each row execute function no_room()`);
  const worker = suite.application.startWorker();
  const [copy] = await db.select().from(fairCopies).limit(1);
  const { id } = await startExtract(db, who, { copies: [copy!.id], what: 'images' });
  const row = async () => (await db.select().from(extracts).where(eq(extracts.id, id)))[0]!;
  const tries = async () =>
    (
      await db
        .select()
        .from(jobs)
        .where(and(eq(jobs.kind, 'extract'), eq(jobs.subject, id)))
    ).map(({ epoch }) => epoch)[0]!;
  try {
    await until('a second try', async () => (await tries()) > 2);
    expect((await row()).endedAt).toBeNull();
    expect((await growing()).length).toBeLessThan(2);
  } finally {
    await owner.db.execute(sql`drop function no_room cascade`);
    await owner.close();
  }
  await until('the ZIP', async () => (await row()).state === 'done');
  expect(await growing()).toHaveLength(0);
  await worker.kill();
});

test('an extract is refused as well', async () => {
  keepFree(2 ** 30);
  await expect(
    startExtract(suite.connection.db, who, { copies: [1], what: 'files' }),
  ).rejects.toMatchObject({ code: 'platform.noRoomFor' });
});

test('an extract of more than there is room for is refused before it begins', async () => {
  const { db } = suite.connection;
  const [{ id, imageBlob }] = (await db.select().from(fairCopies).limit(1)) as [
    typeof fairCopies.$inferSelect,
  ];
  const [{ size }] = (await db.select().from(blobs).where(eq(blobs.id, imageBlob))) as [
    typeof blobs.$inferSelect,
  ];
  const asked = { copies: [id], what: 'images' as const };
  keepFree(1);
  await db
    .update(blobs)
    .set({ size: 2 ** 50 })
    .where(eq(blobs.id, imageBlob));
  await expect(startExtract(db, who, asked)).rejects.toMatchObject({
    code: 'platform.noRoomFor',
  });
  await db.update(blobs).set({ size }).where(eq(blobs.id, imageBlob));
  const begun = await startExtract(db, who, asked);
  await cancelExtract(db, begun.id);
  const worker = suite.application.startWorker();
  await untilNothingRuns();
  await worker.kill();
});
