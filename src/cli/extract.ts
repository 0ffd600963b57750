/** Takes files out of a volume into a folder, never outside it and never over one another. */
import { once } from 'node:events';
import { createWriteStream } from 'node:fs';
import { lstat, mkdir, realpath, utimes } from 'node:fs/promises';
import { join, sep } from 'node:path';
import { finished } from 'node:stream/promises';
import { safeName } from '@/core/volume/safe-name';
import type { Volume, VolumeEntry } from '@/core/volume/volume';
import { JobError } from './usage';

export interface Extracted {
  path: string;
  writtenAs: string;
}

/** `name`, or `name (2)` and so on where that is taken; on systems that fold case too. */
function unusedName(name: string, taken: Set<string>): string {
  const dot = name.lastIndexOf('.');
  const [stem, extension] = dot > 0 ? [name.slice(0, dot), name.slice(dot)] : [name, ''];
  let free = name;
  for (let count = 2; taken.has(free.toLowerCase()); count++) free = `${stem} (${count})${extension}`;
  taken.add(free.toLowerCase());
  return free;
}

/** Makes `folder` below `root`; a link in the way is refused, so that nothing is written elsewhere. */
async function makeFolder(root: string, parts: readonly string[]): Promise<string> {
  let folder = root;
  for (const part of parts) {
    folder = join(folder, part);
    const stat = await lstat(folder).catch(() => null);
    if (stat && !stat.isDirectory()) throw new JobError(`${folder} is in the way and no folder.`);
    if (!stat) await mkdir(folder);
  }
  return folder;
}

/** Extracts every file that can be had; deleted ones into `deleted/`, with how much of them is left in the name's place. */
export async function extractVolume(volume: Volume, target: string): Promise<Extracted[]> {
  await mkdir(target, { recursive: true });
  const root = await realpath(target);
  const taken = new Map<string, Set<string>>();
  const done: Extracted[] = [];
  const wanted = (entry: VolumeEntry) => entry.kind === 'file' && entry.recoverable !== 'none';
  for (const entry of volume.entries.filter(wanted)) {
    const parts = entry.path.split('/').map(safeName);
    const name = parts.pop()!;
    const folder = await makeFolder(root, entry.deleted ? ['deleted', ...parts] : parts);
    let names = taken.get(folder);
    if (!names) taken.set(folder, names = new Set());
    const path = join(folder, unusedName(name, names));
    if (!path.startsWith(root + sep)) throw new JobError(`${JSON.stringify(entry.path)} would leave the target folder; it was not written.`);
    const stat = await lstat(path).catch(() => null);
    if (stat) throw new JobError(`${path} exists already; extract into an empty folder.`);
    const out = createWriteStream(path, { flags: 'wx' });
    const finishing = finished(out);
    for await (const bytes of volume.stream(entry)) if (!out.write(bytes)) await Promise.race([once(out, 'drain'), finishing]);
    out.end();
    await finishing;
    if (entry.modified) {
      const time = new Date(entry.modified);
      await utimes(path, time, time);
    }
    done.push({ path: entry.path, writtenAs: path.slice(root.length + 1) });
  }
  return done;
}
