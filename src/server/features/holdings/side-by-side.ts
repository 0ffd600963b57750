/** Two kept media side by side, file by file, with what differs. */
import { and, eq, or } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import { trackDigests } from '../copies/tables';
import { relations } from './tables';
import { UserError } from '@/server/platform/errors';
import { contentsOf, latestFairCopy } from '../copies/queries';
import { mediumByCode } from '../media/media';
import { said } from '@/core/said';

/**
 * The same bytes under the same name; the same bytes under another; the same name with other bytes;
 * on one side only.
 */
type FileLikeness = 'same' | 'renamed' | 'differs' | 'first-only' | 'second-only';

interface Side {
  id: number;
  path: string;
  bytes: number;
  modified: string | null;
  sha256: string | null;
  inDoubt: number;
}

interface FilePair {
  likeness: FileLikeness;
  first: Side | null;
  second: Side | null;
}

const MAX_FILES = 4000;

async function sideOf(db: Executor, code: string) {
  const medium = await mediumByCode(db, code);
  const copy = await latestFairCopy(db, medium.id);
  if (!copy) throw new UserError(said('holdings.hasNoFairCopy', { code }), 409);
  const files: Side[] = (await contentsOf(db, copy.id))
    .filter(({ view }) => view === null)
    .flatMap(({ partition, inside, entries }) =>
      entries
        .filter(({ kind, deleted }) => kind === 'file' && !deleted)
        .map(({ id, path, bytes, modified, sha256, sectorsInDoubt }) => ({
          id,
          path: [partition, inside, path].filter((part) => part !== null).join('/'),
          bytes,
          modified,
          sha256,
          inDoubt: sectorsInDoubt,
        })),
    );
  const digests = await db.select().from(trackDigests).where(eq(trackDigests.fairCopyId, copy.id));
  return { medium, copy, files, digests };
}

/** Files by what one asks of them, several of one answer in their order. */
function filesBy(files: Iterable<Side>, keyOf: (file: Side) => string | null) {
  const by = new Map<string, Side[]>();
  for (const file of files) {
    const key = keyOf(file);
    if (key !== null) by.set(key, [...(by.get(key) ?? []), file]);
  }
  return by;
}

/** An empty file is the same as any other. */
const contentOf = ({ sha256, bytes }: Side): string | null => (bytes > 0 ? sha256 : null);

/** Pairs files by name first, then those left over by their bytes. */
export function pairFiles(first: readonly Side[], second: readonly Side[]): FilePair[] {
  const pairs: FilePair[] = [];
  const unpaired = new Set(second);
  const pair = (likeness: FileLikeness, file: Side, twin: Side) => {
    unpaired.delete(twin);
    pairs.push({ likeness, first: file, second: twin });
  };
  // Some disks have several files of one name.
  const byPath = filesBy(second, ({ path }) => path);
  const left: Side[] = [];
  for (const file of first) {
    const twin = byPath.get(file.path)?.shift();
    if (!twin) left.push(file);
    else pair(file.sha256 !== null && file.sha256 === twin.sha256 ? 'same' : 'differs', file, twin);
  }
  const byContent = filesBy(unpaired, contentOf);
  for (const file of left) {
    const twin = byContent.get(contentOf(file) ?? '')?.shift();
    if (twin) pair('renamed', file, twin);
    else pairs.push({ likeness: 'first-only', first: file, second: null });
  }
  for (const file of unpaired) pairs.push({ likeness: 'second-only', first: null, second: file });
  return pairs;
}

export async function sideBySide(db: Executor, a: string, b: string) {
  if (a === b) throw new UserError(said('holdings.chooseTwoMedia'), 409);
  const [first, second] = await Promise.all([sideOf(db, a), sideOf(db, b)]);
  const [settled] = await settledBetween(db, first, second);
  const pairs = pairFiles(first.files, second.files);
  const sorted = sortedByLikeness(pairs);
  const others = new Map(
    second.digests.map(({ cylinder, head, digest }) => [`${cylinder}/${head}`, digest]),
  );
  // Tracks of two layouts hold other stretches of the disk.
  const both =
    first.copy.layout !== second.copy.layout
      ? []
      : first.digests.filter(({ cylinder, head }) => others.has(`${cylinder}/${head}`));
  const about = ({
    medium: { code, title, lender, labelText, condition, registeredAt },
    copy: { imageSha256, imageBytes, layout, tally, sourceName },
    files,
  }: typeof first) => ({
    code,
    title,
    lender,
    labelText,
    condition,
    registeredAt,
    imageSha256,
    imageBytes,
    layout,
    tally,
    sourceName,
    files: files.length,
  });
  return {
    first: about(first),
    second: about(second),
    tracks: {
      same: both.filter(
        ({ cylinder, head, digest }) => others.get(`${cylinder}/${head}`) === digest,
      ).length,
      of: both.length,
    },
    tally: pairs.reduce(
      (sum, { likeness }) => ({ ...sum, [likeness]: (sum[likeness] ?? 0) + 1 }),
      {} as Partial<Record<FileLikeness, number>>,
    ),
    files: sorted.slice(0, MAX_FILES),
    more: Math.max(0, sorted.length - MAX_FILES),
    settled: settled
      ? {
          kind: settled.kind,
          of: settled.mediumId === first.medium.id ? a : b,
          to: settled.mediumId === first.medium.id ? b : a,
        }
      : null,
  };
}

/** What differs comes first. */
const ORDER: Record<FileLikeness, number> = {
  differs: 0,
  'first-only': 1,
  'second-only': 2,
  renamed: 3,
  same: 4,
};

const sortedByLikeness = (pairs: readonly FilePair[]): FilePair[] =>
  [...pairs].sort((a, b) => ORDER[a.likeness] - ORDER[b.likeness]);

async function settledBetween(
  db: Executor,
  first: { medium: { id: number } },
  second: { medium: { id: number } },
): Promise<(typeof relations.$inferSelect)[]> {
  return db
    .select()
    .from(relations)
    .where(
      or(
        and(eq(relations.mediumId, first.medium.id), eq(relations.otherId, second.medium.id)),
        and(eq(relations.mediumId, second.medium.id), eq(relations.otherId, first.medium.id)),
      ),
    );
}
