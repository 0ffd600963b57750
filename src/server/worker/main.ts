/** The worker: a process of its own that does what takes long. Any number of them share one database. */
import { connectDatabase } from '../db/database';
import { listenForJobs } from '../jobs/queue';
import { JobRunner } from '../jobs/runner';
import { runReturn } from './return-job';
import { runSitting } from './sitting-job';

const connection = connectDatabase(undefined, 12);
const runner = new JobRunner(connection, { sitting: runSitting, return: runReturn }, (text) => console.error(`worker: ${text}`));
const stopListening = await listenForJobs(() => void runner.look());
runner.start();
console.log('worker ready');
for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.on(signal, async () => {
    await runner.stop();
    await stopListening();
    await connection.close();
    process.exit(0);
  });
}
