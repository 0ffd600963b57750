/**
 * Runs jobs: takes rows that wait, or that run and are held by nobody, under session advisory
 * locks for the job and
 * its station. A lock is free at once when its process dies; the epoch on the row fences a worker
 * thought dead.
 */
import { and, asc, eq, inArray, sql } from 'drizzle-orm';
import type pg from 'pg';
import { isConnectionLost } from '../db/connection-lost';
import type { Connection, Database, Executor } from '../db/database';
import { jobs } from '../db/schema';
import type { JobKind } from '../states';

/** The job was taken by another worker: stop at once and commit nothing more. */
class Fenced extends Error {}

/**
 * What stopped a job says nothing of its work: another worker has it, this one is being stopped, or
 * the database went for a moment. The row stays, and a sweep takes it up again.
 */
export const isTakenUpAgain = (error: unknown, signal: AbortSignal): boolean =>
  error instanceof Fenced || signal.aborted || isConnectionLost(error);

export interface JobContext {
  db: Database;
  jobId: string;
  subject: number;
  signal: AbortSignal;
  /** A transaction that commits only while this worker is the job's. */
  commit<T>(work: (tx: Executor) => Promise<T>): Promise<T>;
}

/** `again` leaves the row waiting: it goes on when it is woken. */
export type JobOutcome = 'done' | 'again';
type JobHandler = (context: JobContext) => Promise<JobOutcome>;

const SWEEP_MS = 1000;

export class JobRunner {
  private readonly running = new Map<string, Promise<void>>();
  private readonly abort = new AbortController();
  private timer: NodeJS.Timeout | null = null;
  private looking = false;

  constructor(
    private readonly connection: Connection,
    private readonly handlers: Record<JobKind, JobHandler>,
    private readonly log: (text: string) => void,
  ) {}

  start(): void {
    this.timer = setInterval(() => void this.look(), SWEEP_MS);
    void this.look();
  }

  /** Stops taking jobs and waits until those at work have put down what they hold. */
  async stop(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    this.abort.abort();
    await Promise.allSettled(this.running.values());
  }

  /** Takes every job that can be taken. */
  async look(): Promise<void> {
    if (this.looking || this.abort.signal.aborted) return;
    this.looking = true;
    try {
      const open = await this.connection.db
        .select()
        .from(jobs)
        .where(inArray(jobs.state, ['waiting', 'running']))
        .orderBy(asc(jobs.createdAt));
      for (const job of open) if (!this.running.has(job.id)) await this.take(job);
    } catch (error) {
      this.log(`looking for jobs: ${(error as Error).message}`);
    } finally {
      this.looking = false;
    }
  }

  private async take(job: typeof jobs.$inferSelect): Promise<void> {
    // The locks belong to a connection of their own, held as long as the job runs.
    const client = await this.connection.pool.connect();
    const release = (broken = false) => client.release(broken);
    try {
      const { rows } = await client.query<{ held: boolean }>(
        'select pg_try_advisory_lock(hashtextextended($1, 0)) as held',
        [`job:${job.id}`],
      );
      if (!rows[0]?.held) return release();
      if (job.stationId !== null) {
        const station = await client.query<{ held: boolean }>(
          'select pg_try_advisory_lock(hashtextextended($1, 0)) as held',
          [`station:${job.stationId}`],
        );
        if (!station.rows[0]?.held) {
          await client.query('select pg_advisory_unlock_all()');
          return release();
        }
      }
      const [mine] = await this.connection.db
        .update(jobs)
        .set({ state: 'running', epoch: sql`${jobs.epoch} + 1` })
        .where(and(eq(jobs.id, job.id), inArray(jobs.state, ['waiting', 'running'])))
        .returning();
      if (!mine) {
        await client.query('select pg_advisory_unlock_all()');
        return release();
      }
      this.running.set(
        job.id,
        this.run(mine, client).finally(() => this.running.delete(job.id)),
      );
    } catch (error) {
      release(true);
      throw error;
    }
  }

  private async run(job: typeof jobs.$inferSelect, client: pg.PoolClient): Promise<void> {
    const { db } = this.connection;
    const lost = new AbortController();
    const lose = () => lost.abort();
    client.on('error', lose);
    const signal = AbortSignal.any([this.abort.signal, lost.signal]);
    const commit: JobContext['commit'] = (work) =>
      db.transaction(async (tx) => {
        const [row] = await tx
          .select({ epoch: jobs.epoch })
          .from(jobs)
          .where(eq(jobs.id, job.id))
          .for('update');
        if (row?.epoch !== job.epoch || lost.signal.aborted)
          throw new Fenced(`job ${job.id} belongs to another worker`);
        return work(tx);
      });
    const settle = (state: 'done' | 'waiting' | 'failed', error: string | null) =>
      commit((tx) => tx.update(jobs).set({ state, error }).where(eq(jobs.id, job.id))).catch(
        () => undefined,
      );
    try {
      const outcome = await this.handlers[job.kind]({
        db,
        jobId: job.id,
        subject: job.subject,
        signal,
        commit,
      });
      if (outcome === 'done') await settle('done', null);
    } catch (error) {
      if (!isTakenUpAgain(error, signal)) {
        this.log(`job ${job.id}: ${(error as Error).stack}`);
        await settle('failed', (error as Error).message);
      }
    } finally {
      client.off('error', lose);
      await client.query('select pg_advisory_unlock_all()').then(
        () => client.release(),
        () => client.release(true),
      );
    }
  }
}
