/**
 * Reads one block device by the salvage plan: every request committed before the next is asked for.
 */
import { tell } from '@/messages/tell';
import { and, eq, inArray } from 'drizzle-orm';
import { MAX_DEVICE_BYTES } from '@/core/block/limits';
import { describeMedium, isRawDisc, type BlockMedium } from '@/core/block/device';
import { type Extent, ExtentMap, unreadBlocks, unsoundRuns } from '@/core/block/extent-map';
import {
  DEFAULT_BLOCK_POLICY,
  SalvagePlan,
  type BlockPolicy,
  type ReadBlocks,
} from '@/core/block/salvage-plan';
import { applyOutcome, type BlockOutcome } from '@/core/block/apply-outcome';
import { USER_SECTOR_BYTES } from '@/core/optical/raw-sector';

import { piecewiseSource, type ByteSource } from '@/core/bits/byte-source';
import { identifyVolumes } from '@/core/identify/identify';
import { landmarksOf } from '@/core/identify/landmarks';
import type { BlockDriveDescription } from '@/benchlink/messages';
import { createSparseBlob, writeBlob } from '@/server/platform/blobs/blob-store';
import { blockExtents, blockReadings } from './tables';
import { media } from '../media/tables';
import { sittings } from './tables';
import { stations } from '../stations/tables';
import { announce } from '@/server/platform/events';
import type { JobContext, JobOutcome } from '@/server/platform/jobs/engine';
import { extentsOf } from './block-sittings';
import { settleBlocks } from '../copies/settling/block-copies';
import { keepSettled } from '../copies/keeping/keep-settled';
import type { Executor } from '@/server/platform/db/database';
import { note } from '../ledger/ledger';
import type { BlockPreview } from '@/server/states';
import { BenchSession, BLOCK_ADVICE } from '@/server/platform/devices/bench-session';
import { askBlocks, Paces } from './block-reader';
import { pauseSitting, setSittingState, tellSitting } from './sitting-state';
import { asWritten, said, type Said } from '@/core/said';

type Sitting = typeof sittings.$inferSelect;

/**
 * Bytes of a large request: as many as make a commit worth its while, and as few as a slow drive
 * gives in a few seconds.
 */
const REQUEST_BYTES = {
  'hard-disk': 4 << 20,
  dvd: 4 << 20,
  cd: 1 << 20,
  'optical-disc': 1 << 20,
} as const;
/** A fragile medium is never kept at it for long. */
const GENTLE_REQUEST_BYTES = 256 << 10;
/** Most bytes that looking for landmarks reads. */
const LOOK_BYTES = 8 << 20;
/** Pages are told this often at most, in milliseconds. */
const TELL_MS = 200;

class Interrupted extends Error {}

const ROWS_AT_ONCE = 1000;

class BlockSittingRun {
  private readonly bench: BenchSession;
  private device!: BlockMedium;
  private speeds: readonly number[] = [];
  private map!: ExtentMap;
  private policy!: BlockPolicy;
  private paces!: Paces;
  private toldAt = 0;
  private startedAt = 0;
  private cameSince = 0;
  private failedLast = false;

  constructor(
    private readonly context: JobContext,
    private readonly sitting: Sitting,
    private readonly medium: typeof media.$inferSelect,
    private readonly station: typeof stations.$inferSelect,
  ) {
    this.bench = new BenchSession(
      station.drive,
      {
        held: (reason) => setSittingState(context.commit, sitting, 'held', reason, 'sitting-held'),
        back: () =>
          setSittingState(
            context.commit,
            sitting,
            'reading',
            said('platform.goingOnWhereIt'),
            'sitting-resumed',
          ),
        givenUp: async () => (await this.requestedAction()) !== null,
      },
      context.signal,
      BLOCK_ADVICE,
    );
  }

  async run(): Promise<JobOutcome> {
    const { context, sitting, station } = this;
    // A worker died while it settled: the capture may be sealed, and nothing more is read.
    if (sitting.state === 'settling') return this.settle();
    try {
      const found = await this.bench.do(async (link) => ({
        drive: (await link.drives()).find(
          (each): each is BlockDriveDescription =>
            each.id === station.drive && each.delivers === 'blocks',
        ),
        device: await link.blockMedium(station.drive),
      }));
      if (!found) return this.afterInterruption();
      if (!found.drive) throw new Error(`there is no drive ${station.drive} that delivers blocks`);
      const other = this.notTheSame(found.device);
      if (other) return this.pause(other);
      this.device = sitting.device ?? found.device;
      this.speeds = found.drive.speeds;
      this.map = new ExtentMap(this.device.blocks, await extentsOf(context.db, sitting.id));
      const { gentle } = sitting.policy;
      const request = Math.max(
        1,
        Math.floor(
          (gentle ? GENTLE_REQUEST_BYTES : REQUEST_BYTES[this.device.kind]) /
            this.device.blockBytes,
        ),
      );
      this.policy = sitting.blockPolicy ?? {
        range: null,
        request,
        ...DEFAULT_BLOCK_POLICY,
        gentle,
      };
      this.paces = new Paces(this.policy.request);
      await this.begin();
      if (!this.policy.range && !sitting.blockPreview && (await this.look())) return 'done';
      const plan = new SalvagePlan(this.map, {
        ...this.policy,
        range: this.policy.range ?? { from: 0, to: this.device.blocks },
        speeds: this.speeds,
      });
      for (;;) {
        if (context.signal.aborted) return 'again';
        const requestedAction = await this.requestedAction();
        if (requestedAction === 'pause') return this.pause();
        if (requestedAction === 'stop') return await this.finish(said('sittings.stoppedByHand'));
        const step = plan.next();
        if (step.kind === 'done') return await this.finish(step.why);
        if (step.kind === 'pass-over') {
          applyOutcome(this.map, step, null);
          continue;
        }
        await this.read(step);
      }
    } catch (error) {
      if (error instanceof Interrupted) return this.afterInterruption();
      throw error;
    } finally {
      this.bench.close();
    }
  }

  /**
   * Why what is in the drive can't be the device that this sitting began with; null where it can.
   */
  private notTheSame(now: BlockMedium): Said | null {
    const before = this.sitting.device;
    if (now.blocks === 0) return said('sittings.theDeviceSaysThat');
    if (now.blocks * now.blockBytes > MAX_DEVICE_BYTES)
      return said('sittings.theDeviceSaysThatIt', {
        blocks: now.blocks,
        blockBytes: now.blockBytes,
      });
    if (!before) return null;
    const same =
      before.blocks === now.blocks &&
      before.blockBytes === now.blockBytes &&
      before.serial === now.serial &&
      before.model === now.model;
    return same
      ? null
      : said('sittings.anotherIsThereThan', {
          isDisk: now.kind === 'hard-disk',
          now: describeMedium(now),
          serial: now.serial,
        });
  }

  private async requestedAction(): Promise<'pause' | 'stop' | null> {
    const [row] = await this.context.db
      .select({ requestedAction: sittings.requestedAction })
      .from(sittings)
      .where(eq(sittings.id, this.sitting.id));
    return row?.requestedAction ?? null;
  }

  private async begin(): Promise<void> {
    const { sitting, device, medium } = this;
    await this.context.commit(async (tx) => {
      const set: Partial<Sitting> = { state: 'reading' };
      if (!sitting.captureBlob) {
        set.captureBlob = sitting.captureBlob = await createSparseBlob(
          tx,
          device.blocks * device.blockBytes,
        );
        set.device = sitting.device = device;
        set.blockPolicy = this.policy;
        await note(tx, {
          operatorId: sitting.startedBy,
          kind: 'device',
          mediumId: medium.id,
          stationId: sitting.stationId,
          sittingId: sitting.id,
          what: said('sittings.theDeviceSaysBlocks', {
            name: [
              describeMedium(device),
              ...[device.model, device.serial].filter((each) => each !== ''),
            ],
            blocks: device.blocks,
            blockBytes: device.blockBytes,
            health: (device.health ?? []).map(
              ({ name, value, unit }) => `${name} ${value}${unit && ` ${unit}`}`,
            ),
          }),
        });
      }
      await tx.update(sittings).set(set).where(eq(sittings.id, sitting.id));
      await tellSitting(tx, this.sitting);
    });
  }

  /**
   * Looks for landmarks in the device's own tables; true where a person is asked how far to read.
   */
  private async look(): Promise<boolean> {
    const { sitting, device } = this;
    const found = await identifyVolumes(this.lookingSource());
    const landmarks = landmarksOf(found, device.blocks, device.blockBytes);
    const kinds = [...new Set(found.volumes.map(({ volume }) => volume.filesystem.toUpperCase()))];
    const what =
      kinds.length > 0
        ? said('sittings.kindsFound', {
            partitions: found.partitions.length,
            kinds,
          })
        : said('sittings.noVolumeThatIs');
    const about = describeMedium(device);
    const preview: BlockPreview = {
      sentence: said('sittings.howFar', { about, what }),
      landmarks,
      to: device.blocks,
    };
    const asks = !sitting.unattended;
    if (!asks) this.policy = { ...this.policy, range: { from: 0, to: device.blocks } };
    await this.context.commit(async (tx) => {
      await tx
        .update(sittings)
        .set({
          blockPreview: preview,
          blockPolicy: this.policy,
          ...(asks && { state: 'asks', now: preview.sentence }),
        })
        .where(eq(sittings.id, sitting.id));
      await note(tx, {
        operatorId: sitting.startedBy,
        kind: 'sitting-preview',
        mediumId: sitting.mediumId,
        stationId: sitting.stationId,
        sittingId: sitting.id,
        what: said('sittings.itsOwnTablesShow', { what }),
      });
      await tellSitting(tx, this.sitting);
    });
    return asks;
  }

  /**
   * The device as a source for its tables: what is read of it is kept like everything else, bad
   * blocks are zeros. Raw discs show their user bytes.
   */
  private lookingSource(): ByteSource {
    const { device } = this;
    const { blockBytes } = device;
    const raw = isRawDisc(device);
    const user = raw ? USER_SECTOR_BYTES : blockBytes;
    const first = raw ? (device.tracks.find(({ mode }) => mode !== 'audio')?.start ?? 0) : 0;
    const size = Math.max(0, device.blocks - first) * user;
    const speed = this.policy.gentle ? (this.speeds.at(-1) ?? null) : null;
    let left = LOOK_BYTES;
    const kept = new Map<number, Uint8Array>();
    const block = async (number: number): Promise<Uint8Array> => {
      if (!kept.has(number) && left > 0) {
        // Tables lie together: a few blocks at once.
        const count = Math.min(
          Math.max(1, Math.floor(16_384 / blockBytes)),
          device.blocks - first - number,
        );
        left -= count * blockBytes;
        const bytes = await this.read({
          kind: 'read',
          from: first + number,
          count,
          pass: 1,
          speed,
          why: said('sittings.lookingAtItsOwn'),
        });
        for (let i = 0; i < count; i++)
          kept.set(
            number + i,
            (i + 1) * blockBytes <= bytes.length
              ? userPart(bytes.subarray(i * blockBytes, (i + 1) * blockBytes), raw)
              : new Uint8Array(user),
          );
      }
      return kept.get(number) ?? new Uint8Array(user);
    };
    return piecewiseSource(size, user, block);
  }

  /** Asks once and commits what came; gives its bytes. */
  private async read(step: ReadBlocks): Promise<Uint8Array> {
    this.startedAt ||= Date.now();
    const result = await this.bench.do((link) =>
      askBlocks(link, this.station.drive, this.device, step, this.context.signal),
    );
    if (!result) throw new Interrupted();
    const { from, count, pass, speed, why } = step;
    const { bytes, ms } = result;
    const outcome: BlockOutcome = {
      ...result.outcome,
      pace: this.paces.paceOf(speed, result.outcome.got, ms),
    };
    const before = this.map.tally();
    const failedBefore = this.failedLast;
    this.failedLast = result.why !== null;
    // What is sound stays as it is, whatever comes of it now.
    const unsound = outcome.got > 0 ? unsoundRuns(this.map, from, from + outcome.got) : [];
    applyOutcome(this.map, step, outcome);
    this.cameSince += outcome.got;
    const { id, stationId, mediumId, startedBy } = this.sitting;
    const { gone, came } = this.map.takeChanges();
    const now = Date.now();
    const tells = now - this.toldAt > TELL_MS;
    if (tells) this.toldAt = now;
    await this.context.commit(async (tx) => {
      await this.keepBytes(tx, unsound, { from, bytes });
      await tx
        .insert(blockReadings)
        .values({ sittingId: id, from, count, got: outcome.got, pass, speed, ms });
      await this.keepExtents(tx, gone, came);
      const report = outcomeSaid(
        step,
        result.why,
        outcome,
        this.map.tally().mended - before.mended,
        failedBefore,
      );
      if (report)
        await note(tx, {
          operatorId: startedBy,
          kind: 'blocks',
          mediumId,
          stationId,
          sittingId: id,
          what: report,
        });
      if (!tells) return;
      await tx.update(sittings).set({ now: why, state: 'reading' }).where(eq(sittings.id, id));
      await announce(tx, {
        kind: 'blocks',
        sittingId: id,
        stationId,
        now: tell(why),
        tally: this.map.tally(),
        secondsLeft: this.secondsLeft(),
        at: from,
      });
    });
    return bytes;
  }

  /** Puts what came of unsound blocks into the capture; what is sound stays as it is. */
  private async keepBytes(
    tx: Executor,
    unsound: readonly { from: number; to: number }[],
    read: { from: number; bytes: Uint8Array },
  ): Promise<void> {
    const { blockBytes } = this.device;
    for (const { from, to } of unsound) {
      const [start, end] = [from - read.from, to - read.from].map((block) => block * blockBytes);
      const bytes = read.bytes.subarray(start, end);
      await writeBlob(tx, this.sitting.captureBlob!, from * blockBytes, bytes);
    }
  }

  /** Rows of the extents that went and came. */
  private async keepExtents(tx: Executor, gone: number[], came: Extent[]): Promise<void> {
    const { id } = this.sitting;
    const touched = [...new Set([...gone, ...came.map((each) => each.from)])];
    for (let i = 0; i < touched.length; i += ROWS_AT_ONCE) {
      const some = touched.slice(i, i + ROWS_AT_ONCE);
      await tx
        .delete(blockExtents)
        .where(and(eq(blockExtents.sittingId, id), inArray(blockExtents.from, some)));
    }
    const kept = came.filter(({ grade, group }) => grade !== 'unread' || group > 0);
    for (let i = 0; i < kept.length; i += ROWS_AT_ONCE) {
      const some = kept.slice(i, i + ROWS_AT_ONCE);
      await tx.insert(blockExtents).values(some.map((extent) => ({ sittingId: id, ...extent })));
    }
  }

  /** Of this pass, by how fast blocks came so far. */
  private secondsLeft(): number | null {
    const { from, to } = this.policy.range ?? { from: 0, to: this.map.blocks };
    const unread = unreadBlocks(this.map, from, to);
    const spent = Date.now() - this.startedAt;
    return this.cameSince === 0 || spent < 1000
      ? null
      : Math.round((unread * spent) / this.cameSince / 1000);
  }

  private async afterInterruption(): Promise<JobOutcome> {
    if (this.context.signal.aborted) return 'again';
    if ((await this.requestedAction()) === 'stop' && this.map)
      return this.finish(said('sittings.stoppedByHand'));
    return this.pause();
  }

  private pause(
    now = this.map
      ? said('sittings.pausedBlocksAreKept', {
          firm: this.map.tally().firm + this.map.tally().mended,
        })
      : said('sittings.pausedNothingWasRead'),
  ): Promise<JobOutcome> {
    return pauseSitting(this.context.commit, this.sitting, now);
  }

  private async finish(why: Said): Promise<JobOutcome> {
    const { station } = this;
    // Asked once: a drive that is gone by now keeps nothing back.
    const after = await this.bench
      .once(async (link) => (await link.blockMedium(station.drive)).health)
      .catch(() => null);
    this.sitting.endedWhy = why;
    this.sitting.healthAfter = after;
    this.sitting.blockPolicy = this.policy;
    await this.context.commit(async (tx) => {
      await tx
        .update(sittings)
        .set({
          state: 'settling',
          now: said('sittings.settlingTheFairCopy'),
          endedWhy: why,
          healthAfter: after,
        })
        .where(eq(sittings.id, this.sitting.id));
      await tellSitting(tx, this.sitting);
    });
    return this.settle();
  }

  private async settle(): Promise<JobOutcome> {
    const { context, sitting, medium, station } = this;
    const device = sitting.device!;
    const map = new ExtentMap(device.blocks, await extentsOf(context.db, sitting.id));
    const { firm, mended, doubtful } = map.tally();
    const given = {
      medium,
      drive: `${station.model}, ${station.serial}`,
      sittingId: sitting.id,
      stationId: station.id,
      operatorId: sitting.startedBy,
    };
    await keepSettled(
      context,
      medium.id,
      async () => (firm + mended + doubtful > 0 ? settleBlocks(context.db, given) : null),
      async (tx, copy) => {
        await this.say(tx, 'device', healthSaid(device.health, sitting.healthAfter));
        await this.say(tx, 'blocks', leftSaid(map, sitting.blockPolicy));
        await this.end(tx, copy !== null);
      },
    );
    return 'done';
  }

  private async end(tx: Executor, hasCopy: boolean): Promise<void> {
    const why = this.sitting.endedWhy ?? asWritten('');
    await tx
      .update(sittings)
      .set({
        state: 'done',
        now: hasCopy ? why : said('sittings.nothingCouldBeRead', { why }),
        requestedAction: null,
        endedAt: new Date(),
      })
      .where(eq(sittings.id, this.sitting.id));
    await tellSitting(tx, this.sitting);
  }

  private async say(tx: Executor, kind: 'device' | 'blocks', what: Said | null): Promise<void> {
    if (what === null) return;
    await note(tx, {
      operatorId: this.sitting.startedBy,
      kind,
      mediumId: this.medium.id,
      stationId: this.station.id,
      sittingId: this.sitting.id,
      what,
    });
  }
}

/** What was asked for and has no sound bytes; null where nothing is left. */
function leftSaid(map: ExtentMap, policy: BlockPolicy | null): Said | null {
  const { from, to } = policy?.range ?? { from: 0, to: map.blocks };
  const left = unsoundRuns(map, from, to).length;
  return left > 0 ? said('sittings.ofBlocksLeftWithout', { left }) : null;
}

/**
 * The user bytes of a raw sector, as most discs have them: behind the header, or behind header and
 * subheader in mode 2.
 */
const userPart = (block: Uint8Array, raw: boolean) =>
  raw ? (block[15] === 2 ? block.subarray(24, 2072) : block.subarray(16, 2064)) : block;

/**
 * A sentence for the ledger where a request brought news; null for one that simply read, or failed
 * as before.
 */
function outcomeSaid(
  { from, count, pass }: ReadBlocks,
  why: 'unreadable' | 'time-out' | null,
  { got, toldWhere }: BlockOutcome,
  gained: number,
  failedBefore: boolean,
): Said | null {
  if (pass > 1 && gained > 0)
    return said('sittings.moreReadForThe', {
      from,
      to: from + count - 1,
      gained,
      pass,
    });
  // One line a hard area, not one a block of it.
  if (pass === 1 && why !== null && !failedBefore)
    return said('sittings.whatIsHardHere', {
      where: toldWhere
        ? said('sittings.block', { block: from + got })
        : said('sittings.aBlockOfTo', { from, to: from + count - 1 }),
      isLate: why === 'time-out',
    });
  return null;
}

/** What a drive says of itself now against before, where something got worse. */
function healthSaid(before: BlockMedium['health'], after: BlockMedium['health']): Said | null {
  if (!before || !after) return null;
  const changed = after.flatMap(({ name, value }) => {
    const was = before.find((each) => each.name === name)?.value;
    return was !== undefined && was !== value
      ? [said('sittings.beforeAfter', { name, was, value })]
      : [];
  });
  return changed.length > 0
    ? said('sittings.healthOfTheDrive', { changed })
    : said('sittings.healthOfTheDriveAs');
}

export function runBlockSitting(
  context: JobContext,
  sitting: Sitting,
  medium: typeof media.$inferSelect,
  station: typeof stations.$inferSelect,
): Promise<JobOutcome> {
  return new BlockSittingRun(context, sitting, medium, station).run();
}
