/**
 * `spindle extents`: what every block of an image of a device is, and which files lost ones touch;
 * reads a device so, and puts damaged copies together.
 */
import { existsSync } from 'node:fs';
import { open, rename, stat, writeFile, type FileHandle } from 'node:fs/promises';
import { basename, dirname, extname, join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import type { ByteSource } from '@/core/bits/byte-source';
import { isRawDisc, type BlockMedium } from '@/core/block/device';
import { discTracks } from '@/core/block/disc-tracks';
import { ExtentMap, unsoundRuns } from '@/core/block/extent-map';
import { ExtentsFile, extentsFile, mapOfFile, type ExtentsAbout } from '@/core/block/extents-file';
import { filesByBlock, filesOn, type Placed } from '@/core/block/files-on-blocks';
import { mergeCopies, mergedSource } from '@/core/block/merge-copies';
import { applyOutcome, DEFAULT_BLOCK_POLICY, SalvagePlan } from '@/core/block/salvage-plan';
import { toHex } from '@/core/digester';
import { identifyVolumes } from '@/core/identify/identify';
import { isScrambled, tracksOf, userSource } from '@/core/optical/disc';
import { RAW_BYTES } from '@/core/optical/raw-sector';
import { GRADES } from '@/core/reading/grades';
import { nodeDigester } from '@/node/digester';
import { LocalLink } from '@/server/platform/devices/local-link';
import { fileSource, readJson, writeNew, writeOut } from './files';
import { openDisc } from './open-disc';
import { shown } from './paths';
import { JobError, UsageError } from './usage';

const PIECE = 4 << 20;
const REQUEST_BYTES = 1 << 20;
/** How often the sidecar is written while a device is read, in milliseconds. */
const CARD_MS = 1000;
const grouped = (count: number) => count.toLocaleString('en');

/**
 * The sidecar beside an image: the same name with another ending. One that was written as
 * `.card.json`, as it was called before, is gone on with.
 */
function sidecarBeside(image: string): string {
  const beside = (ending: string) =>
    join(dirname(image), `${basename(image, extname(image))}${ending}`);
  const path = beside('.sidecar.json');
  const before = beside('.card.json');
  return !existsSync(path) && existsSync(before) ? before : path;
}

async function readSidecar(path: string): Promise<ExtentsFile> {
  const parsed = ExtentsFile.safeParse(await readJson(path));
  if (!parsed.success)
    throw new JobError(
      `${shown(path)} is no sidecar of an image of a device: ` +
        `${parsed.error.issues[0]?.path.join('.')}: ${parsed.error.issues[0]?.message}.`,
    );
  return parsed.data;
}

function mapOf(sidecar: ExtentsFile, path: string): ExtentMap {
  try {
    return mapOfFile(sidecar);
  } catch (error) {
    throw new JobError(`${shown(path)} contradicts itself: ${(error as Error).message}.`, {
      cause: error,
    });
  }
}

async function digestOfSource(source: ByteSource): Promise<string> {
  const hash = nodeDigester.sha256Stream();
  for (let at = 0; at < source.size; at += PIECE) hash.update(await source.read(at, PIECE));
  return toHex(hash.digest());
}

export async function extentsCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      json: { type: 'string' },
      out: { type: 'string' },
      read: { type: 'boolean' },
      merge: { type: 'boolean' },
      from: { type: 'string' },
      to: { type: 'string' },
      block: { type: 'string' },
      tries: { type: 'string' },
    },
  });
  const [path, ...more] = positionals;
  if (!path) throw new UsageError('extents takes an image, its sidecar, or a device to read');
  if (values.merge) {
    if (!values.out || more.length === 0)
      throw new UsageError('extents --merge takes two or more images and --out FILE');
    return merge(positionals, values.out);
  }
  if (more.length > 0) throw new UsageError('extents takes one image, or several with --merge');
  if (values.read) {
    if (!values.out) throw new UsageError('extents --read needs --out FILE');
    return read(path, values.out, {
      from: number(values.from),
      to: number(values.to),
      block: number(values.block),
      tries: number(values.tries),
    });
  }
  await list(path, values.json);
}

function number(text: string | undefined): number | undefined {
  if (text === undefined) return undefined;
  if (!/^\d{1,15}$/.test(text)) throw new UsageError(`${text} is no number`);
  return Number(text);
}

/** Every extent, the tally, and the files that unsound ones touch. */
async function list(path: string, json: string | undefined): Promise<void> {
  const isSidecar = path.endsWith('.json');
  const sidecar = await readSidecar(isSidecar ? path : sidecarBeside(path));
  const map = mapOf(sidecar, path);
  const placed = isSidecar ? [] : await filesPlaced(path, sidecar);
  const lost = unsoundRuns(map).map(({ from, to }) => ({
    from,
    count: to - from,
    files: filesOn(placed, from, to),
  }));
  if (json)
    await writeOut(
      json,
      `${JSON.stringify({ blockBytes: sidecar.blockBytes, blocks: sidecar.blocks, tally: map.tally(), extents: sidecar.extents, lost }, null, 1)}\n`,
    );
  if (json === '-') return;
  for (const { from, to, grade, tries } of map.extents())
    process.stdout.write(
      `${String(from).padStart(12)}  ${String(to - from).padStart(12)}  ` +
        `${grade.padEnd(9)}${tries > 1 ? `  ${tries} tries` : ''}\n`,
    );
  process.stderr.write(
    `${grouped(sidecar.blocks)} blocks of ${sidecar.blockBytes} bytes: ${GRADES.filter(
      (grade) => map.tally()[grade] > 0,
    )
      .map((grade) => `${grouped(map.tally()[grade])} ${grade}`)
      .join(', ')}\n`,
  );
  for (const { from, count, files } of lost.slice(0, 40))
    process.stderr.write(
      `blocks ${grouped(from)} to ${grouped(from + count - 1)} are not sound: ` +
        `${files.length > 0 ? files.slice(0, 8).map(shown).join(', ') + (files.length > 8 ? ` and ${files.length - 8} more` : '') : 'no file'}\n`,
    );
}

/**
 * The files of an image by its blocks; of a raw one those of its first track of data, and its
 * tracks of sound.
 */
async function filesPlaced(path: string, { blockBytes, device }: ExtentsFile): Promise<Placed[]> {
  const disc = blockBytes === RAW_BYTES ? await openDisc(path) : null;
  const source = disc ? disc.sources[0]! : await fileSource(path);
  try {
    const tracks = disc
      ? device && isRawDisc(device)
        ? discTracks(device)
        : tracksOf(disc.sheet, [source.size]).tracks
      : [];
    const data = tracks.find(({ type }) => type !== 'AUDIO');
    const listed =
      disc && !data
        ? []
        : (
            await identifyVolumes(
              data ? userSource(source, data, await isScrambled(source, data)) : source,
            )
          ).volumes;
    return filesByBlock(
      { blockBytes, tracks },
      listed.map(({ offset, partition, volume }) => ({
        offset,
        partition,
        entries: volume.entries,
      })),
    );
  } finally {
    await source.close();
  }
}

interface ReadOptions {
  from?: number;
  to?: number;
  block?: number;
  tries?: number;
}

/** Reads a device or file by the salvage plan; goes on where an earlier call was broken off. */
async function read(
  path: string,
  target: string,
  { from = 0, to, block, tries = DEFAULT_BLOCK_POLICY.tries }: ReadOptions,
): Promise<void> {
  const id = 'source';
  const link = new LocalLink([{ id, path: resolve(path) }]);
  try {
    const found = await link.blockMedium(id).catch((error: Error) => {
      throw new JobError(error.message, { cause: error });
    });
    const device: BlockMedium =
      block === undefined
        ? found
        : {
            ...found,
            blockBytes: block,
            blocks: Math.floor((found.blocks * found.blockBytes) / block),
          };
    const end = Math.min(to ?? device.blocks, device.blocks);
    if (from >= end)
      throw new UsageError(
        `from ${from} to ${end} leaves nothing to read of ${device.blocks} blocks`,
      );
    const before = await stat(sidecarBeside(target)).catch(() => null);
    const sidecar = before && (await readSidecar(sidecarBeside(target)));
    if (sidecar && (sidecar.blocks !== device.blocks || sidecar.blockBytes !== device.blockBytes))
      throw new JobError(
        `${shown(sidecarBeside(target))} speaks of another device: ${sidecar.blocks} blocks of ` +
          `${sidecar.blockBytes} bytes. Nothing was read.`,
      );
    if (!sidecar && (await stat(target).catch(() => null)))
      throw new JobError(
        `${shown(target)} exists already, and there is no sidecar beside it to go on by; it ` +
          'was not touched.',
      );
    const map = sidecar ? mapOf(sidecar, sidecarBeside(target)) : new ExtentMap(device.blocks);
    const image = await open(target, sidecar ? 'r+' : 'wx').catch(
      (error: NodeJS.ErrnoException) => {
        throw new JobError(`${shown(target)} can't be written (${error.code}).`);
      },
    );
    try {
      const why = await salvage(link, id, device, map, image, sidecarBeside(target), {
        range: { from, to: end },
        tries,
      });
      await image.truncate(device.blocks * device.blockBytes);
      const source = await fileSource(target);
      const sha256 = await digestOfSource(source).finally(() => source.close());
      await writeSidecar(sidecarBeside(target), map, {
        sha256,
        blockBytes: device.blockBytes,
        device,
      });
      process.stderr.write(
        `${why}\n${grouped(device.blocks * device.blockBytes)} bytes in ` +
          `${shown(target)}; SHA-256 ${sha256}\n`,
      );
    } finally {
      await image.close();
    }
  } finally {
    link.close();
  }
}

async function salvage(
  link: LocalLink,
  id: string,
  device: BlockMedium,
  map: ExtentMap,
  image: FileHandle,
  sidecarPath: string,
  { range, tries }: { range: { from: number; to: number }; tries: number },
): Promise<string> {
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
        throw new JobError(`${error.message} What was read is kept; the same command goes on.`, {
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
    throw new JobError(
      `The image can't be written on (${error.code}). What was read is kept; make ` +
        'room, and the same command goes on.',
      { cause: error },
    );
  });
}

/** Replaced as a whole: a sidecar that was cut short would be no sidecar. */
async function writeSidecar(path: string, map: ExtentMap, about: ExtentsAbout): Promise<void> {
  await writeFile(`${path}.new`, `${JSON.stringify(extentsFile(map, about), null, 1)}\n`);
  await rename(`${path}.new`, path);
}

/** Damaged copies of one disk made into one, with a sidecar that says so. */
async function merge(paths: readonly string[], target: string): Promise<void> {
  const sidecars = await Promise.all(paths.map((path) => readSidecar(sidecarBeside(path))));
  const { blockBytes } = sidecars[0]!;
  if (sidecars.some((sidecar) => sidecar.blockBytes !== blockBytes))
    throw new JobError(
      'The images have blocks of different sizes; they are not copies of one disk.',
    );
  const sources = await Promise.all(paths.map(fileSource));
  try {
    const copies = sources.map((source, i) => ({ source, map: mapOf(sidecars[i]!, paths[i]!) }));
    const merged = await mergeCopies(copies, blockBytes);
    if (merged.another)
      throw new JobError(
        'The images have next to nothing in common: they are not copies of one disk. ' +
          'Nothing was written.',
      );
    const source = mergedSource(copies, merged, blockBytes);
    const hash = nodeDigester.sha256Stream();
    await writeNew(
      target,
      (async function* () {
        for (let at = 0; at < source.size; at += PIECE) {
          const piece = await source.read(at, PIECE);
          hash.update(piece);
          yield piece;
        }
      })(),
    );
    const sha256 = toHex(hash.digest());
    await writeSidecar(sidecarBeside(target), merged.map, {
      sha256,
      blockBytes,
      device: sidecars[0]!.device,
      readings: paths.length,
      differing: merged.differing,
    });
    const { firm, mended } = merged.map.tally();
    process.stderr.write(
      `${grouped(firm + mended)} of ${grouped(merged.map.blocks)} blocks sound, ` +
        `${grouped(merged.compared)} of them in two copies or ` +
        `more${
          merged.differing.length > 0
            ? `; they differ at ${merged.differing
                .slice(0, 10)
                .map(({ from, to }) => `${from}–${to - 1}`)
                .join(', ')}`
            : ''
        }\nSHA-256 ` +
        `${sha256}\n`,
    );
  } finally {
    for (const source of sources) await source.close();
  }
}
