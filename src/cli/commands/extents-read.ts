/** Reading a device into an image with loss in mind: spindle extents --read. */
import { grouped } from '@/core/text/grouped';
import { asWritten, said, type Said } from '@/core/said';
import { open, stat, type FileHandle } from 'node:fs/promises';
import { resolve } from 'node:path';
import type { ByteSource } from '@/core/bits/byte-source';
import { type BlockMedium } from '@/core/block/device';
import { ExtentMap } from '@/core/block/extent-map';
import { DEFAULT_BLOCK_POLICY, SalvagePlan } from '@/core/block/salvage-plan';
import { applyOutcome } from '@/core/block/apply-outcome';
import { toHex } from '@/core/digester';
import { nodeDigester } from '@/node/digester';
import { LocalLink } from '@/server/platform/devices/local-link';
import { fileSource } from '../files';
import { shown } from '../paths';
import { JobError, tellLine, UsageError } from '../usage';
import { PIECE, sidecarBeside, readSidecar, mapOf, writeSidecar } from './extents-sidecar';

const REQUEST_BYTES = 1 << 20;

/** How often the sidecar is written while a device is read, in milliseconds. */
const CARD_MS = 1000;

async function digestOfSource(source: ByteSource): Promise<string> {
  const hash = nodeDigester.sha256Stream();
  for (let at = 0; at < source.size; at += PIECE) hash.update(await source.read(at, PIECE));
  return toHex(hash.digest());
}

interface ReadOptions {
  from?: number;
  to?: number;
  block?: number;
  tries?: number;
}

/** The device at a path, in the block size that is asked for. */
async function deviceOf(
  link: LocalLink,
  id: string,
  block: number | undefined,
): Promise<BlockMedium> {
  const found = await link.blockMedium(id).catch((error: Error) => {
    throw new JobError(asWritten(error.message), { cause: error });
  });
  if (block === undefined) return found;
  const blocks = Math.floor((found.blocks * found.blockBytes) / block);
  return { ...found, blockBytes: block, blocks };
}

/** What an earlier reading left beside the target; null where this is the first. */
async function earlierReading(target: string, device: BlockMedium) {
  const path = sidecarBeside(target);
  const isThere = await stat(path).catch(() => null);
  const sidecar = isThere && (await readSidecar(path));
  if (sidecar && (sidecar.blocks !== device.blocks || sidecar.blockBytes !== device.blockBytes))
    throw new JobError(
      said('ofExtents.speaksOfAnother', {
        path: shown(path),
        blocks: sidecar.blocks,
        bytes: sidecar.blockBytes,
      }),
    );
  if (!sidecar && (await stat(target).catch(() => null)))
    throw new JobError(said('ofExtents.nothingToGoOnBy', { path: shown(target) }));
  return sidecar;
}

/** Blocks from `from` up to `to`, or to the end of the device. */
function rangeOf({ blocks }: { blocks: number }, from: number, to = blocks) {
  const end = Math.min(to, blocks);
  if (from >= end) throw new UsageError(said('ofExtents.leavesNothing', { from, to: end, blocks }));
  return { from, to: end };
}

/** Reads a device or file by the salvage plan; goes on where an earlier call was broken off. */
export async function read(
  path: string,
  target: string,
  { from = 0, to, block, tries = DEFAULT_BLOCK_POLICY.tries }: ReadOptions,
): Promise<void> {
  const id = 'source';
  const link = new LocalLink([{ id, path: resolve(path) }]);
  try {
    const device = await deviceOf(link, id, block);
    const range = rangeOf(device, from, to);
    const sidecar = await earlierReading(target, device);
    const map = sidecar ? mapOf(sidecar, sidecarBeside(target)) : new ExtentMap(device.blocks);
    const image = await open(target, sidecar ? 'r+' : 'wx').catch(
      (error: NodeJS.ErrnoException) => {
        throw new JobError(
          said('commands.cantBeWritten', { path: shown(target), why: error.code ?? '' }),
        );
      },
    );
    try {
      const reading = { link, id, device, map, image, sidecarPath: sidecarBeside(target) };
      const why = await salvage(reading, { range, tries });
      await image.truncate(device.blocks * device.blockBytes);
      await finish(target, device, map, why);
    } finally {
      await image.close();
    }
  } finally {
    link.close();
  }
}

/** The sidecar with the digest of all, and how it ended. */
async function finish(
  target: string,
  device: BlockMedium,
  map: ExtentMap,
  why: Said,
): Promise<void> {
  const { blockBytes, blocks } = device;
  const source = await fileSource(target);
  const sha256 = await digestOfSource(source).finally(() => source.close());
  await writeSidecar(sidecarBeside(target), map, { sha256, blockBytes, device });
  tellLine(why);
  const bytes = grouped(blocks * blockBytes);
  tellLine(said('ofPacking.bytesIn', { bytes, path: shown(target), sha256 }));
}

interface Reading {
  link: LocalLink;
  id: string;
  device: BlockMedium;
  map: ExtentMap;
  image: FileHandle;
  sidecarPath: string;
}

async function salvage(
  { link, id, device, map, image, sidecarPath }: Reading,
  { range, tries }: { range: { from: number; to: number }; tries: number },
): Promise<Said> {
  const request = Math.max(1, Math.floor(REQUEST_BYTES / device.blockBytes));
  const plan = new SalvagePlan(map, { ...DEFAULT_BLOCK_POLICY, range, request, tries, speeds: [] });
  let kept = 0;
  for (;;) {
    const step = plan.next();
    if (step.kind === 'done') return step.why;
    if (step.kind === 'pass-over') {
      applyOutcome(map, step, null);
      continue;
    }
    const result = await link
      .readBlocks(id, device.blockBytes, {
        from: step.from,
        count: step.count,
        speed: null,
        flags: false,
      })
      .catch((error: Error) => {
        throw new JobError(said('ofExtents.theSameCommandGoesOn', { what: error.message }), {
          cause: error,
        });
      });
    // The bytes first: a sidecar never speaks of what is not there.
    if (result.got > 0)
      await written(
        image.write(result.bytes, 0, result.bytes.length, step.from * device.blockBytes),
      );
    applyOutcome(map, step, {
      got: result.got,
      toldWhere: result.stopped?.toldWhere ?? true,
      pace: 0,
    });
    if (Date.now() - kept < CARD_MS) continue;
    await written(image.datasync());
    await writeSidecar(sidecarPath, map, { sha256: null, blockBytes: device.blockBytes, device });
    kept = Date.now();
  }
}

/** What went before is kept, and its sidecar with it. */
async function written(work: Promise<unknown>): Promise<void> {
  await work.catch((error: NodeJS.ErrnoException) => {
    throw new JobError(said('ofExtents.imageCantBeWrittenOn', { why: error.code ?? '' }), {
      cause: error,
    });
  });
}
