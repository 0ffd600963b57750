/**
 * The worker: a process of its own that does what takes long. Any number of them share one
 * database.
 */
import { connectDatabase } from '../db/database';
import { listenForJobs } from '../jobs/queue';
import { JobRunner } from '../jobs/runner';
import { watchStacks } from '../services/stacks';
import { runIntake } from './intake-job';
import { runExtract } from './extract-job';
import { runReturn } from './return-job';
import { runScan } from './scan-job';
import { runSelfTest } from './self-test-job';
import { runTransfer } from './transfer-job';
import { runSitting } from './sitting-job';

const connection = connectDatabase(undefined, 12);
const runner = new JobRunner(
  connection,
  {
    sitting: runSitting,
    return: runReturn,
    'self-test': runSelfTest,
    scan: runScan,
    extract: runExtract,
    intake: runIntake,
    transfer: runTransfer,
  },
  (text) => console.error(`worker: ${text}`),
);
const stopListening = await listenForJobs(() => void runner.look());
runner.start();
console.log('worker ready');
const WATCH_MS = 500;
let watching = Promise.resolve();
// A bench that is away, or a database that is being restarted, is tried again with the next look.
const watch = setInterval(() => {
  watching = watching.then(() => watchStacks(connection.db)).catch(() => undefined);
}, WATCH_MS);
for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.on(signal, async () => {
    clearInterval(watch);
    await watching;
    await runner.stop();
    await stopListening();
    await connection.close();
    process.exit(0);
  });
}
