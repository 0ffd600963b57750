/** The sidecar of an image of a device: found, read, and replaced as a whole. */
import { said } from '@/core/said';
import { existsSync } from 'node:fs';
import { rename, writeFile } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';
import { ExtentMap } from '@/core/block/extent-map';
import { ExtentsFile, extentsFile, mapOfFile, type ExtentsAbout } from '@/core/block/extents-file';
import { issueWords } from '../issues';
import { jsonText, readJson } from '../files';
import { shown } from '../paths';
import { JobError } from '../usage';

export const PIECE = 4 << 20;

/**
 * The sidecar beside an image: the same name with another ending. One that was written as
 * `.card.json`, as it was called before, is gone on with.
 */
export function sidecarBeside(image: string): string {
  const beside = (ending: string) =>
    join(dirname(image), `${basename(image, extname(image))}${ending}`);
  const path = beside('.sidecar.json');
  const before = beside('.card.json');
  return !existsSync(path) && existsSync(before) ? before : path;
}

export async function readSidecar(path: string): Promise<ExtentsFile> {
  const parsed = ExtentsFile.safeParse(await readJson(path));
  if (parsed.success) return parsed.data;
  const why = parsed.error.issues.slice(0, 1).map(issueWords).join();
  throw new JobError(said('ofExtents.isNoSidecar', { path: shown(path), why }));
}

export function mapOf(sidecar: ExtentsFile, path: string): ExtentMap {
  try {
    return mapOfFile(sidecar);
  } catch (error) {
    const why = (error as Error).message;
    throw new JobError(said('ofExtents.contradictsItself', { path: shown(path), why }), {
      cause: error,
    });
  }
}

/** Replaced as a whole: a sidecar that was cut short would be no sidecar. */
export async function writeSidecar(
  path: string,
  map: ExtentMap,
  about: ExtentsAbout,
): Promise<void> {
  await writeFile(`${path}.new`, jsonText(extentsFile(map, about)));
  await rename(`${path}.new`, path);
}
