/**
 * Wakes workers through a queue on PostgreSQL. The row in `jobs` is the only truth about a job; a
 * message here only
 * says that one may be waiting. The library is kept to this file.
 */
import PgBoss from 'pg-boss';
import type { Executor } from '../db/database';
import { databaseUrl } from '../db/database';
import { rawQuery } from '../db/raw-client';

const QUEUE = 'job-waits';

/**
 * Two processes that make it at the same moment may lock one another out: PostgreSQL ends one of
 * them, which tries again.
 */
const DEADLOCK = '40P01';
const MAX_TRIES = 5;

async function makeQueue(boss: PgBoss): Promise<void> {
  for (let tries = 1; ; tries++) {
    try {
      return await boss.createQueue(QUEUE);
    } catch (error) {
      if ((error as { code?: string }).code !== DEADLOCK || tries >= MAX_TRIES) throw error;
    }
  }
}

let sender: Promise<PgBoss> | null = null;

function startSender(): Promise<PgBoss> {
  sender ??= (async () => {
    const boss = new PgBoss({
      connectionString: databaseUrl(),
      max: 2,
      supervise: false,
      schedule: false,
    });
    boss.on('error', () => undefined);
    await boss.start();
    await makeQueue(boss);
    return boss;
  })().catch((error) => {
    sender = null;
    throw error;
  });
  return sender;
}

/**
 * Sends a wake-up within the caller's transaction: it exists if and only if the transaction
 * commits.
 */
export async function wakeWorkers(tx: Executor): Promise<void> {
  const boss = await startSender();
  await boss.send(QUEUE, {}, { db: { executeSql: (text, values) => rawQuery(tx, text, values) } });
}

/** Calls `onWake` whenever a job may be waiting; gives the function that stops it. */
export async function listenForJobs(onWake: () => void): Promise<() => Promise<void>> {
  const boss = new PgBoss({ connectionString: databaseUrl(), max: 2 });
  boss.on('error', () => undefined);
  await boss.start();
  await makeQueue(boss);
  await boss.work(QUEUE, { pollingIntervalSeconds: 0.5 }, async () => onWake());
  return () => boss.stop({ graceful: false, wait: false });
}

/** Closes this process's sender, for tests and short-lived commands. */
export async function closeQueue(): Promise<void> {
  const boss = await sender;
  sender = null;
  await boss?.stop({ graceful: false, wait: false });
}
