/** The one way to ask for long work, within the transaction that makes it wanted. */
import { and, eq, inArray } from 'drizzle-orm';
import type { Executor } from '../db/database';
import { JOB_RULES, subjectOf, type JobKind, type JobPayload } from './kinds';
import { wakeWorkers } from './queue';
import { jobs } from './tables';

interface EnqueueOptions {
  /** What it must have for itself while it runs, `station:3`. */
  resource?: string;
  askedBy?: number | null;
}

export const stationResource = (stationId: number) => `station:${stationId}`;

/** The job exists, and workers hear of it, if and only if the transaction commits. */
export async function enqueue<K extends JobKind>(
  tx: Executor,
  kind: K,
  asked: JobPayload<K>,
  { resource, askedBy }: EnqueueOptions = {},
): Promise<void> {
  const payload = JOB_RULES[kind].payload.parse(asked) as JobPayload<K>;
  await tx
    .insert(jobs)
    .values({ kind, payload, subject: subjectOf(payload), resource, askedBy, state: 'waiting' });
  await wakeWorkers(tx);
}

const about = <K extends JobKind>(kind: K, payload: JobPayload<K>) =>
  and(eq(jobs.kind, kind), eq(jobs.subject, subjectOf(payload)));

/** Lets a job that rests be taken up again. */
export async function wakeJob<K extends JobKind>(
  tx: Executor,
  kind: K,
  payload: JobPayload<K>,
): Promise<void> {
  await tx
    .update(jobs)
    .set({ state: 'waiting', endedAt: null, crashes: 0 })
    .where(about(kind, payload));
  await wakeWorkers(tx);
}

/** Ends a job that nobody is to take up any more. */
export async function endJob<K extends JobKind>(
  tx: Executor,
  kind: K,
  payload: JobPayload<K>,
): Promise<void> {
  await tx
    .update(jobs)
    .set({ state: 'done', endedAt: new Date() })
    .where(and(about(kind, payload), inArray(jobs.state, ['waiting', 'running'])));
}
