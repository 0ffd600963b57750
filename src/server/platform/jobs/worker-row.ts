/**
 * A worker's own row: that it lives is what its heartbeat says. Leases, not session locks, so that
 * a connection pooler may stand between, and what a vanished host held is free again soon.
 */
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { hostname } from 'node:os';
import { and, eq, lt, ne, sql } from 'drizzle-orm';
import type { Database } from '../db/database';
import { workers } from './tables';

export const HEARTBEAT_MS = 3_000;
/** A worker that was not heard of for this long has lost its jobs. */
export const SILENT_SECONDS = 15;
/** Rows of workers long gone are of no use to anybody. */
const FORGOTTEN_SECONDS = 86_400;

/** Processes of this boot of this machine, and of no other, can be looked for by their numbers. */
function thisHost(): string {
  try {
    return `${hostname()} ${readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim()}`;
  } catch {
    return hostname();
  }
}

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

export async function registerWorker(db: Database): Promise<string> {
  const id = randomUUID();
  await db.insert(workers).values({ id, host: thisHost(), pid: process.pid });
  return id;
}

/** Whether the worker is still known; one that was given up must begin anew. */
export async function beat(db: Database, id: string): Promise<boolean> {
  const rows = await db
    .update(workers)
    .set({ heartbeatAt: sql`now()` })
    .where(eq(workers.id, id))
    .returning({ id: workers.id });
  return rows.length > 0;
}

export async function unregisterWorker(db: Database, id: string): Promise<void> {
  await db.delete(workers).where(eq(workers.id, id));
}

/** Workers of this machine whose process is gone give up at once what they held. */
export async function buryDeadNeighbours(db: Database, own: string): Promise<void> {
  const neighbours = await db
    .select()
    .from(workers)
    .where(and(eq(workers.host, thisHost()), ne(workers.id, own)));
  for (const { id, pid } of neighbours)
    if (pid !== process.pid && !isAlive(pid)) await unregisterWorker(db, id);
  await db
    .delete(workers)
    .where(lt(workers.heartbeatAt, sql`now() - make_interval(secs => ${FORGOTTEN_SECONDS})`));
}
