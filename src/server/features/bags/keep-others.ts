/**
 * What is in a bag of another house, or beside our own folders: images and captures become media,
 * pictures, texts and PDFs papers of the lot; what is neither is told, and the bag kept for it.
 */
import { readAll, type ByteSource } from '@/core/bits/byte-source';
import { looksLikeCue, parseCue } from '@/core/optical/cue';
import { storeSource } from '@/server/platform/blobs/store-source';
import type { Database } from '@/server/platform/db/database';
import { UserError } from '@/server/platform/errors';
import { UNWATCHED } from '../copies/settling/watched-decode';
import { examineFile } from '../intake/intake';
import { PAPER_LIMIT, paperOf } from '../media/papers';

type Files = ReadonlyMap<string, ByteSource>;
type ExaminedOther =
  | { kind: 'medium'; file: Awaited<ReturnType<typeof examineFile>> }
  | { kind: 'paper'; paper: NonNullable<ReturnType<typeof paperOf>> }
  | { kind: 'neither' };

/** Whether a file could not be made anything of; all else is trouble of ours. */
export const isNoImage = (error: unknown): boolean =>
  error instanceof UserError && error.status === 422;

const MAX_SHEET = 100_000;
const IS_SHEET = /\.cue$/i;

/** The sheet beside an image that speaks of it and of nothing else. */
export async function sheetFor(path: string, files: Files): Promise<string | null> {
  const folder = path.slice(0, path.lastIndexOf('/') + 1);
  const name = path.slice(folder.length);
  for (const [other, source] of files) {
    const isBeside = other.startsWith(folder) && !other.slice(folder.length).includes('/');
    if (!isBeside || !IS_SHEET.test(other) || source.size > MAX_SHEET) continue;
    const text = new TextDecoder().decode(await readAll(source, MAX_SHEET));
    if (looksLikeCue(text) && parseCue(text).files.join('/') === name) return text;
  }
  return null;
}

interface About {
  lender: string;
  lot: string;
  signal: AbortSignal;
}

/** What a file is, by its content; a paper where it is one, else an image where it can be. */
export async function examineOther(
  db: Database,
  path: string,
  files: Files,
  { lender, lot, signal }: About,
): Promise<ExaminedOther> {
  const source = files.get(path)!;
  const asPaper = source.size <= PAPER_LIMIT && paperOf(path, await readAll(source, PAPER_LIMIT));
  if (asPaper) return { kind: 'paper', paper: asPaper };
  if (source.size === 0) return { kind: 'neither' };
  const stored = await storeSource(db, source);
  const about = { name: path, cue: await sheetFor(path, files), lender, lot };
  try {
    const file = await examineFile(db, about, stored, { ...UNWATCHED, signal });
    return { kind: 'medium', file };
  } catch (error) {
    if (isNoImage(error)) return { kind: 'neither' };
    throw error;
  }
}
