/**
 * What every server suite begins and ends with: a filled database of its own, the real bench, a
 * connection, and a worker where it is asked for.
 */
import { connectDatabase, type Connection } from '@/server/platform/db/database';
import { closeQueue } from '@/server/platform/jobs/queue';
import { Application, type Program } from './application';

export interface ServerSuite {
  application: Application;
  bench: Program;
  connection: Connection;
  /** Only where the suite asked for one. */
  worker: Program;
}

/**
 * Filled before the first test of the file, and ended after its last. `speed` 0 takes no time at
 * the bench.
 */
export function serverSuite({
  speed = 0,
  worker = false,
}: { speed?: number; worker?: boolean } = {}): ServerSuite {
  const suite = {} as ServerSuite;
  beforeAll(async () => {
    suite.application = await Application.prepare();
    suite.bench = await suite.application.startBench(speed);
    await suite.application.syncStations();
    suite.connection = connectDatabase(suite.application.databaseUrl, { max: 5 });
    if (worker) suite.worker = suite.application.startWorker();
  });
  afterAll(async () => {
    // Any of these is missing when the suite failed before it had it.
    (globalThis as { spindleWorkers?: { close(): void } }).spindleWorkers?.close();
    await closeQueue();
    await suite.connection?.close();
    await suite.application?.stop();
  });
  return suite;
}
