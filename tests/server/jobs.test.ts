/** Jobs of every kind through real engines: all of them end, none twice, whoever dies. */
import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { eq, sql } from 'drizzle-orm';
import { connectDatabase, type Connection } from '@/server/platform/db/database';
import { endJob, enqueue, stationResource, wakeJob } from '@/server/platform/jobs/enqueue';
import { JobEngine, type JobContext, type JobOutcome } from '@/server/platform/jobs/engine';
import { JOB_KINDS, JOB_RULES, type JobKind } from '@/server/platform/jobs/kinds';
import { closeQueue } from '@/server/platform/jobs/queue';
import { jobs, workers } from '@/server/platform/jobs/tables';
import { takeJob } from '@/server/platform/jobs/take';
import { said, type Said } from '@/core/said';
import { UserError } from '@/server/platform/errors';
import { Application, until } from '../support/application';

type Work = (context: JobContext) => Promise<JobOutcome>;

const POOL = 20;
let application: Application;
const connections: Connection[] = [];
const engines: JobEngine[] = [];
/** Subjects of jobs that were given up, and why. */
let givenUp: [number, string][] = [];
const quiet = { warn: () => undefined, error: () => undefined };
const db = () => connections[0]!.db;

type GiveUp = (context: JobContext, why: Said) => Promise<void>;

const noteGivenUp: GiveUp = async ({ payload }, why) => {
  givenUp.push([Object.values(payload)[0]!, why.code]);
};

function startEngine(work: Work, giveUp = noteGivenUp): JobEngine {
  const connection = connectDatabase(application.databaseUrl, { max: POOL });
  connections.push(connection);
  const handlers = Object.fromEntries(JOB_KINDS.map((kind) => [kind, { run: work, giveUp }]));
  const engine = new JobEngine(connection, handlers as never, quiet);
  engines.push(engine);
  engine.start();
  return engine;
}

/** One number fits every kind. */
const payloadOf = (kind: JobKind, subject: number) =>
  Object.fromEntries(
    Object.keys((JOB_RULES[kind].payload as { shape: object }).shape).map((key) => [key, subject]),
  );

const ask = (kind: JobKind, subject: number, resource?: string) =>
  enqueue(db(), kind, payloadOf(kind, subject) as never, { resource });

/** A look whose connection is cut with all the others is looked again. */
const inState = (state: string) =>
  db()
    .select()
    .from(jobs)
    .where(eq(jobs.state, state as never))
    .catch(() => []);

const allIn = (state: string, count: number) =>
  until(`${count} jobs to be ${state}`, async () => (await inState(state)).length === count);

beforeAll(async () => {
  application = await Application.prepare({ isEmpty: true });
});
beforeEach(async () => {
  connections.push(connectDatabase(application.databaseUrl, { max: 5 }));
  await db().delete(jobs);
  await db().delete(workers);
  givenUp = [];
});
afterEach(async () => {
  await Promise.all(engines.splice(0).map((engine) => engine.stop()));
  await Promise.all(connections.splice(0).map((connection) => connection.close()));
});
afterAll(async () => {
  await closeQueue();
  await application?.stop();
});

test.each([1, 4])('two hundred jobs of every kind all end once with %i workers', async (count) => {
  const done = new Map<string, number>();
  for (let i = 1; i <= 200; i++) await ask(JOB_KINDS[i % JOB_KINDS.length]!, i);
  for (let i = 0; i < count; i++)
    startEngine(async ({ jobId, commit, db: own }) => {
      // One connection held, and a second wanted meanwhile.
      await commit(async (tx) => {
        await tx.execute(sql`select pg_sleep(0.005)`);
        await own.execute(sql`select 1`);
      });
      done.set(jobId, (done.get(jobId) ?? 0) + 1);
      return 'done';
    });
  await allIn('done', 200);
  expect([done.size, Math.max(...done.values())]).toEqual([200, 1]);
});

test('a job goes on although every connection was cut under it', async () => {
  await ask('sitting', 1, stationResource(1));
  let tries = 0;
  startEngine(async ({ commit }) => {
    if (++tries === 1) {
      await connections[0]!.db
        .execute(
          sql`select pg_terminate_backend(pid) from pg_stat_activity
            where datname = current_database() and pid <> pg_backend_pid()`,
        )
        .catch(() => undefined);
      throw Object.assign(new Error('terminating connection'), { code: '57P01' });
    }
    await commit(async () => undefined);
    return 'done';
  });
  await allIn('done', 1);
  expect(tries).toBe(2);
});

test('so many of a kind at once, and no more', async () => {
  let running = 0;
  let most = 0;
  for (let i = 1; i <= 10; i++) await ask('extract', i);
  startEngine(async () => {
    most = Math.max(most, ++running);
    await new Promise((resolve) => setTimeout(resolve, 20));
    running--;
    return 'done';
  });
  await allIn('done', 10);
  expect(most).toBe(JOB_RULES.extract.slots);
});

test('each job is worked on once, however many workers look for it', async () => {
  const worked: string[] = [];
  for (let i = 1; i <= 200; i++) await ask('extract', i);
  const work: Work = async ({ jobId }) => {
    worked.push(jobId);
    return 'done';
  };
  for (let i = 0; i < 6; i++) startEngine(work);
  await allIn('done', 200);
  expect([worked.length, new Set(worked).size]).toEqual([200, 200]);
});

test('a station is used by one job at a time, by any of two workers', async () => {
  let running = 0;
  let most = 0;
  for (let i = 1; i <= 8; i++) await ask(i % 2 ? 'sitting' : 'writeback', i, stationResource(3));
  const work: Work = async () => {
    most = Math.max(most, ++running);
    await new Promise((resolve) => setTimeout(resolve, 10));
    running--;
    return 'done';
  };
  startEngine(work);
  startEngine(work);
  await allIn('done', 8);
  expect(most).toBe(1);
});

/** A job that a worker of this id seems to be running. */
async function runningUnder(worker: Partial<typeof workers.$inferInsert>): Promise<string> {
  await ask('sitting', 7, stationResource(1));
  const id = randomUUID();
  await db()
    .insert(workers)
    .values({ id, host: 'elsewhere', pid: 1, ...worker });
  const [job] = await db().update(jobs).set({ state: 'running', workerId: id }).returning();
  return job!.id;
}

test('a worker that fell silent loses its job; one that was just heard of keeps it', async () => {
  const job = await runningUnder({ heartbeatAt: new Date() });
  const taken: string[] = [];
  const engine = startEngine(async ({ jobId }) => {
    taken.push(jobId);
    return 'done';
  });
  await engine.look();
  expect(taken).toEqual([]);
  await db()
    .update(workers)
    .set({ heartbeatAt: sql`now() - interval '16 seconds'` });
  await allIn('done', 1);
  expect(taken).toEqual([job]);
});

test('what a dead process of this machine held is free at once', async () => {
  // A process that was, and is no more.
  const { pid } = spawnSync(process.execPath, ['-e', '']);
  const own = startEngine(async () => 'done');
  await until(
    'the worker to be known',
    async () => (await db().select().from(workers)).length === 1,
  );
  const [known] = await db().select().from(workers);
  await runningUnder({ host: known!.host, pid, heartbeatAt: new Date() });
  await own.look();
  await allIn('done', 1);
});

test('a worker whose job was taken by another commits nothing more', async () => {
  await ask('scan', 1);
  let refused: unknown = null;
  let tries = 0;
  startEngine(async ({ jobId, commit, db: own }) => {
    if (++tries > 1) return 'done';
    await own
      .update(jobs)
      .set({ epoch: sql`${jobs.epoch} + 1` })
      .where(eq(jobs.id, jobId));
    refused = await commit(async () => 'committed').catch((error: unknown) => error);
    throw refused;
  });
  await until('the refusal', () => refused !== null);
  expect(refused).toBeInstanceOf(Error);
  expect((await db().select().from(jobs))[0]).toMatchObject({ state: 'running', error: null });
});

test('a job that is woken while it comes to rest is taken up again', async () => {
  await ask('sitting', 1);
  let tries = 0;
  startEngine(async ({ db: own }) => {
    if (++tries === 1) await own.transaction((tx) => wakeJob(tx, 'sitting', { sittingId: 1 }));
    return 'done';
  });
  await until('the second try', () => tries === 2);
  await allIn('done', 1);
});

test('one that fails says why, and one that is ended is not taken', async () => {
  await ask('scan', 1);
  await ask('extract', 2);
  await endJob(db(), 'extract', { extractId: 2 });
  startEngine(async ({ payload }) => {
    if ('operatorId' in payload) throw new Error('no such thing');
    throw new Error('taken although it was ended');
  });
  await allIn('failed', 1);
  const rows = await db().select().from(jobs);
  expect(rows.map(({ kind, state, error }) => [kind, state, error]).sort()).toEqual([
    ['extract', 'done', null],
    ['scan', 'failed', 'no such thing'],
  ]);
  expect(rows.every(({ endedAt }) => endedAt !== null)).toBe(true);
});

test('what fails takes along what hangs on it, once, and what was refused says so itself', async () => {
  await ask('extract', 1);
  await ask('settle', 2);
  startEngine(async ({ payload }) => {
    if ('extractId' in payload) throw new Error('no such thing');
    throw new UserError(said('platform.isNotToBe', { code: 'TST-1' }));
  });
  await allIn('failed', 2);
  expect(givenUp.sort()).toEqual([
    [1, 'platform.itBrokeOff'],
    [2, 'platform.isNotToBe'],
  ]);
});

const diskFull = () => Object.assign(new Error('no space left'), { code: '53100' });

test('what a full disk stopped begins anew once there is room, and is not given up', async () => {
  await ask('extract', 1);
  let runs = 0;
  startEngine(async () => {
    if (++runs < 3) throw diskFull();
    return 'done';
  });
  await allIn('done', 1);
  expect([runs, givenUp]).toEqual([3, []]);
});

test('what can not be given up while the disk is full is taken up again', async () => {
  await ask('sitting', 1);
  let runs = 0;
  startEngine(
    async () => {
      if (++runs < 3) throw diskFull();
      return 'done';
    },
    async () => {
      throw diskFull();
    },
  );
  await allIn('done', 1);
  expect(runs).toBe(3);
});

test('a job that workers died of is set aside with what hangs on it, and taken again when asked for', async () => {
  let runs = 0;
  const dying = { heartbeatAt: new Date(Date.now() - 60_000) };
  const job = await runningUnder(dying);
  const { mostCrashes } = JOB_RULES.sitting;
  await db()
    .update(jobs)
    .set({ crashes: mostCrashes - 2 })
    .where(eq(jobs.id, job));
  startEngine(async () => (++runs, 'done'));
  await allIn('done', 1);
  expect([runs, givenUp]).toEqual([1, []]);
  await engines.splice(0)[0]!.stop();
  await db().delete(jobs);
  const again = await runningUnder(dying);
  await db()
    .update(jobs)
    .set({ crashes: mostCrashes - 1 })
    .where(eq(jobs.id, again));
  startEngine(async () => (++runs, 'done'));
  await allIn('failed', 1);
  expect([runs, givenUp.map(([, code]) => code)]).toEqual([1, ['platform.theWorkerDied']]);
  const [{ payload } = { payload: {} }] = await db().select().from(jobs);
  await db().transaction((tx) => wakeJob(tx, 'sitting', payload as never));
  await allIn('done', 1);
  expect(runs).toBe(2);
});

test('what a worker computes on when it is asked to stop waits for another, and counts as no death', async () => {
  await ask('settle', 5);
  let refused: unknown = null;
  let goOn = () => undefined as void;
  const gate = new Promise<void>((resolve) => (goOn = resolve));
  const engine = startEngine(async ({ commit }) => {
    await gate;
    refused = await commit(async () => 'committed').catch((error: unknown) => error);
    return 'done';
  });
  await until('the job at work', async () => (await inState('running')).length === 1);
  await engines.splice(engines.indexOf(engine), 1)[0]!.stop();
  expect(await inState('waiting')).toMatchObject([{ crashes: 0, workerId: null }]);
  goOn();
  await until('what it still wanted', () => refused !== null);
  expect(refused).toBeInstanceOf(Error);
  startEngine(async () => 'done');
  await allIn('done', 1);
  expect((await inState('done'))[0]!.crashes).toBe(0);
});

test('what a job is asked with is checked before it is stored', async () => {
  await expect(enqueue(db(), 'scan', { operatorId: 0 })).rejects.toThrow();
  await expect(enqueue(db(), 'scan', { other: 1 } as never)).rejects.toThrow();
  expect(await db().select().from(jobs)).toEqual([]);
});

test('who asks for much does not make another wait, and neither waits without end', async () => {
  const uploads = (from: number, to: number, askedBy: number) =>
    Promise.all(
      Array.from({ length: to - from + 1 }, (_, i) =>
        enqueue(db(), 'intake', { uploadNumber: from + i }, { askedBy }),
      ),
    );
  const many = 30;
  await uploads(1, many, 1);
  await uploads(101, 102, 2);
  const workerId = randomUUID();
  await db().insert(workers).values({ id: workerId, host: 'here', pid: 1 });
  const taken: { id: string; number: number }[] = [];
  const take = async () => {
    const job = (await takeJob(
      db(),
      workerId,
      ['intake'],
      taken.map(({ id }) => id),
    ))!;
    taken.push({ id: job.id, number: (job.payload as { uploadNumber: number }).uploadNumber });
    return taken.at(-1)!.number > 100 ? 2 : 1;
  };
  expect([await take(), await take(), await take(), await take()]).toEqual([1, 2, 1, 2]);
  for (let left = many - 2; left > 0; left--) expect(await take()).toBe(1);
  expect(
    await takeJob(
      db(),
      workerId,
      ['intake'],
      taken.map(({ id }) => id),
    ),
  ).toBeNull();
});
