/**
 * What lies on the volumes of a copy, as a page lists it: so many entries at once and more when
 * asked, counts and pictures of all of them.
 */
import { and, asc, eq, gt, sql } from 'drizzle-orm';
import { z } from 'zod';
import { filesByBlock, filesOn, type Placed } from '@/core/block/files-on-blocks';
import { recordedBytes } from '@/core/volume/volume';
import type { Executor } from '@/server/platform/db/database';
import type { BlocksKept } from '@/server/states';
import { files, volumes } from './tables';

/** Entries sent at once. */
const AT_ONCE = 250;
/** A picture of a volume is this fine. */
const SPACE_STEPS = 2000;
/** Files whose places are sent, so that a page can name them block by block. */
const MAX_PLACED = 2000;
/** Stretches without sound bytes of which the files are named. */
const MAX_RANGES = 40;
/** Entries of another directory of the same disc that are shown. */
const MAX_OF_VIEW = 500;

type VolumeRow = typeof volumes.$inferSelect;
type FileRow = typeof files.$inferSelect;

const columns = {
  id: files.id,
  position: files.position,
  path: files.path,
  kind: files.kind,
  type: files.type,
  link: files.link,
  ownSize: files.ownSize,
  bytes: files.bytes,
  sha256: files.sha256,
  modified: files.modified,
  locked: files.locked,
  deleted: files.deleted,
  recoverable: files.recoverable,
  damaged: files.damaged,
  sectorsInDoubt: files.sectorsInDoubt,
  doubts: files.doubts,
};

export const EntriesQuestion = z.object({
  volume: z.coerce.number().int().min(1),
  /** Those behind this place in the volume's own order. */
  after: z.coerce.number().int().min(-1).default(-1),
});

/** Folders of a volume in which, however deep, a file can be taken out; in one pass over its paths. */
async function foldersWithFiles(db: Executor, volumeId: number): Promise<Set<string>> {
  const rows = await db
    .select({ path: files.path })
    .from(files)
    .where(
      and(
        eq(files.volumeId, volumeId),
        eq(files.kind, 'file'),
        sql`${files.recoverable} is distinct from 'none'`,
      ),
    );
  const folders = new Set<string>();
  for (const { path } of rows) {
    let end = path.lastIndexOf('/');
    // What is above a folder that is known is known as well.
    while (end > 0 && !folders.has(path.slice(0, end))) {
      folders.add(path.slice(0, end));
      end = path.lastIndexOf('/', end - 1);
    }
  }
  return folders;
}

/** A page of a volume's entries, in its own order. */
export async function listEntries(
  db: Executor,
  copyId: number,
  { volume, after }: z.output<typeof EntriesQuestion>,
) {
  const rows = await db
    .select(columns)
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .where(
      and(eq(volumes.fairCopyId, copyId), eq(files.volumeId, volume), gt(files.position, after)),
    )
    .orderBy(asc(files.position))
    .limit(AT_ONCE);
  const hasFolders = rows.some(({ kind }) => kind === 'directory');
  const filled = hasFolders ? await foldersWithFiles(db, volume) : new Set<string>();
  return {
    entries: rows.map((row) => ({
      ...row,
      /** Of a folder: whether anything in it can be taken out. */
      extractable: row.kind === 'directory' && filled.has(row.path),
    })),
    next: rows.length === AT_ONCE ? rows.at(-1)!.position : null,
  };
}

type SpaceState = 'file' | 'doubt' | 'deleted';
/** A stretch of a volume, in bytes, and what it holds. */
type SpaceStretch = [from: number, to: number, state: SpaceState];

const stateOf = ({ deleted, sectorsInDoubt }: FileRow): SpaceState => {
  if (deleted) return 'deleted';
  return sectorsInDoubt > 0 ? 'doubt' : 'file';
};

/** Where files lie, file by file where there are few, and else as fine as a picture shows it. */
function spaceOf({ length }: VolumeRow, rows: readonly FileRow[]): SpaceStretch[] {
  const stretches = rows.flatMap((row) =>
    row.extents
      .filter(({ offset }) => offset >= 0)
      .map((each): SpaceStretch => [each.offset, each.offset + each.length, stateOf(row)]),
  );
  if (stretches.length <= SPACE_STEPS) return stretches;
  const step = Math.max(1, length / SPACE_STEPS);
  const merged: SpaceStretch[] = [];
  for (const [from, to, state] of stretches.sort((a, b) => a[0] - b[0])) {
    const last = merged.at(-1);
    if (last && last[2] === state && from - last[1] < step) last[1] = Math.max(last[1], to);
    else merged.push([from, to, state]);
  }
  return merged;
}

const isFile = ({ kind }: FileRow) => kind === 'file';
const placeOf = (row: FileRow) => `${row.extents[0]?.offset}/${recordedBytes(row)}`;

/** How another directory of the same disc names things, and what only one of the two lists. */
function compareView(view: readonly FileRow[], main: readonly FileRow[]) {
  const listed = view.filter(isFile);
  const known = new Map(main.filter(isFile).map((entry) => [placeOf(entry), entry.path]));
  const own = new Set(listed.map(placeOf));
  return {
    files: listed.length,
    only: listed.filter((entry) => entry.bytes > 0 && !known.has(placeOf(entry))).length,
    lacks: [...known].filter(([place]) => !place.endsWith('/0') && !own.has(place)).length,
    rows: listed.slice(0, MAX_OF_VIEW).map((entry) => ({
      id: entry.id,
      path: entry.path,
      link: entry.link,
      bytes: entry.bytes,
      knownAs: (entry.bytes > 0 && known.get(placeOf(entry))) || null,
    })),
  };
}

async function rowsOf(db: Executor, volumeId: number): Promise<FileRow[]> {
  return db.select().from(files).where(eq(files.volumeId, volumeId)).orderBy(asc(files.position));
}

function countsOf(rows: readonly FileRow[]) {
  const live = rows.filter((row) => isFile(row) && !row.deleted);
  return {
    entryCount: rows.length,
    liveFiles: live.length,
    hurtFiles: live.filter(({ sectorsInDoubt, damaged }) => sectorsInDoubt > 0 || damaged).length,
  };
}

/** The volumes of a copy, each with its first entries. */
export async function listVolumes(db: Executor, copyId: number) {
  const rows = await db
    .select()
    .from(volumes)
    .where(eq(volumes.fairCopyId, copyId))
    .orderBy(volumes.offset, volumes.id);
  return Promise.all(
    rows.map(async (volume) => {
      const isMain = volume.view === null;
      const [page, all] = await Promise.all([
        listEntries(db, copyId, { volume: volume.id, after: -1 }),
        rowsOf(db, volume.id),
      ]);
      const main = isMain
        ? null
        : rows.find(
            ({ view, inside, offset }) => !view && inside === null && offset === volume.offset,
          );
      return {
        ...volume,
        ...page,
        ...countsOf(all),
        space: isMain ? spaceOf(volume, all) : [],
        compared: isMain ? null : compareView(all, main ? await rowsOf(db, main.id) : []),
      };
    }),
  );
}

/** Which files lie on a device's blocks: all of them where they are few, and those hurt always. */
export async function filesOnDevice(db: Executor, copyId: number, kept: BlocksKept) {
  const rows = await db
    .select()
    .from(volumes)
    .where(
      and(
        eq(volumes.fairCopyId, copyId),
        sql`${volumes.inside} is null and ${volumes.view} is null`,
      ),
    );
  const listed = await Promise.all(
    rows.map(async (volume) => ({ ...volume, entries: await rowsOf(db, volume.id) })),
  );
  const placed = filesByBlock(kept, listed as Parameters<typeof filesByBlock>[1]);
  const unsound = kept.extents.filter(([, , grade]) => grade === 'doubtful' || grade === 'lost');
  return {
    /** Null where there are too many to be sent. */
    placed: placed.length <= MAX_PLACED ? (placed as Placed[]) : null,
    hurt: unsound
      .slice(0, MAX_RANGES)
      .map(([from, to]) => ({ from, files: filesOn(placed, from, to) })),
  };
}
