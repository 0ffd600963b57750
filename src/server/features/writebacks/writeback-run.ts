/**
 * What every write-back does, to a disk or to a device of blocks: it holds a session with the bench,
 * looks at what is on the target and asks before that goes, and tells how it ended.
 */
import { eq } from 'drizzle-orm';
import { said, type Said } from '@/core/said';
import type { DeviceLink } from '@/benchlink/device-link';
import { BenchSession } from '@/server/platform/devices/bench-session';
import { announce } from '@/server/platform/events';
import type { JobContext, JobOutcome } from '@/server/platform/jobs/engine';
import type { TargetFound } from '@/server/states';
import { writebacks } from './tables';
import {
  askBefore,
  endGivenUp,
  endWriteback,
  isCancelled,
  setWritebackState,
  type WritebackFacts,
} from './writeback-state';

export abstract class WritebackRun<F extends WritebackFacts = WritebackFacts> {
  protected readonly bench: BenchSession;

  constructor(
    protected readonly context: JobContext,
    protected readonly facts: F,
    protected readonly drive: string,
    advice?: ConstructorParameters<typeof BenchSession>[3],
  ) {
    const set = (state: 'held' | 'writing', now: Said) =>
      setWritebackState(context, facts.row, state, now);
    const interruption = {
      held: (reason: Said) => set('held', reason),
      back: () => set('writing', said('platform.goingOnWhereIt')),
      givenUp: () => this.isGivenUp(),
    };
    this.bench = new BenchSession(drive, interruption, context.signal, advice);
  }

  async run(): Promise<JobOutcome> {
    try {
      return await this.write();
    } finally {
      this.bench.close();
    }
  }

  /** Writes and proves what is left to be written. */
  protected abstract write(): Promise<JobOutcome>;

  /** What is told of what was written, where it is given up. */
  protected abstract written(): Said;

  /**
   * Looks at what is on the target, once: what was let go is not asked about again, as by now it may
   * be what this write-back itself wrote. Null where it may be written to.
   */
  protected async meetTarget(
    look: (link: DeviceLink) => Promise<TargetFound>,
    describe: (found: TargetFound) => Said,
  ): Promise<JobOutcome | null> {
    const { row } = this.facts;
    if (row.overwrite || (row.found && row.found.state !== 'data')) return null;
    const found = await this.bench.do(look);
    if (!found) return this.stopped();
    await this.context.commit(async (tx) => {
      await tx.update(writebacks).set({ found }).where(eq(writebacks.id, row.id));
      await announce(tx, { kind: 'writeback', writebackId: row.id, stationId: row.stationId });
    });
    if (found.state !== 'data') return null;
    await askBefore(this.context, this.facts, describe(found));
    return 'done';
  }

  protected isGivenUp(): Promise<boolean> {
    return isCancelled(this.context.db, this.facts.row.id);
  }

  /** The worker stops, or the write-back was given up. */
  protected async stopped(): Promise<JobOutcome> {
    if (!(await this.isGivenUp())) return 'again';
    await endGivenUp(this.context, this.facts, this.written());
    return 'done';
  }

  protected async end(state: 'proved' | 'unproved' | 'failed', now: Said): Promise<JobOutcome> {
    await endWriteback(this.context, this.facts, state, now);
    return 'done';
  }
}
