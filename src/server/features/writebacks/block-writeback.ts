/**
 * Writes an image to a hard disk or a disc, block by block, and proves every block by reading it
 * back.
 */
import { grouped } from '@/core/text/grouped';
import { eq } from 'drizzle-orm';
import type { ByteSource } from '@/core/bits/byte-source';
import type { BlockMedium } from '@/core/block/device';
import { said, type Said } from '@/core/said';
import type { BlocksRead, DeviceLink } from '@/benchlink/device-link';
import { BLOCK_ADVICE } from '@/server/platform/devices/bench-session';
import { announce } from '@/server/platform/events';
import type { JobContext, JobOutcome } from '@/server/platform/jobs/engine';
import type { BlocksWritten, TargetFound } from '@/server/states';
import { blocksThatDiffer, type BlockRun } from './block-proof';
import { lookAtBlocks } from './look-at-blocks';
import { writebacks } from './tables';
import { WritebackRun } from './writeback-run';
import type { WritebackFacts } from './writeback-state';

/** Bytes of one write; those of a medium's blocks are whole in it. */
const PIECE = 1 << 20;
/** Writings of a piece before it is given up. */
const TRIES = 3;
/** Stretches told of what failed. */
const MAX_TOLD = 4;

const lengthOf = (runs: readonly BlockRun[]) =>
  runs.reduce((sum, { from, to }) => sum + to - from, 0);

export class BlockWriteback extends WritebackRun {
  private at: BlocksWritten | null = this.facts.row.blocks;

  constructor(
    context: JobContext,
    facts: WritebackFacts,
    drive: string,
    private readonly image: ByteSource,
  ) {
    super(context, facts, drive, BLOCK_ADVICE);
  }

  protected async write(): Promise<JobOutcome> {
    const medium = await this.bench.do((link) => link.blockMedium(this.drive));
    if (!medium) return this.stopped();
    const { blockBytes } = medium;
    const blocks = Math.ceil(this.image.size / blockBytes);
    if (blocks > medium.blocks) return this.end('failed', this.tooSmall(blocks, medium));
    const look = (link: DeviceLink) =>
      lookAtBlocks(medium, async (from, count) => {
        const { bytes } = await this.blocks(
          link,
          blockBytes,
          from,
          Math.min(count, medium.blocks - from),
        );
        return bytes;
      });
    const outcome = await this.meetTarget(look, holds);
    if (outcome) return outcome;
    const at = (this.at ??= { blockBytes, blocks, written: 0, proved: 0, failed: [] });
    while (at.written < blocks) {
      const isWritten = !(await this.isGivenUp()) && (await this.writePiece(at));
      if (!isWritten) return this.stopped();
      await this.keep(at);
    }
    return this.prove(at, medium);
  }

  private blocks(
    link: DeviceLink,
    blockBytes: number,
    from: number,
    count: number,
  ): Promise<BlocksRead> {
    const wanted = { from, count, speed: null, flags: false };
    return link.readBlocks(this.drive, blockBytes, wanted, this.context.signal);
  }

  /**
   * Writes the next piece and reads it back; false when the worker stops or nobody wants it any
   * more.
   */
  private async writePiece(at: BlocksWritten): Promise<boolean> {
    const { blockBytes, written: first } = at;
    const count = Math.min(Math.max(1, Math.floor(PIECE / blockBytes)), at.blocks - first);
    const bytes = new Uint8Array(count * blockBytes);
    bytes.set(await this.image.read(first * blockBytes, bytes.length));
    let wrong: BlockRun[] = [];
    for (let tries = 1; tries <= TRIES; tries++) {
      const back = await this.bench.do(async (link) => {
        await link.writeBlocks(this.drive, blockBytes, first, bytes, this.context.signal);
        const read = (from: number, some: number) => this.blocks(link, blockBytes, from, some);
        return blocksThatDiffer(read, { first, blockBytes, bytes });
      });
      if (!back) return false;
      wrong = back;
      if (wrong.length === 0) break;
    }
    at.written += count;
    at.proved += count - lengthOf(wrong);
    at.failed = [...at.failed, ...wrong];
    return true;
  }

  private async keep(at: BlocksWritten): Promise<void> {
    const { row } = this.facts;
    await this.context.commit(async (tx) => {
      await tx
        .update(writebacks)
        .set({
          state: 'writing',
          blocks: at,
          now: said('writebacks.writtenAndReadBack', { written: at.written, blocks: at.blocks }),
        })
        .where(eq(writebacks.id, row.id));
      await announce(tx, { kind: 'writeback', writebackId: row.id, stationId: row.stationId });
    });
  }

  protected written(): Said {
    return said('writebacks.blocksWere', { written: this.at?.written ?? 0 });
  }

  private tooSmall(blocks: number, medium: BlockMedium): Said {
    return said('writebacks.theImageNeedsBlocks', {
      blocks,
      blockBytes: medium.blockBytes,
      code: this.facts.target.code,
      blocks2: medium.blocks,
    });
  }

  private prove({ blocks, failed }: BlocksWritten, medium: BlockMedium): Promise<JobOutcome> {
    const { code } = this.facts.target;
    const rest = medium.blocks - blocks;
    if (failed.length === 0)
      return this.end('proved', said('writebacks.provedAllBlocksWere', { blocks, rest, code }));
    const places = failed
      .slice(0, MAX_TOLD)
      .map(({ from, to }) =>
        to - from === 1 ? grouped(from) : said('writebacks.to', { from, to: to - 1 }),
      );
    const count = lengthOf(failed);
    const more = failed.length > MAX_TOLD;
    return this.end(
      'unproved',
      said('writebacks.notProvedOfBlocks', { count, blocks, places, more, code }),
    );
  }
}

const holds = ({ label, files }: TargetFound): Said =>
  said('writebacks.itHolds', { label, files: files.slice(0, 3) });
