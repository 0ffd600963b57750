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

/** Makes what the library needs, or carries it over: the owner's, with the migrations. */
export async function installQueue(): Promise<void> {
  const boss = new PgBoss({ connectionString: databaseUrl(), max: 1, supervise: false });
  boss.on('error', () => undefined);
  await boss.start();
  await boss.createQueue(QUEUE);
  await boss.stop({ graceful: false, wait: false });
}

/** The application's role makes and carries over nothing. */
const OPTIONS = { max: 2, migrate: false, schedule: false };

let sender: Promise<PgBoss> | null = null;

function startSender(): Promise<PgBoss> {
  sender ??= (async () => {
    const boss = new PgBoss({ ...OPTIONS, connectionString: databaseUrl(), supervise: false });
    boss.on('error', () => undefined);
    await boss.start();
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
  const boss = new PgBoss({ ...OPTIONS, connectionString: databaseUrl() });
  boss.on('error', () => undefined);
  await boss.start();
  await boss.work(QUEUE, { pollingIntervalSeconds: 0.5 }, async () => onWake());
  return () => boss.stop({ graceful: false, wait: false });
}

/** Closes this process's sender, for tests and short-lived commands. */
export async function closeQueue(): Promise<void> {
  const boss = await sender;
  sender = null;
  await boss?.stop({ graceful: false, wait: false });
}
