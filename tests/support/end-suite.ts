/** Ends what a server suite opened in its own process: decode threads, the queue, the connection; then the application. */
import type { Connection } from '@/server/db/database';
import { closeQueue } from '@/server/jobs/queue';
import type { Application } from './application';

/** Either is missing when the suite failed before it had it. */
export async function endSuite(application?: Application, connection?: Connection): Promise<void> {
  (globalThis as { spindleWorkers?: { close(): void } }).spindleWorkers?.close();
  await closeQueue();
  await connection?.close();
  await application?.stop();
}
