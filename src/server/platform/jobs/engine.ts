/**
 * Runs jobs of every kind: takes those that wait or whose worker fell silent, so many of a kind and
 * no more, and fences what a worker thought dead still wants to commit. No job holds a connection.
 */
import { setTimeout as sleep } from 'node:timers/promises';
import { and, eq } from 'drizzle-orm';
import { said, type Said } from '@/core/said';
import { saidOf } from '../errors';
import { isConnectionLost } from '../db/connection-lost';
import { hasRoomToGoOn } from '../blobs/store-room';
import { isDiskFull } from '../db/disk-full';
import type { Connection, Database, Executor } from '../db/database';
import { JOB_KINDS, JOB_RULES, MAX_JOBS_AT_ONCE, type JobKind, type JobPayload } from './kinds';
import { jobs } from './tables';
import { putBack, takeJob, type TakenJob } from './take';
import {
  beat,
  buryDeadNeighbours,
  HEARTBEAT_MS,
  registerWorker,
  unregisterWorker,
} from './worker-row';

/** So many workers died while they had the job. */
class DeadlyJobError extends Error {
  constructor(readonly crashes: number) {
    super(`${crashes} workers died of it`);
  }
}

/** What is told of a job that was given up. */
function whyOf(error: unknown): Said {
  if (error instanceof DeadlyJobError)
    return said('platform.theWorkerDied', { crashes: error.crashes });
  if (isDiskFull(error)) return said('platform.theDiskIsFull');
  return saidOf(error, (message) => said('platform.itBrokeOff', { message }));
}

/** Who starts the worker waits a little longer before it is killed. */
const PUT_DOWN_MS = 4000;

/** The job was taken by another worker: stop at once and commit nothing more. */
class StaleJobError extends Error {}

/**
 * What stopped a job says nothing of its work: another worker has it, this one is being stopped, or
 * the database went for a moment. The row stays, and a sweep takes it up again.
 */
const isInterrupted = (error: unknown, signal: AbortSignal): boolean =>
  error instanceof StaleJobError || signal.aborted || isConnectionLost(error);

/** The same of a job that waits for room where the disk was full. */
export const isTakenUpAgain = (error: unknown, signal: AbortSignal): boolean =>
  isInterrupted(error, signal) || isDiskFull(error);

export interface JobContext<K extends JobKind = JobKind> {
  db: Database;
  jobId: string;
  payload: JobPayload<K>;
  signal: AbortSignal;
  /** A transaction that commits only while this worker is the job's. */
  commit<T>(work: (tx: Executor) => Promise<T>): Promise<T>;
}

/** `again` leaves the row waiting: it is taken up by the next worker that looks. */
export type JobOutcome = 'done' | 'again';

interface JobHandler<K extends JobKind> {
  run(context: JobContext<K>): Promise<JobOutcome>;
  /** Ends what hangs on the job, for the reason that is given: it is not tried again. */
  giveUp(context: JobContext<K>, why: Said): Promise<void>;
}

type JobHandlers = { [K in JobKind]: JobHandler<K> };

interface EngineLog {
  warn(about: object, text: string): void;
  error(about: object, text: string): void;
}

const SWEEP_MS = 1000;

interface Running {
  kind: JobKind;
  ended: Promise<void>;
}

export class JobEngine {
  private readonly running = new Map<string, Running>();
  private readonly stopping = new AbortController();
  /** Aborted when this worker's leases were lost, and made anew with its next row. */
  private leases = new AbortController();
  private workerId: string | null = null;
  private timers: NodeJS.Timeout[] = [];
  private looking: Promise<void> | null = null;
  private lookAgain = false;
  /** A job found the disk full, and there was no room since. */
  private lacksRoom = false;

  constructor(
    private readonly connection: Connection,
    private readonly handlers: JobHandlers,
    private readonly log: EngineLog,
  ) {}

  start(): void {
    this.timers = [
      setInterval(() => void this.look(), SWEEP_MS),
      setInterval(() => void this.keepAlive(), HEARTBEAT_MS),
    ];
    void this.look();
  }

  /**
   * Stops taking jobs and waits until those at work have put down what they hold. What computes on
   * for longer is put back: a worker that was asked to stop has not died of it.
   */
  async stop(): Promise<void> {
    for (const timer of this.timers) clearInterval(timer);
    this.stopping.abort();
    await this.looking;
    const ended = Promise.allSettled([...this.running.values()].map((each) => each.ended));
    await Promise.race([ended, sleep(PUT_DOWN_MS, undefined, { ref: false })]);
    if (!this.workerId) return;
    await putBack(this.connection.db, this.workerId);
    await unregisterWorker(this.connection.db, this.workerId);
  }

  /** Takes every job that there is room for. */
  async look(): Promise<void> {
    this.lookAgain = true;
    this.looking ??= this.lookOnce().finally(() => (this.looking = null));
    return this.looking;
  }

  private async lookOnce(): Promise<void> {
    try {
      while (this.lookAgain && !this.stopping.signal.aborted) {
        this.lookAgain = false;
        await this.takeAll();
      }
    } catch (error) {
      this.log.warn({ err: error }, 'looking for jobs');
    }
  }

  private async takeAll(): Promise<void> {
    const { db } = this.connection;
    this.workerId ??= await registerWorker(db);
    await buryDeadNeighbours(db, this.workerId);
    if (this.lacksRoom) this.lacksRoom = !(await hasRoomToGoOn());
    for (;;) {
      const kinds = this.kindsWithRoom();
      if (kinds.length === 0 || this.stopping.signal.aborted) return;
      const job = await takeJob(db, this.workerId, kinds, [...this.running.keys()]);
      if (!job) return;
      const ended = this.run(job).then((hasEnded) => {
        this.running.delete(job.id);
        // Its place may be another's now; what is to be taken up again waits for the next sweep.
        if (hasEnded) void this.look();
      });
      this.running.set(job.id, { kind: job.kind, ended });
    }
  }

  /** Kinds of which this worker does not do all that it may; on a full disk those that need no room. */
  private kindsWithRoom(): JobKind[] {
    if (this.running.size >= MAX_JOBS_AT_ONCE) return [];
    const busy = (kind: JobKind) =>
      [...this.running.values()].filter((each) => each.kind === kind).length;
    return JOB_KINDS.filter(
      (kind) =>
        busy(kind) < JOB_RULES[kind].slots && !(this.lacksRoom && JOB_RULES[kind].waitsForRoom),
    );
  }

  private async keepAlive(): Promise<void> {
    if (!this.workerId) return;
    try {
      if (await beat(this.connection.db, this.workerId)) return;
      // Another worker gave this one up: what it has at work belongs to others now.
      this.leases.abort();
      this.leases = new AbortController();
      this.workerId = await registerWorker(this.connection.db);
    } catch (error) {
      this.log.warn({ err: error }, 'heartbeat');
    }
  }

  /** Whether it came to an end. */
  private async run<K extends JobKind>(job: TakenJob & { kind: K }): Promise<boolean> {
    const { db } = this.connection;
    const signal = AbortSignal.any([this.stopping.signal, this.leases.signal]);
    const commit: JobContext['commit'] = (work) =>
      db.transaction(async (tx) => {
        const [row] = await tx
          .select({ epoch: jobs.epoch })
          .from(jobs)
          .where(eq(jobs.id, job.id))
          .for('update');
        if (row?.epoch !== job.epoch) throw new StaleJobError(`job ${job.id} is another worker's`);
        return work(tx);
      });
    const { payload: schema, mostCrashes } = JOB_RULES[job.kind];
    const parsed = schema.safeParse(job.payload);
    if (!parsed.success) {
      await this.settle(job, 'failed', parsed.error.message);
      return true;
    }
    const payload = parsed.data as JobPayload<K>;
    const context = { db, jobId: job.id, payload, signal, commit };
    const handler = this.handlers[job.kind] as JobHandler<K>;
    try {
      if (job.crashes >= mostCrashes) throw new DeadlyJobError(job.crashes);
      const outcome = await handler.run(context);
      await this.settle(job, outcome === 'done' ? 'done' : 'waiting', null);
      return outcome === 'done';
    } catch (error) {
      const waitsForRoom = JOB_RULES[job.kind].waitsForRoom && isDiskFull(error);
      if (waitsForRoom) this.lacksRoom = true;
      if (waitsForRoom || isInterrupted(error, signal)) {
        await this.settle(job, 'waiting', null);
        return false;
      }
      this.log.error({ err: error, jobId: job.id, kind: job.kind }, 'job failed');
      return this.giveUp(job, () => handler.giveUp(context, whyOf(error)), error as Error);
    }
  }

  /** What hangs on the job ends first; where that can't be kept now, it is taken up again. */
  private async giveUp(job: TakenJob, end: () => Promise<void>, error: Error): Promise<boolean> {
    try {
      await end();
    } catch (failure) {
      this.log.error({ err: failure, jobId: job.id, kind: job.kind }, 'giving up');
      if (isTakenUpAgain(failure, this.stopping.signal)) {
        await this.settle(job, 'waiting', null);
        return false;
      }
    }
    await this.settle(job, 'failed', error.message);
    return true;
  }

  /** Only what is still this worker's, and was not woken meanwhile. */
  private async settle(
    { id, epoch }: TakenJob,
    state: 'done' | 'waiting' | 'failed',
    error: string | null,
  ): Promise<void> {
    const endedAt = state === 'waiting' ? null : new Date();
    await this.connection.db
      .update(jobs)
      .set({ state, error, endedAt, workerId: null })
      .where(and(eq(jobs.id, id), eq(jobs.epoch, epoch), eq(jobs.state, 'running')))
      .catch(() => undefined);
  }
}
