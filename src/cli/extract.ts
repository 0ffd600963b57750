/** Takes files out of a volume into a folder, never outside it and never over one another. */
import { said } from '@/core/said';
import { lstat, mkdir, realpath, utimes, writeFile } from 'node:fs/promises';
import { join, sep } from 'node:path';
import { UniqueNames } from '@/core/volume/unique-names';
import { directoriesOf, onlyInOthers, pathInView } from '@/core/volume/disc-volume';
import type { Volume, VolumeEntry } from '@/core/volume/volume';
import { writeNew } from './files';
import { JobError } from './usage';

export interface Extracted {
  entry: VolumeEntry;
  writtenAs: string;
}

/**
 * Makes `folder` below `root`; a link in the way is refused, so that nothing is written elsewhere.
 */
export async function makeFolder(root: string, parts: readonly string[]): Promise<string> {
  let folder = root;
  for (const part of parts) {
    folder = join(folder, part);
    const stat = await lstat(folder).catch(() => null);
    if (stat && !stat.isDirectory())
      throw new JobError(said('ofImages.isInTheWay', { path: folder }));
    if (!stat) await mkdir(folder);
  }
  return folder;
}

/** Every file of every directory once, with the place that it is written to. */
export function filesToTake(volume: Volume): { entry: VolumeEntry; place: string }[] {
  const { entries, others } = directoriesOf(volume);
  return [
    ...entries.map((entry) => ({
      entry,
      place: entry.deleted ? `deleted/${entry.path}` : entry.path,
    })),
    ...onlyInOthers(entries, others).map(({ entry, view }) => ({
      entry,
      place: pathInView(view.name, entry.path),
    })),
  ].filter(({ entry: { kind, recoverable } }) => kind === 'file' && recoverable !== 'none');
}

/**
 * Extracts every file that can be had, by the directory with the fullest names; deleted ones into
 * `deleted/`. With `asText`, what can be
 * read in one stands beside it in UTF-8.
 */
export async function extractVolume(
  volume: Volume,
  target: string,
  asText = false,
): Promise<Extracted[]> {
  await mkdir(target, { recursive: true });
  const root = await realpath(target);
  const names = new UniqueNames();
  const done: Extracted[] = [];
  for (const { entry, place } of filesToTake(volume)) {
    const parts = names.pathOf(place).split('/');
    const name = parts.pop()!;
    const path = join(await makeFolder(root, parts), name);
    if (!path.startsWith(root + sep))
      throw new JobError(
        said('ofImages.wouldLeaveTheFolder', { path: JSON.stringify(entry.path) }),
      );
    const stat = await lstat(path).catch(() => null);
    if (stat) throw new JobError(said('ofImages.extractIntoAnEmpty', { path }));
    await writeNew(path, volume.stream(entry));
    if (entry.modified) {
      const time = new Date(entry.modified);
      await utimes(path, time, time);
    }
    done.push({ entry, writtenAs: path.slice(root.length + 1) });
    if (!asText) continue;
    // Loaded only where it is asked for: the tables of keywords and characters are large.
    const { TRANSCRIPT_LIMIT, transcriptOf } = await import('@/core/text/transcript');
    if (entry.bytes > TRANSCRIPT_LIMIT) continue;
    const text = transcriptOf(await volume.read(entry), volume.filesystem, entry.type);
    // Its name is new beside every other: the same rule gave the file its own.
    if (text !== null)
      await writeFile(join(root, names.pathOf(`${path.slice(root.length + 1)}.utf-8.txt`)), text, {
        flag: 'wx',
      });
  }
  return done;
}
