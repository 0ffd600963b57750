/**
 * What every sitting does, whatever its drive delivers: it holds a session with the bench, asks
 * before every step whether a person wants something else, rests, ends, and settles what was read.
 */
import { eq } from 'drizzle-orm';
import { asWritten, said, type Said } from '@/core/said';
import { hasRoomFor } from '@/server/platform/blobs/store-room';
import type { Executor } from '@/server/platform/db/database';
import { BenchSession } from '@/server/platform/devices/bench-session';
import type { JobContext, JobOutcome } from '@/server/platform/jobs/engine';
import type { LedgerKind } from '@/server/states';
import { note } from '../ledger/ledger';
import type { media } from '../media/tables';
import type { stations } from '../stations/tables';
import { pauseSitting, setSittingState, tellSitting } from './sitting-state';
import { sittings } from './tables';

export type Sitting = typeof sittings.$inferSelect;

export interface SittingOf {
  sitting: Sitting;
  medium: typeof media.$inferSelect;
  station: typeof stations.$inferSelect;
}

/** A step was broken off: the device went, or a person asked for something else. */
export class Interrupted extends Error {}

export abstract class SittingRun {
  protected readonly bench: BenchSession;
  protected readonly sitting: Sitting;
  protected readonly medium: SittingOf['medium'];
  protected readonly station: SittingOf['station'];

  constructor(
    protected readonly context: JobContext,
    { sitting, medium, station }: SittingOf,
    advice?: ConstructorParameters<typeof BenchSession>[3],
  ) {
    this.sitting = sitting;
    this.medium = medium;
    this.station = station;
    const { commit, signal } = context;
    const state = {
      held: (reason: Said) => setSittingState(commit, sitting, 'held', reason, 'sitting-held'),
      back: () => {
        const now = said('platform.goingOnWhereIt');
        return setSittingState(commit, sitting, 'reading', now, 'sitting-resumed');
      },
      givenUp: async () => (await this.requestedAction()) !== null,
    };
    this.bench = new BenchSession(station.drive, state, signal, advice);
  }

  async run(): Promise<JobOutcome> {
    try {
      await this.prepare();
      // A worker died while it settled: the capture may be sealed, and nothing more is read.
      if (this.sitting.state === 'settling') return await this.settle();
      return await this.read();
    } catch (error) {
      if (error instanceof Interrupted) return this.afterInterruption();
      throw error;
    } finally {
      this.bench.close();
    }
  }

  /** What an earlier run left, before anything is asked of the drive. */
  protected abstract prepare(): Promise<void>;

  /** Reads until nothing more is worth reading, or a person wants something else. */
  protected abstract read(): Promise<JobOutcome>;

  /** What is told of a sitting that rests. */
  protected abstract resting(): Said;

  /** Whether there is anything that can be settled. */
  protected abstract hasBegun(): boolean;

  /** Makes the fair copy and ends the sitting. */
  protected abstract settle(): Promise<JobOutcome>;

  protected async requestedAction(): Promise<Sitting['requestedAction']> {
    const [row] = await this.context.db
      .select({ requestedAction: sittings.requestedAction })
      .from(sittings)
      .where(eq(sittings.id, this.sitting.id));
    return row?.requestedAction ?? null;
  }

  /** What was asked for since the last step, done; null where the sitting goes on. */
  protected async asked(): Promise<JobOutcome | null> {
    if (this.context.signal.aborted) return 'again';
    const requestedAction = await this.requestedAction();
    if (requestedAction === 'pause') return this.pause();
    if (requestedAction === 'stop') return this.finish(said('sittings.stoppedByHand'));
    if (!(await hasRoomFor(0))) return this.pause(said('platform.pausedForRoom'));
    return null;
  }

  protected async afterInterruption(): Promise<JobOutcome> {
    if (this.context.signal.aborted) return 'again';
    if ((await this.requestedAction()) === 'stop' && this.hasBegun())
      return this.finish(said('sittings.stoppedByHand'));
    return this.pause();
  }

  protected pause(now = this.resting()): Promise<JobOutcome> {
    return pauseSitting(this.context.commit, this.sitting, now);
  }

  protected finish(why: Said): Promise<JobOutcome> {
    return this.finishWith(why, said('sittings.settlingTheFairCopy'), {});
  }

  /** Ends the reading: from here on only what was read is settled. */
  protected async finishWith(why: Said, now: Said, values: Partial<Sitting>): Promise<JobOutcome> {
    Object.assign(this.sitting, values, { endedWhy: why });
    await this.context.commit((tx) =>
      this.set(tx, { ...values, state: 'settling', now, endedWhy: why, requestedAction: null }),
    );
    return this.settle();
  }

  /** The sitting is over; `nothing` is what is told where no copy came of it. */
  protected async end(
    tx: Executor,
    hasCopy: boolean,
    nothing: (why: Said) => Said,
    values: Partial<Sitting> = {},
  ): Promise<void> {
    const why = this.sitting.endedWhy ?? asWritten('');
    const now = hasCopy ? why : nothing(why);
    await this.set(tx, {
      ...values,
      state: 'done',
      now,
      requestedAction: null,
      endedAt: new Date(),
    });
  }

  protected async set(tx: Executor, values: Partial<Sitting>): Promise<void> {
    await tx.update(sittings).set(values).where(eq(sittings.id, this.sitting.id));
    await tellSitting(tx, this.sitting);
  }

  protected note(tx: Executor, kind: LedgerKind, what: Said): Promise<unknown> {
    const { id, mediumId, stationId, startedBy } = this.sitting;
    return note(tx, { operatorId: startedBy, kind, mediumId, stationId, sittingId: id, what });
  }
}
