/** `spindle index`: one list of all files on many images and captures. */
import { said } from '@/core/said';
import { tell } from '@/messages/tell';
import { parseArgs } from 'node:util';
import { sliceSource } from '@/core/bits/byte-source';
import { csvRow } from '@/core/csv';
import { identifyVolumes } from '@/core/identify/identify';
import type { Problem } from '@/core/problems';
import { leftOutProblems, ReadingBudget } from '@/core/volume/reading-budget';
import { volumesInside } from '@/core/identify/inside';
import { directoriesOf } from '@/core/volume/disc-volume';
import type { Volume } from '@/core/volume/volume';
import { digestsOf } from '../file-digests';
import { jsonText, writeOut } from '../files';
import { openImage, type OpenedImage } from '../open-image';
import { filesOf, shown } from '../paths';
import { JobError, tellLine, UsageError } from '../usage';

const COLUMNS = [
  'image',
  'partition',
  'filesystem',
  'label',
  'path',
  'type',
  'bytes',
  'modified',
  'locked',
  'deleted',
  'recoverable',
  'damaged',
  'sha256',
  'inside',
  'inDoubt',
] as const;

interface Row {
  image: string;
  partition: number | null;
  filesystem: string;
  label: string | null;
  path: string;
  type: string | null;
  bytes: number;
  modified: string | null;
  locked: boolean;
  deleted: boolean;
  recoverable: string | null;
  damaged: boolean;
  sha256: string | null;
  /** Path of the file that is itself an image, where this is a file of that. */
  inside: string | null;
  /** Sectors of it that no sound reading supplied. */
  inDoubt: number;
}

async function rowsOf(
  image: string,
  source: OpenedImage,
): Promise<{ rows: Row[]; problems: string[] }> {
  const { volumes, problems } = await identifyVolumes(source);
  const rows: Row[] = [];
  const budget = new ReadingBudget(source.size);
  const ended: Problem[] = [];
  const add = async (
    volume: Volume,
    offset: number,
    { partition, inside }: Pick<Row, 'partition' | 'inside'>,
  ) => {
    const digests = digestsOf(volume, { budget, offset, doubts: source.doubts });
    for (const entry of directoriesOf(volume).entries) {
      if (entry.kind !== 'file') continue;
      const { path, type, bytes, modified, locked, deleted, recoverable } = entry;
      const { sha256, damaged, sectorsInDoubt } = await digests.of(entry);
      rows.push({
        image,
        partition,
        filesystem: volume.filesystem,
        label: volume.label,
        path,
        type: type ?? null,
        bytes,
        modified,
        locked,
        deleted,
        recoverable,
        damaged,
        sha256,
        inside,
        inDoubt: sectorsInDoubt,
      });
    }
    ended.push(...digests.ended.problems());
  };
  for (const { volume, partition, offset, length } of volumes) {
    await add(volume, offset, { partition, inside: null });
    for await (const inner of volumesInside(sliceSource(source, offset, length), volume))
      await add(inner.volume, offset, {
        partition,
        inside: inner.partition === null ? inner.inside : `${inner.inside}/${inner.partition}`,
      });
  }
  return {
    rows,
    problems: [
      ...problems,
      ...volumes.flatMap(({ volume }) => volume.problems),
      ...ended,
      ...leftOutProblems(budget.refused),
    ].map((problem) => tell(problem.said)),
  };
}

export async function indexCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { json: { type: 'string' }, csv: { type: 'string' } },
  });
  if (positionals.length === 0)
    throw new UsageError(said('commands.takesFilesOrFolders', { command: 'index' }));
  if (values.json === '-' && values.csv === '-')
    throw new UsageError(said('ofImages.indexTakesOneOutput'));
  const all: Row[] = [];
  let images = 0;
  for (const path of await filesOf(positionals)) {
    const rows = await rowsAt(path);
    all.push(...rows);
    if (rows.length > 0) images++;
  }
  if (values.json) await writeOut(values.json, jsonText(all));
  if (values.csv) await writeOut(values.csv, csvRow(COLUMNS) + all.map(rowAsCsv).join(''));
  if (!values.json && !values.csv) process.stdout.write(all.map(rowLine).join(''));
  tellLine(said('ofImages.filesOnImages', { files: all.length, images }));
}

/**
 * One file that can't be opened, such as a sheet without its image, does not keep the others from
 * the list.
 */
async function rowsAt(path: string): Promise<Row[]> {
  const source = await openImage(path).catch((error: unknown) => {
    if (!(error instanceof JobError)) throw error;
    process.stderr.write(`${shown(path)}: ${shown(error.message)}\n`);
    return null;
  });
  if (!source) return [];
  try {
    const { rows, problems } = await rowsOf(path, source);
    for (const message of problems) process.stderr.write(`${shown(path)}: ${shown(message)}\n`);
    return rows;
  } finally {
    await source.close();
  }
}

const cellOf = (value: Row[keyof Row]) =>
  typeof value === 'boolean' ? (value ? 'yes' : '') : value;

const rowAsCsv = (row: Row): string => csvRow(COLUMNS.map((column) => cellOf(row[column])));

const rowLine = ({ image, inside, path, bytes, modified }: Row): string => {
  const within = inside === null ? '' : `${shown(inside)}/`;
  return `${shown(image)}\t${within}${shown(path)}\t${bytes}\t${modified ?? ''}\n`;
};
