/**
 * `spindle extents`: what every block of an image of a device is, and which files lost ones touch;
 * reads a device so, and puts damaged copies together.
 */
import { said } from '@/core/said';
import { tell } from '@/messages/tell';
import { grouped } from '@/core/text/grouped';
import { parseArgs } from 'node:util';
import { isRawDisc } from '@/core/block/device';
import { discTracks } from '@/core/block/disc-tracks';
import { unsoundRuns } from '@/core/block/extent-map';
import { ExtentsFile } from '@/core/block/extents-file';
import { filesByBlock, filesOn, type Placed } from '@/core/block/files-on-blocks';
import { mergeCopies, mergedSource } from '@/core/block/merge-copies';
import { toHex } from '@/core/digester';
import { identifyVolumes } from '@/core/identify/identify';
import { discData } from '@/core/optical/disc-data';
import { seenTracks } from '@/core/optical/seen-tracks';
import { RAW_BYTES } from '@/core/optical/raw-sector';
import { GRADES } from '@/core/reading/grades';
import { nodeDigester } from '@/node/digester';
import { fileSource, jsonText, writeNew, writeOut } from '../files';
import { openDisc } from '../open-disc';
import { shown } from '../paths';
import { JobError, tellLine, UsageError } from '../usage';
import { read } from './extents-read';
import { PIECE, sidecarBeside, readSidecar, mapOf, writeSidecar } from './extents-sidecar';

const OPTIONS = {
  json: { type: 'string' },
  out: { type: 'string' },
  read: { type: 'boolean' },
  merge: { type: 'boolean' },
  from: { type: 'string' },
  to: { type: 'string' },
  block: { type: 'string' },
  tries: { type: 'string' },
} as const;

export async function extentsCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({ args, allowPositionals: true, options: OPTIONS });
  const [path, ...more] = positionals;
  if (!path) throw new UsageError(said('ofExtents.extentsTakes'));
  if (values.merge) {
    if (!values.out || more.length === 0) throw new UsageError(said('ofExtents.mergeTakes'));
    return merge(positionals, values.out);
  }
  if (more.length > 0) throw new UsageError(said('ofExtents.extentsTakesOne'));
  if (values.read) {
    if (!values.out) throw new UsageError(said('ofExtents.readNeeds'));
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
  if (!/^\d{1,15}$/.test(text)) throw new UsageError(said('commands.isNoNumber', { text }));
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
      jsonText({
        blockBytes: sidecar.blockBytes,
        blocks: sidecar.blocks,
        tally: map.tally(),
        extents: sidecar.extents,
        lost,
      }),
    );
  if (json === '-') return;
  for (const { from, to, grade, tries } of map.extents())
    process.stdout.write(
      `${String(from).padStart(12)}  ${String(to - from).padStart(12)}  ` +
        `${grade.padEnd(9)}${tries > 1 ? `  ${triesWords(tries)}` : ''}\n`,
    );
  const tally = map.tally();
  const grades = GRADES.filter((grade) => tally[grade] > 0);
  tellLine(
    said('ofExtents.blocksByGrade', {
      blocks: grouped(sidecar.blocks),
      bytes: sidecar.blockBytes,
      grades: grades.map((grade) => `${grouped(tally[grade])} ${grade}`),
    }),
  );
  for (const run of lost.slice(0, MOST_RUNS)) tellLine(runIsNotSound(run));
}

/** Runs of blocks that are not sound, and files of each, that are named beside the list. */
const MOST_RUNS = 40;
const MOST_FILES = 8;

const triesWords = (count: number): string => tell(said('ofExtents.tries', { count }));

function runIsNotSound({ from, count, files }: { from: number; count: number; files: string[] }) {
  const more = Math.max(0, files.length - MOST_FILES);
  return said('ofExtents.areNotSound', {
    from: grouped(from),
    to: grouped(from + count - 1),
    files:
      files.length > 0
        ? said('ofExtents.andMore', { files: files.slice(0, MOST_FILES).map(shown), more })
        : said('ofExtents.noFile'),
  });
}

/**
 * The files of an image by its blocks; of a raw one those of its data, and its tracks of sound.
 */
async function filesPlaced(path: string, { blockBytes, device }: ExtentsFile): Promise<Placed[]> {
  const disc = blockBytes === RAW_BYTES ? await openDisc(path) : null;
  const source = disc ? disc.sources[0]! : await fileSource(path);
  try {
    const tracks = disc
      ? device && isRawDisc(device)
        ? discTracks(device)
        : (await seenTracks(disc.sheet, [source])).tracks
      : [];
    const image = disc ? await discData([source], tracks) : source;
    const listed = image ? (await identifyVolumes(image)).volumes : [];
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

/** Places that are named where copies differ. */
const MOST_PLACES = 10;

function mergedWords({ map, compared, differing }: Awaited<ReturnType<typeof mergeCopies>>) {
  const { firm, mended } = map.tally();
  const what = said('ofExtents.blocksMerged', {
    sound: grouped(firm + mended),
    all: grouped(map.blocks),
    compared: grouped(compared),
  });
  const places = differing.slice(0, MOST_PLACES).map(({ from, to }) => `${from}–${to - 1}`);
  return places.length > 0 ? said('ofExtents.theyDifferAt', { what, places }) : what;
}

/** Damaged copies of one disk made into one, with a sidecar that says so. */
async function merge(paths: readonly string[], target: string): Promise<void> {
  const sidecars = await Promise.all(paths.map((path) => readSidecar(sidecarBeside(path))));
  const { blockBytes } = sidecars[0]!;
  if (sidecars.some((sidecar) => sidecar.blockBytes !== blockBytes))
    throw new JobError(said('ofExtents.blocksOfOtherSizes'));
  const sources = await Promise.all(paths.map(fileSource));
  try {
    const copies = sources.map((source, i) => ({ source, map: mapOf(sidecars[i]!, paths[i]!) }));
    const merged = await mergeCopies(copies, blockBytes);
    if (merged.another) throw new JobError(said('ofExtents.nothingInCommon'));
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
    tellLine(mergedWords(merged));
    process.stderr.write(`SHA-256 ${sha256}\n`);
  } finally {
    for (const source of sources) await source.close();
  }
}
