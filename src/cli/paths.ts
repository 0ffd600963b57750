/** Files named by a command, with those of folders that it names; links are not followed. */
import { said } from '@/core/said';
import { lstat, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { JobError } from './usage';

const MAX_FILES = 100_000;

/** Files in the order of their names, folder by folder. */
export async function filesOf(paths: readonly string[]): Promise<string[]> {
  const files: string[] = [];
  const visit = async (path: string, named: boolean): Promise<void> => {
    const stat = await lstat(path).catch((error: NodeJS.ErrnoException) => {
      throw new JobError(said('commands.cantBeRead', { path, why: error.code ?? '' }));
    });
    if (stat.isDirectory())
      for (const name of (await readdir(path)).sort()) await visit(join(path, name), false);
    else if (stat.isFile()) files.push(path);
    else if (named) throw new JobError(said('commands.isNoFileAndNoFolder', { path }));
    if (files.length > MAX_FILES)
      throw new JobError(said('commands.moreFilesThan', { most: MAX_FILES }));
  };
  for (const path of paths) await visit(path, true);
  return files;
}

/**
 * Text that a terminal shows as it is: nothing in a name may move the cursor or change a colour.
 */
export const shown = (text: string) =>
  text.replace(/[\u0000-\u001f\u007f-\u009f\u202a-\u202e\u2066-\u2069]/g, '\ufffd');
