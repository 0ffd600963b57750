/**
 * Writes an image to a hard disk or a disc, block by block, and proves every block by reading it
 * back.
 */
import { eq } from 'drizzle-orm';
import { piecewiseSource, type ByteSource } from '@/core/bits/byte-source';
import type { BlockMedium } from '@/core/block/device';
import { identifyVolumes } from '@/core/identify/identify';
import { sameBytes } from '@/core/bits/same-bytes';
import type { DeviceLink } from '@/benchlink/device-link';
import { blobSource } from '@/server/platform/blobs/read-blob';
import { type fairCopies } from '../copies/tables';
import { writebacks } from './tables';
import { announce } from '@/server/platform/events';
import type { JobContext, JobOutcome } from '@/server/platform/jobs/engine';
import type { BlocksWritten, WritebackState, TargetFound } from '@/server/states';
import { BLOCK_ADVICE, BenchSession } from '@/server/platform/devices/bench-session';
import {
  askBefore,
  endGivenUp,
  endWriteback,
  isCancelled,
  setWritebackState,
  type WritebackFacts,
} from './writeback-state';
import { said, type Said } from '@/core/said';

/** Bytes of one write; those of a medium's blocks are whole in it. */
const PIECE = 1 << 20;
/** Places looked at before anything is written, beside the start. */
const LOOKED_AT = 48;
const START_BYTES = 512 << 10;
/** Blocks read at once while its volumes are looked for. */
const LOOK_BLOCKS = 16;
/** Writings of a piece before it is given up. */
const TRIES = 3;
/** Stretches told of what failed. */
const MAX_TOLD = 4;

class BlockWritebackRun {
  private readonly bench: BenchSession;

  constructor(
    private readonly context: JobContext,
    private readonly facts: WritebackFacts,
    private readonly drive: string,
    private readonly image: ByteSource,
  ) {
    const { db, signal } = context;
    this.bench = new BenchSession(
      drive,
      {
        held: (reason) => this.setState('held', reason),
        back: () => this.setState('writing', said('platform.goingOnWhereIt')),
        givenUp: () => isCancelled(db, facts.row.id),
      },
      signal,
      BLOCK_ADVICE,
    );
  }

  async run(): Promise<JobOutcome> {
    try {
      const { row, target } = this.facts;
      const medium = await this.bench.do((link) => link.blockMedium(this.drive));
      if (!medium) return this.stopped(row.blocks);
      const blocks = Math.ceil(this.image.size / medium.blockBytes);
      if (blocks > medium.blocks)
        return this.end(
          'failed',
          said('writebacks.theImageNeedsBlocks', {
            blocks,
            blockBytes: medium.blockBytes,
            code: target.code,
            blocks2: medium.blocks,
          }),
        );
      if (!row.overwrite && (!row.found || row.found.state === 'data')) {
        const found = await this.bench.do((link) => this.lookAtTarget(link, medium));
        if (!found) return this.stopped(null);
        await this.context.commit((tx) =>
          tx.update(writebacks).set({ found }).where(eq(writebacks.id, row.id)),
        );
        if (found.state === 'data') {
          await askBefore(
            this.context,
            this.facts,
            said('writebacks.itHolds', {
              label: found.label,
              files: found.files.slice(0, 3),
            }),
          );
          return 'done';
        }
      }
      const at: BlocksWritten = row.blocks ?? {
        blockBytes: medium.blockBytes,
        blocks,
        written: 0,
        proved: 0,
        failed: [],
      };
      while (at.written < blocks) {
        const done = (await isCancelled(this.context.db, row.id))
          ? null
          : await this.writePiece(at);
        if (!done) return this.stopped(at);
        await this.keep(at);
      }
      return this.endProof(at, medium);
    } finally {
      this.bench.close();
    }
  }

  /**
   * Writes the next piece and reads it back; tells which of its blocks did not come back as they
   * were written.
   */
  private async writePiece(at: BlocksWritten): Promise<boolean> {
    const { blockBytes } = at;
    const count = Math.min(Math.max(1, Math.floor(PIECE / blockBytes)), at.blocks - at.written);
    const from = at.written;
    const bytes = new Uint8Array(count * blockBytes);
    bytes.set(await this.image.read(from * blockBytes, bytes.length));
    let wrong: { from: number; to: number }[] = [];
    for (let tries = 1; tries <= TRIES; tries++) {
      const back = await this.bench.do(async (link) => {
        await link.writeBlocks(this.drive, blockBytes, from, bytes, this.context.signal);
        return this.compare(link, at, from, bytes);
      });
      if (!back) return false;
      wrong = back;
      if (wrong.length === 0) break;
    }
    at.written += count;
    at.proved += count - wrong.reduce((sum, run) => sum + run.to - run.from, 0);
    at.failed = [...at.failed, ...wrong];
    return true;
  }

  /** Runs of blocks that do not read, or read as something else. */
  private async compare(
    link: DeviceLink,
    { blockBytes }: BlocksWritten,
    first: number,
    bytes: Uint8Array,
  ): Promise<{ from: number; to: number }[]> {
    const wrong: { from: number; to: number }[] = [];
    const add = (block: number) => {
      const last = wrong[wrong.length - 1];
      if (last?.to === block) last.to++;
      else wrong.push({ from: block, to: block + 1 });
    };
    const count = bytes.length / blockBytes;
    for (let done = 0; done < count;) {
      const {
        got,
        bytes: back,
        stopped,
      } = await link.readBlocks(
        this.drive,
        blockBytes,
        { from: first + done, count: count - done, speed: null, flags: false },
        this.context.signal,
      );
      for (let i = 0; i < got; i++)
        if (
          !sameBytes(
            back.subarray(i * blockBytes, (i + 1) * blockBytes),
            bytes.subarray((done + i) * blockBytes, (done + i + 1) * blockBytes),
          )
        )
          add(first + done + i);
      done += got;
      if (!stopped || done >= count) continue;
      if (stopped.toldWhere) add(first + done++);
      else {
        // It only said that the request failed: block by block.
        for (const end = Math.min(count, done + 64); done < end; done++) {
          const one = await link.readBlocks(
            this.drive,
            blockBytes,
            { from: first + done, count: 1, speed: null, flags: false },
            this.context.signal,
          );
          if (
            one.got !== 1 ||
            !sameBytes(one.bytes, bytes.subarray(done * blockBytes, (done + 1) * blockBytes))
          )
            add(first + done);
        }
      }
    }
    return wrong;
  }

  /** What lies at its start and at places all over it. */
  private async lookAtTarget(link: DeviceLink, medium: BlockMedium): Promise<TargetFound> {
    const { blockBytes, blocks } = medium;
    const read = async (from: number, count: number) =>
      (
        await link.readBlocks(
          this.drive,
          blockBytes,
          { from, count: Math.min(count, blocks - from), speed: null, flags: false },
          this.context.signal,
        )
      ).bytes;
    const start = await read(0, Math.floor(START_BYTES / blockBytes));
    let other = 0;
    const isFilled = (bytes: Uint8Array) => bytes.some((byte) => byte !== bytes[0]);
    for (let block = 0; (block + 1) * blockBytes <= start.length; block++)
      if (isFilled(start.subarray(block * blockBytes, (block + 1) * blockBytes))) other++;
    for (let i = 1; i <= LOOKED_AT; i++)
      if (isFilled(await read(Math.floor(((blocks - 1) * i) / LOOKED_AT), 1))) other++;
    if (other === 0)
      return { state: 'blank', sectors: 0, layout: null, label: null, files: [], heldAs: null };
    const source = piecewiseSource(blocks * blockBytes, LOOK_BLOCKS * blockBytes, (piece) =>
      read(piece * LOOK_BLOCKS, LOOK_BLOCKS),
    );
    const { volumes } = await identifyVolumes(source);
    const files = volumes.flatMap(({ volume }) =>
      volume.entries.filter(({ deleted }) => !deleted).map(({ path }) => path),
    );
    return {
      state: 'data',
      sectors: other,
      layout: null,
      label: volumes[0]?.volume.label ?? volumes[0]?.volume.filesystem.toUpperCase() ?? null,
      files: files.slice(0, 6),
      heldAs: null,
    };
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

  private endProof({ blocks, failed }: BlocksWritten, medium: BlockMedium): Promise<JobOutcome> {
    const { target } = this.facts;
    const rest = medium.blocks - blocks;
    if (failed.length === 0)
      return this.end(
        'proved',
        said('writebacks.provedAllBlocksWere', { blocks, rest, code: target.code }),
      );
    const places = failed
      .slice(0, MAX_TOLD)
      .map(({ from, to }) =>
        to - from === 1 ? from.toLocaleString('en') : said('writebacks.to', { from, to: to - 1 }),
      );
    const count = failed.reduce((sum, { from, to }) => sum + to - from, 0);
    return this.end(
      'unproved',
      said('writebacks.notProvedOfBlocks', {
        count,
        blocks,
        places,
        more: failed.length > MAX_TOLD,
        code: target.code,
      }),
    );
  }

  private async end(state: 'proved' | 'unproved' | 'failed', now: Said): Promise<JobOutcome> {
    await endWriteback(this.context, this.facts, state, now);
    return 'done';
  }

  private async stopped(at: BlocksWritten | null): Promise<JobOutcome> {
    if (!(await isCancelled(this.context.db, this.facts.row.id))) return 'again';
    await endGivenUp(
      this.context,
      this.facts,
      said('writebacks.blocksWere', { written: at?.written ?? 0 }),
    );
    return 'done';
  }

  private setState(state: WritebackState, now: Said): Promise<void> {
    return setWritebackState(this.context, this.facts.row, state, now);
  }
}

export async function runBlockWriteback(
  context: JobContext,
  facts: WritebackFacts,
  drive: string,
  copy: typeof fairCopies.$inferSelect,
): Promise<JobOutcome> {
  return new BlockWritebackRun(
    context,
    facts,
    drive,
    await blobSource(context.db, copy.imageBlob),
  ).run();
}
