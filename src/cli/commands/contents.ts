/** `spindle contents`: the volumes and files of an image. */
import { said } from '@/core/said';
import { tell, toldProblem } from '@/messages/tell';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { sliceSource, type ByteSource } from '@/core/bits/byte-source';
import type { FoundVolume } from '@/core/identify/found-volume';
import { identifyVolumes } from '@/core/identify/identify';
import { volumesInside } from '@/core/identify/inside';
import { SHIPPED_LAYOUTS } from '@/core/layout/shipped';
import { sectorsIn, type Doubts } from '@/core/block/image-doubts';
import { doubtsIn } from '@/core/volume/extent-source';
import { leftOutProblems, ReadingBudget } from '@/core/volume/reading-budget';
import { directoriesOf, viewsOf } from '@/core/volume/disc-volume';
import type { SoundSample } from '@/core/sound/sound';
import { soundsOf } from '@/core/sound/sounds-of';
import type { Volume, VolumeEntry } from '@/core/volume/volume';
import { extractVolume, type Extracted } from '../extract';
import { digestsOf, type OnImage } from '../file-digests';
import { issueWords } from '../issues';
import { jsonText, readJson, writeOut } from '../files';
import { openImage, type OpenedImage } from '../open-image';
import { shown } from '../paths';
import { JobError, UsageError } from '../usage';
import { Problem } from '@/core/problems';
import { Partition } from '@/core/volume/partitioned/partitions';

/** A volume of the image itself, or one that is kept in a file on such a volume. */
type Listed = FoundVolume & { inside: string | null };

async function innerVolumes(source: ByteSource, found: readonly FoundVolume[]): Promise<Listed[]> {
  const inner: Listed[] = [];
  for (const { volume, partition, offset, length } of found) {
    for await (const each of volumesInside(sliceSource(source, offset, length), volume)) {
      const { inside, partition: part, volume: opened, confidence, reasons } = each;
      inner.push({
        volume: opened,
        partition,
        offset,
        length,
        confidence,
        reasons,
        inside: [partition, inside, part].filter((step) => step !== null).join('/'),
      });
    }
  }
  return inner;
}

async function filesJson(
  entries: readonly VolumeEntry[],
  digests: ReturnType<typeof digestsOf>,
): Promise<object[]> {
  const files = [];
  for (const entry of entries) {
    if (entry.kind !== 'file') continue;
    const { path, bytes, type, locked, modified, deleted, recoverable, link } = entry;
    if (link !== undefined) {
      files.push({ path, link, modified });
      continue;
    }
    const { sha256, damaged, sectorsInDoubt, doubts } = await digests.of(entry);
    files.push({
      path,
      bytes,
      sha256,
      ...(type !== undefined && { type }),
      locked,
      modified,
      deleted,
      recoverable,
      damaged,
      ...(sectorsInDoubt > 0 && { sectorsInDoubt, doubts }),
    });
  }
  return files;
}

export async function volumeJson(
  { volume, partition, offset, length, confidence, reasons, inside }: Listed,
  { budget, doubts }: Pick<OnImage, 'budget' | 'doubts'>,
): Promise<object> {
  const refusedBefore = budget.refused;
  const digests = digestsOf(volume, { budget, offset, doubts });
  const files = await filesJson(volume.entries, digests);
  const views: Record<string, object[]> = {};
  for (const view of viewsOf(volume)) views[view.name] = await filesJson(view.entries, digests);
  const { filesystem, label, freeBytes, problems } = volume;
  return {
    filesystem,
    ...(inside === null ? { partition, label, offset, length } : { inside, label }),
    freeBytes,
    confidence,
    reasons: reasons.map(tell),
    files,
    ...views,
    problems: [
      ...problems,
      ...digests.ended.problems(),
      ...leftOutProblems(budget.refused - refusedBefore),
    ].map(toldProblem),
  };
}

/** A CP/M disk parameter set from a JSON file; null where none is asked for. */
async function parametersFrom(path: string | undefined) {
  if (!path) return undefined;
  const { ParametersFile, parametersOf } = await import('@/core/volume/cpm/parameters-file');
  const parsed = ParametersFile.safeParse(await readJson(path));
  const parameters = parsed.success ? parametersOf(parsed.data, SHIPPED_LAYOUTS) : null;
  if (!parameters)
    throw new JobError(
      said('ofImages.isNoParameterSet', {
        path,
        why: parsed.success
          ? said('ofImages.parametersNeed')
          : parsed.error.issues.map(issueWords).join('; '),
      }),
    );
  return parameters;
}

type Inner = Awaited<ReturnType<typeof innerVolumes>>[number];

const countFiles = (volume: Volume): number =>
  directoriesOf(volume).entries.filter(({ kind }) => kind === 'file').length;

function linesOf(volume: Volume): string[] {
  const { filesystem, label, freeBytes, problems } = volume;
  const name = label ? said('ofImages.labelled', { filesystem, label: shown(label) }) : filesystem;
  return [
    tell(said('ofImages.volumeHolds', { name, files: countFiles(volume), free: freeBytes })),
    ...problems.map(({ said }) => `  ${shown(tell(said))}`),
  ];
}

/** Sectors of a file that no sound reading supplied. */
const doubtful = ({ extents }: VolumeEntry, { offset }: Listed, inDoubt: Doubts): number =>
  sectorsIn({ ...inDoubt, ranges: doubtsIn(extents, offset, inDoubt.ranges) });

const doubtWords = (sectors: number): string => tell(said('ofImages.sectorsInDoubt', { sectors }));

/** Samples of a volume of sounds, by their files. */
async function samplesByFile(
  { volume, offset, length }: Listed,
  size: number,
): Promise<ReadonlyMap<VolumeEntry, SoundSample>> {
  const sounds = await soundsOf(volume, { imageBytes: Math.min(length, size - offset) });
  const samples = sounds?.folders.flatMap((folder) => folder.samples) ?? [];
  return new Map(samples.map((sample) => [sample.entry, sample]));
}

const soundWords = ({ frames, rateHz }: SoundSample): string =>
  tell(said('ofImages.soundOf', { seconds: (frames / rateHz).toFixed(3), rateHz }));

const filesListed = (
  listed: Listed,
  inDoubt: Doubts,
  samples: ReadonlyMap<VolumeEntry, SoundSample>,
): string =>
  directoriesOf(listed.volume)
    .entries.filter(({ kind }) => kind === 'file')
    .map((entry) => {
      const { path, bytes, modified, deleted, recoverable } = entry;
      const size = String(bytes).padStart(10);
      const sectors = doubtful(entry, listed, inDoubt);
      const sample = samples.get(entry);
      const cells = [
        size,
        modified ?? '-'.padEnd(19),
        shown(path),
        ...(deleted
          ? [tell(said('ofImages.wasDeleted', { recoverable: recoverable ?? 'none' }))]
          : []),
        ...(sectors > 0 ? [`(${doubtWords(sectors)})`] : []),
        ...(sample ? [soundWords(sample)] : []),
      ];
      return `${cells.join('  ')}\n`;
    })
    .join('');

/** Of files that were written, those that are not sound. */
const doubtfulLines = (done: readonly Extracted[], listed: Listed, inDoubt: Doubts): string[] =>
  done
    .map(({ entry, writtenAs }) => ({ writtenAs, sectors: doubtful(entry, listed, inDoubt) }))
    .filter(({ sectors }) => sectors > 0)
    .map(({ writtenAs, sectors }) => `  ${shown(writtenAs)}: ${doubtWords(sectors)}`);

const innerLine = ({ inside, volume }: Inner): string =>
  tell(
    said('ofImages.isItselfAnImage', {
      path: shown(inside!),
      filesystem: volume.filesystem,
      files: countFiles(volume),
    }),
  );

function nowhere(wanted: string, inner: readonly Inner[]): JobError {
  const others = inner.slice(0, 5).map(({ inside }) => shown(inside!));
  const path = shown(wanted);
  return new JobError(
    others.length > 0
      ? said('ofImages.thereAreOthersAt', { path, others })
      : said('ofImages.thereIsNoImageAt', { path }),
  );
}

export async function contentsCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      json: { type: 'string' },
      extract: { type: 'string' },
      layout: { type: 'string' },
      inside: { type: 'string' },
      text: { type: 'boolean' },
    },
  });
  const [path, ...more] = positionals;
  if (!path || more.length > 0)
    throw new UsageError(said('commands.takesOneImage', { command: 'contents' }));
  const source = await openImage(path);
  try {
    const cpm = await parametersFrom(values.layout);
    const { volumes: found, problems, partitions } = await identifyVolumes(source, { cpm });
    const inner = await innerVolumes(source, found);
    const outer = found.map((each): Listed => ({ ...each, inside: null }));
    const volumes =
      values.inside === undefined ? outer : inner.filter(({ inside }) => inside === values.inside);
    if (values.inside !== undefined && volumes.length === 0) throw nowhere(values.inside, inner);
    await writeListing(values, inner, partitions, volumes, problems, source);
    const lines: string[] = problems.map(({ said }) => tell(said));
    for (const each of volumes) {
      lines.push(...linesOf(each.volume));
      if (values.json !== '-') {
        const samples = await samplesByFile(each, source.size);
        process.stdout.write(filesListed(each, source.doubts(), samples));
      }
      if (!values.extract) continue;
      const part = String(each.partition ?? volumes.indexOf(each) + 1);
      const target = volumes.length > 1 ? join(values.extract, part) : values.extract;
      const done = await extractVolume(each.volume, target, values.text ?? false);
      const written = said('ofImages.filesWrittenTo', { count: done.length, folder: target });
      lines.push(`  ${tell(written)}`);
      lines.push(...doubtfulLines(done, each, source.doubts()));
    }
    if (values.inside === undefined) lines.push(...inner.map(innerLine));
    process.stderr.write(`${lines.join('\n')}\n`);
  } finally {
    await source.close();
  }
}

async function writeListing(
  values: {
    json?: string | undefined;
    extract?: string | undefined;
    layout?: string | undefined;
    inside?: string | undefined;
    text?: boolean | undefined;
  },
  inner: Listed[],
  partitions: Partition[],
  volumes: Listed[],
  problems: Problem[],
  source: OpenedImage,
) {
  if (values.json) {
    const below = values.inside === undefined ? inner : [];
    const { size, doubts } = source;
    const onImage = { budget: new ReadingBudget(size), doubts };
    const listed = async (all: readonly Listed[]) => {
      const jsons: object[] = [];
      for (const each of all) jsons.push(await volumeJson(each, onImage));
      return jsons;
    };
    const json = {
      ...(partitions.length > 0 && { partitionTable: 'mbr', partitions }),
      volumes: await listed(volumes),
      ...(below.length > 0 && { inside: await listed(below) }),
      problems: problems.map(toldProblem),
    };
    await writeOut(values.json, jsonText(json));
  }
}
