/**
 * Reads one block device by the salvage plan: every request committed before the next is asked for.
 */
import { describeMedium, type BlockMedium } from '@/core/block/device';
import { applyOutcome, type BlockOutcome } from '@/core/block/apply-outcome';
import { ExtentMap, unreadBlocks, unsoundRuns } from '@/core/block/extent-map';
import { EarlierReadings } from '@/core/optical/earlier-readings';
import { MAX_DEVICE_BYTES } from '@/core/block/limits';
import {
  DEFAULT_BLOCK_POLICY,
  SalvagePlan,
  type BlockPolicy,
  type ReadBlocks,
} from '@/core/block/salvage-plan';
import { identifyVolumes } from '@/core/identify/identify';
import { landmarksOf } from '@/core/identify/landmarks';
import { said, type Said } from '@/core/said';
import type { BlockDriveDescription } from '@/benchlink/messages';
import { tell } from '@/messages/tell';
import { eq } from 'drizzle-orm';
import { createSparseBlob } from '@/server/platform/blobs/blob-store';
import { blobSource } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import { BLOCK_ADVICE } from '@/server/platform/devices/bench-session';
import { announce } from '@/server/platform/events';
import type { JobContext, JobOutcome } from '@/server/platform/jobs/engine';
import { keepSettled } from '../../copies/keeping/keep-settled';
import { settleBlocks } from '../../copies/settling/block-copies';
import { lookingSource } from './block-look';
import { askBlocks, Paces } from './block-reader';
import { healthSaid, leftSaid, outcomeSaid } from './block-said';
import { extentsOf } from './block-sittings';
import { keepBytes, keepExtents } from './block-store';
import { Interrupted, SittingRun, type SittingOf } from '../sitting-run';
import { blockReadings, sittings } from '../tables';

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
/** Pages are told this often at most, in milliseconds. */
const TELL_MS = 200;

export class BlockSitting extends SittingRun {
  private device!: BlockMedium;
  private speeds: readonly number[] = [];
  private map: ExtentMap | null = null;
  private policy!: BlockPolicy;
  private paces!: Paces;
  private readonly earlier = new EarlierReadings();
  private toldAt = 0;
  private startedAt = 0;
  private cameSince = 0;
  private failedLast = false;

  constructor(context: JobContext, about: SittingOf) {
    super(context, about, BLOCK_ADVICE);
  }

  protected async prepare(): Promise<void> {}

  protected async read(): Promise<JobOutcome> {
    const other = await this.meet();
    if (other) return this.pause(other);
    const { sitting, device, speeds } = this;
    const map = (this.map = new ExtentMap(
      device.blocks,
      await extentsOf(this.context.db, sitting.id),
    ));
    this.policy = sitting.blockPolicy ?? this.firstPolicy();
    this.paces = new Paces(this.policy.request);
    await this.begin();
    if (!this.policy.range && !sitting.blockPreview && (await this.look())) return 'done';
    const range = this.policy.range ?? { from: 0, to: device.blocks };
    const plan = new SalvagePlan(map, { ...this.policy, range, speeds });
    for (;;) {
      const asked = await this.asked();
      if (asked) return asked;
      const step = plan.next();
      if (step.kind === 'done') return this.finish(step.why);
      if (step.kind === 'pass-over') applyOutcome(map, step, null);
      else await this.readBlocks(step);
    }
  }

  /** What is in the drive; why it can't be what this sitting began with, where it can't. */
  private async meet(): Promise<Said | null> {
    const { sitting, station } = this;
    const found = await this.bench.do(async (link) => ({
      drive: (await link.drives()).find(
        (each): each is BlockDriveDescription =>
          each.id === station.drive && each.delivers === 'blocks',
      ),
      device: await link.blockMedium(station.drive),
    }));
    if (!found) throw new Interrupted();
    if (!found.drive) throw new Error(`there is no drive ${station.drive} that delivers blocks`);
    this.device = sitting.device ?? found.device;
    this.speeds = found.drive.speeds;
    return notTheSame(sitting.device, found.device);
  }

  private firstPolicy(): BlockPolicy {
    const { gentle } = this.sitting.policy;
    const bytes = gentle ? GENTLE_REQUEST_BYTES : REQUEST_BYTES[this.device.kind];
    const request = Math.max(1, Math.floor(bytes / this.device.blockBytes));
    return { range: null, request, ...DEFAULT_BLOCK_POLICY, gentle };
  }

  private async begin(): Promise<void> {
    const { sitting, device } = this;
    await this.context.commit(async (tx) => {
      if (sitting.captureBlob) return this.set(tx, { state: 'reading' });
      sitting.captureBlob = await createSparseBlob(tx, device.blocks * device.blockBytes);
      sitting.device = device;
      await this.note(tx, 'device', deviceSaid(device));
      await this.set(tx, {
        state: 'reading',
        captureBlob: sitting.captureBlob,
        device,
        blockPolicy: this.policy,
      });
    });
  }

  /**
   * Looks for landmarks in the device's own tables; true where a person is asked how far to read.
   */
  private async look(): Promise<boolean> {
    const { sitting, device } = this;
    const speed = this.policy.gentle ? (this.speeds.at(-1) ?? null) : null;
    const why = said('sittings.lookingAtItsOwn');
    const kept = await blobSource(this.context.db, sitting.captureBlob!);
    const source = lookingSource(device, (from, count) =>
      // A worker that died while it looked left what it had read: nothing is asked for twice.
      unreadBlocks(this.map!, from, from + count) === 0
        ? kept.read(from * device.blockBytes, count * device.blockBytes)
        : this.readBlocks({ kind: 'read', from, count, pass: 1, speed, why }),
    );
    const found = await identifyVolumes(source, { isDevice: true });
    const kinds = [...new Set(found.volumes.map(({ volume }) => volume.filesystem.toUpperCase()))];
    const what =
      kinds.length > 0
        ? said('sittings.kindsFound', { partitions: found.partitions.length, kinds })
        : said('sittings.noVolumeThatIs');
    const sentence = said('sittings.howFar', { about: describeMedium(device), what });
    const landmarks = landmarksOf(found, device.blocks, device.blockBytes);
    const asks = !sitting.unattended;
    if (!asks) this.policy = { ...this.policy, range: { from: 0, to: device.blocks } };
    await this.context.commit(async (tx) => {
      await this.note(tx, 'sitting-preview', said('sittings.itsOwnTablesShow', { what }));
      await this.set(tx, {
        blockPreview: { sentence, landmarks, to: device.blocks },
        blockPolicy: this.policy,
        ...(asks && { state: 'asks', now: sentence }),
      });
    });
    return asks;
  }

  /** Asks once and commits what came; gives its bytes. */
  private async readBlocks(step: ReadBlocks): Promise<Uint8Array> {
    const { device, context } = this;
    const map = this.map!;
    this.startedAt ||= Date.now();
    const result = await this.bench.do((link) =>
      askBlocks(link, this.station.drive, device, step, this.earlier, context.signal),
    );
    if (!result) throw new Interrupted();
    const { from, count, pass, speed } = step;
    const { bytes, ms, why } = result;
    const pace = this.paces.paceOf(speed, result.outcome.got, ms);
    const outcome: BlockOutcome = { ...result.outcome, pace };
    const { got } = outcome;
    const mendedBefore = map.tally().mended;
    const failedBefore = this.failedLast;
    this.failedLast = why !== null;
    // What is sound stays as it is, whatever comes of it now.
    const unsound = got > 0 ? unsoundRuns(map, from, from + got) : [];
    applyOutcome(map, step, outcome);
    this.cameSince += got;
    const gained = map.tally().mended - mendedBefore;
    const news = outcomeSaid(step, why, outcome, gained, failedBefore);
    const { gone, came } = map.takeChanges();
    const { id, captureBlob } = this.sitting;
    const capture = { captureBlob: captureBlob!, blockBytes: device.blockBytes };
    await context.commit(async (tx) => {
      await keepBytes(tx, capture, unsound, { from, bytes });
      await tx.insert(blockReadings).values({ sittingId: id, from, count, got, pass, speed, ms });
      await keepExtents(tx, id, gone, came);
      if (news) await this.note(tx, 'blocks', news);
      await this.tellBlocks(tx, step);
    });
    return bytes;
  }

  private async tellBlocks(tx: Executor, { from, why }: ReadBlocks): Promise<void> {
    const now = Date.now();
    if (now - this.toldAt <= TELL_MS) return;
    this.toldAt = now;
    const { id, stationId } = this.sitting;
    await tx.update(sittings).set({ now: why, state: 'reading' }).where(eq(sittings.id, id));
    await announce(tx, {
      kind: 'blocks',
      sittingId: id,
      stationId,
      now: tell(why),
      tally: this.map!.tally(),
      secondsLeft: this.secondsLeft(),
      at: from,
    });
  }

  /** Of this pass, by how fast blocks came so far. */
  private secondsLeft(): number | null {
    const map = this.map!;
    const { from, to } = this.policy.range ?? { from: 0, to: map.blocks };
    const unread = unreadBlocks(map, from, to);
    const spent = Date.now() - this.startedAt;
    return this.cameSince === 0 || spent < 1000
      ? null
      : Math.round((unread * spent) / this.cameSince / 1000);
  }

  protected resting(): Said {
    if (!this.map) return said('sittings.pausedNothingWasRead');
    const { firm, mended } = this.map.tally();
    return said('sittings.pausedBlocksAreKept', { firm: firm + mended });
  }

  protected hasBegun(): boolean {
    return this.map !== null;
  }

  protected override async finish(why: Said): Promise<JobOutcome> {
    const { station } = this;
    // Asked once: a drive that is gone by now keeps nothing back.
    const healthAfter = await this.bench
      .once(async (link) => (await link.blockMedium(station.drive)).health)
      .catch(() => null);
    this.sitting.blockPolicy = this.policy;
    return this.finishWith(why, said('sittings.settlingTheFairCopy'), { healthAfter });
  }

  protected async settle(): Promise<JobOutcome> {
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
    const nothing = (why: Said) => said('sittings.nothingCouldBeRead', { why });
    await keepSettled(
      context,
      medium.id,
      async () => (firm + mended + doubtful > 0 ? settleBlocks(context.db, given) : null),
      async (tx, copy) => {
        const health = healthSaid(device.health, sitting.healthAfter);
        if (health) await this.note(tx, 'device', health);
        const left = leftSaid(map, sitting.blockPolicy);
        if (left) await this.note(tx, 'blocks', left);
        await this.end(tx, copy !== null, nothing);
      },
    );
    return 'done';
  }
}

/** What a device says of itself when a sitting begins. */
function deviceSaid(device: BlockMedium): Said {
  const { blocks, blockBytes, model, serial, health } = device;
  return said('sittings.theDeviceSaysBlocks', {
    name: [describeMedium(device), ...[model, serial].filter((each) => each !== '')],
    blocks,
    blockBytes,
    health: (health ?? []).map(({ name, value, unit }) => `${name} ${value}${unit && ` ${unit}`}`),
  });
}

/**
 * Why what is in the drive can't be the device that a sitting began with; null where it can.
 */
function notTheSame(before: BlockMedium | null, now: BlockMedium): Said | null {
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
