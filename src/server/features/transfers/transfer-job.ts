/**
 * Sends an image over a serial line: a receiving program typed in first where there is none, then
 * blocks, each acknowledged; what was acknowledged is committed.
 */
import { setTimeout as sleep } from 'node:timers/promises';
import { and, eq, isNull } from 'drizzle-orm';
import { BenchClient } from '@/benchlink/client';
import { XmodemSender } from '@/core/transfer/xmodem';
import { benchAddress } from '@/server/platform/devices/bench-address';
import { readBlob } from '@/server/platform/blobs/read-blob';
import { transfers } from './tables';
import { fairCopies } from '../copies/tables';
import type { Executor } from '@/server/platform/db/database';
import { announce } from '@/server/platform/events';
import type { JobContext, JobOutcome } from '@/server/platform/jobs/engine';
import { note } from '../ledger/ledger';
import { BenchSession, type Advice } from '@/server/platform/devices/bench-session';
import { said, type Said } from '@/core/said';

/**
 * Waiting for an answer: longer than the other side takes to check a block, shorter than it waits
 * itself.
 */
const ANSWER_MS = 3000;
const COMMIT_MS = 500;
const ADVICE: Advice = {
  'device-gone': said('transfers.checkTheCableOf'),
  'medium-gone': null,
  'not-ready': said('transfers.checkThatTheLine'),
  'time-out': said('transfers.checkThatTheFar'),
  'write-protected': null,
  cancelled: null,
  refused: null,
};

type Row = typeof transfers.$inferSelect;

/** The bench with the line at its rate: whoever was away may have forgotten it. */
async function openLine({ line, rate }: Row): Promise<BenchClient> {
  const bench = await BenchClient.connect(benchAddress());
  await bench.openLine(line, rate).catch((error: unknown) => {
    bench.close();
    throw error;
  });
  return bench;
}

class TransferRun {
  private readonly bench: BenchSession<BenchClient>;
  private kept = 0;
  private acknowledged = -1;

  constructor(
    private readonly context: JobContext,
    private readonly row: Row,
    private readonly mediumId: number,
  ) {
    this.bench = new BenchSession<BenchClient>(
      row.line,
      {
        held: (now) => this.set({ state: 'held', now }),
        back: () => this.set({ state: 'sending', now: said('platform.goingOnWhereIt') }),
        givenUp: () => this.isGivenUp(),
      },
      context.signal,
      ADVICE,
      () => openLine(row),
    );
  }

  async run(bytes: Uint8Array): Promise<JobOutcome> {
    try {
      const { row } = this;
      if (row.loader !== '' && !(await this.typeLoader())) return this.stopped(null);
      const sender = row.progress
        ? new XmodemSender(bytes, row.progress)
        : XmodemSender.begin(bytes, row.large);
      await this.set({
        state: 'sending',
        now: row.progress
          ? said('platform.goingOnWhereIt')
          : said('transfers.waitingUntilTheOther'),
      });
      while (sender.state !== 'done' && sender.state !== 'failed') {
        if (await this.isGivenUp()) {
          await this.bench.do((link) => link.sendLine(row.line, sender.cancel()));
          return this.stopped(sender);
        }
        const came = await this.bench.do((link) =>
          link.receiveLine(row.line, ANSWER_MS, this.context.signal),
        );
        if (came === null) return this.stopped(sender);
        const out =
          came.length > 0 ? sender.take(came) : [sender.silence()].filter((each) => each !== null);
        // Of what several answers at once would bring, the last is the one that counts.
        const last = out[out.length - 1];
        await this.keep(sender);
        if (
          last &&
          (await this.bench.do(async (link) => {
            await link.sendLine(row.line, last, this.context.signal);
            return true;
          })) === null
        )
          return this.stopped(sender);
      }
      return this.end(sender);
    } finally {
      this.bench.close();
    }
  }

  /**
   * Types the receiving program at the pace that the other side can take; false when it stops
   * before the end.
   */
  private async typeLoader(): Promise<boolean> {
    const {
      row,
      context: { signal },
    } = this;
    const text = row.loader.endsWith('\n') ? row.loader : `${row.loader}\n`;
    for (let at = row.typed; at < text.length; at++) {
      if (at % 20 === 0 && (await this.isGivenUp())) return false;
      const isEnd = text[at] === '\n';
      const sent = await this.bench.do(async (link) => {
        await link.sendLine(row.line, Uint8Array.of(isEnd ? 0x0d : text.charCodeAt(at)), signal);
        return true;
      });
      if (sent === null) return false;
      await sleep(isEnd ? row.linePauseMs : 1000 / row.typingRate, undefined, { signal }).catch(
        () => undefined,
      );
      if (signal.aborted) return false;
      if (isEnd || Date.now() - this.kept > COMMIT_MS) {
        this.kept = Date.now();
        await this.set({
          state: 'typing',
          typed: at + 1,
          now: said('transfers.typingTheReceivingProgram', {
            split: text.slice(0, at + 1).split('\n').length - (isEnd ? 1 : 0),
            split2: text.trimEnd().split('\n').length,
          }),
        });
      }
    }
    // What it echoed is no answer to what follows; it will ask again.
    for (let came = 1; came > 0;) {
      const echo = await this.bench.do((link) => link.receiveLine(row.line, 0, signal));
      if (!echo) return false;
      came = echo.length;
    }
    return true;
  }

  /**
   * Every block that was acknowledged, before the next one goes: the far side knows the one before
   * it once more, and none that lies further back.
   */
  private async keep(sender: XmodemSender): Promise<void> {
    const { acknowledged } = sender.at;
    if (acknowledged === this.acknowledged && Date.now() - this.kept < COMMIT_MS) return;
    this.kept = Date.now();
    this.acknowledged = acknowledged;
    await this.set({
      progress: sender.state === 'waiting' ? null : sender.at,
      repeated: this.row.repeated + sender.repeated,
      now:
        acknowledged === 0
          ? said('transfers.waitingUntilTheOther')
          : said('transfers.ofBytesAcknowledged', { acknowledged, bytes: this.row.bytes }),
    });
  }

  private set(values: Partial<Row>): Promise<void> {
    return this.context.commit(async (tx) => {
      await tx.update(transfers).set(values).where(eq(transfers.id, this.row.id));
      await announce(tx, { kind: 'transfers' });
    });
  }

  private async isGivenUp(): Promise<boolean> {
    const [row] = await this.context.db
      .select({ cancelled: transfers.cancelled })
      .from(transfers)
      .where(eq(transfers.id, this.row.id));
    return row?.cancelled ?? true;
  }

  private async stopped(sender: XmodemSender | null): Promise<JobOutcome> {
    if (!(await this.isGivenUp())) {
      if (sender && sender.state !== 'waiting')
        await this.set({
          progress: sender.at,
          repeated: this.row.repeated + sender.repeated,
        }).catch(() => undefined);
      return 'again';
    }
    return this.finish('failed', said('transfers.givenUpWhatThe'), sender);
  }

  private end(sender: XmodemSender): Promise<JobOutcome> {
    if (sender.state === 'failed')
      return this.finish(
        'failed',
        said('transfers.whatTheOtherSide', { reason: sender.reason ?? said('transfers.itFailed') }),
        sender,
      );
    const { bytes } = this.row;
    const filled = (128 - (bytes % 128)) % 128;
    return this.finish(
      'done',
      said('transfers.allBytesWereAcknowledged', { bytes, filled }),
      sender,
    );
  }

  private async finish(
    state: 'done' | 'failed',
    now: Said,
    sender: XmodemSender | null,
  ): Promise<JobOutcome> {
    const { row, mediumId } = this;
    await this.context.commit((tx) =>
      endTransfer(tx, row, mediumId, {
        state,
        now,
        ...(sender && { progress: sender.at, repeated: row.repeated + sender.repeated }),
      }),
    );
    return 'done';
  }
}

export async function giveUpTransfer(
  { db, commit, payload: { transferId } }: JobContext<'transfer'>,
  why: Said,
): Promise<void> {
  const [found] = await db
    .select()
    .from(transfers)
    .innerJoin(fairCopies, eq(fairCopies.id, transfers.fairCopyId))
    .where(and(eq(transfers.id, transferId), isNull(transfers.endedAt)));
  if (!found) return;
  const { transfers: row, fair_copies: copy } = found;
  await commit((tx) => endTransfer(tx, row, copy.mediumId, { state: 'failed', now: why }));
}

/** The transfer is over, and the ledger says so. */
async function endTransfer(
  tx: Executor,
  { id, startedBy, line }: typeof transfers.$inferSelect,
  mediumId: number,
  { now, ...values }: Partial<typeof transfers.$inferInsert> & { now: Said },
): Promise<void> {
  await tx
    .update(transfers)
    .set({ ...values, now, endedAt: new Date() })
    .where(eq(transfers.id, id));
  await note(tx, {
    operatorId: startedBy,
    kind: 'transfer',
    mediumId,
    what: said('transfers.overLine', { line, now }),
  });
  await announce(tx, { kind: 'transfers' });
}

export async function runTransfer(context: JobContext<'transfer'>): Promise<JobOutcome> {
  const { db, payload } = context;
  const [found] = await db
    .select()
    .from(transfers)
    .innerJoin(fairCopies, eq(fairCopies.id, transfers.fairCopyId))
    .where(eq(transfers.id, payload.transferId));
  if (!found || found.transfers.state === 'done' || found.transfers.state === 'failed')
    return 'done';
  return new TransferRun(context, found.transfers, found.fair_copies.mediumId).run(
    await readBlob(db, found.fair_copies.imageBlob),
  );
}
