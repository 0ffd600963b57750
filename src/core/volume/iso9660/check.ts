/** What two accounts of one disc say of each other: path table, directories, extents. */
import { ProblemList } from '../extent-volume';
import type { VolumeEntry } from '../volume';
import type { PathRecord } from './path-table';
import { ascii, type Descriptor } from './records';
import type { WalkedDirectory } from './walk';
import { said } from '@/core/said';

/** Directories of the path table against those that the tree leads to: places, names and parents. */
export function checkPathTable(
  records: readonly PathRecord[],
  { at }: Descriptor,
  directories: ReadonlyMap<number, WalkedDirectory>,
  problems: ProblemList,
): void {
  const listed = new Set(records.map(({ block }) => block));
  const missing = [...directories.keys()].filter((block) => !listed.has(block)).length;
  const more = [...listed].filter((block) => !directories.has(block)).length;
  if (missing + more > 0)
    problems.report(
      'path-table-mismatch',
      at,
      said('iso9660.thePathTableLacks', { missing, more }),
    );
  const differing = records.slice(1).filter(({ block, name, parent }) => {
    const walked = directories.get(block);
    const above = records[parent]?.block;
    return walked && (walked.recordedName !== ascii(name) || walked.parent !== above);
  });
  if (differing.length > 0)
    problems.report(
      'path-table-mismatch',
      at,
      said('iso9660.thePathTableCalls', { differing: differing.length }),
    );
}

/** Pairs of files told of; what lies on one another is damage enough by then. */
const MOST_PAIRS = 200;

/**
 * Files that lie partly on one another; those that share all of their bytes are one file by two
 * names.
 */
export function checkOverlaps(entries: readonly VolumeEntry[], problems: ProblemList): void {
  const extents = entries
    .flatMap(({ extents: own, path }) => own.map((extent) => ({ ...extent, path })))
    .filter(({ offset, length }) => offset >= 0 && length > 0)
    .sort((a, b) => a.offset - b.offset || a.length - b.length);
  let pairs = 0;
  let open: typeof extents = [];
  for (const each of extents) {
    open = open.filter(({ offset, length }) => offset + length > each.offset);
    for (const before of open) {
      if (each.offset === before.offset && each.length === before.length) continue;
      if (pairs++ >= MOST_PAIRS) return;
      problems.report(
        'extents-overlap',
        each.offset,
        said('iso9660.andLiePartlyOn', { path: before.path, path2: each.path }),
      );
    }
    open.push(each);
  }
}

const NAMED = 4;

/** Files that one of two directories of a disc has and the other has not, by their places. */
export function checkViews(
  plain: readonly VolumeEntry[],
  joliet: readonly VolumeEntry[],
  problems: ProblemList,
): void {
  const placesOf = (entries: readonly VolumeEntry[]) =>
    new Map(
      entries
        .filter(({ kind, bytes }) => kind === 'file' && bytes > 0)
        .map(({ extents, bytes, path }) => [`${extents[0]?.offset ?? -1}/${bytes}`, path]),
    );
  const [one, other] = [placesOf(plain), placesOf(joliet)];
  const only = (own: ReadonlyMap<string, string>, theirs: ReadonlyMap<string, string>) =>
    [...own].filter(([place]) => !theirs.has(place)).map(([, path]) => path);
  const [onlyPlain, onlyJoliet] = [only(one, other), only(other, one)];
  if (onlyPlain.length + onlyJoliet.length === 0) return;
  problems.report(
    'bridge-differs',
    null,
    said('iso9660.theTwoDirectoriesList', {
      onlyPlain: onlyPlain.slice(0, NAMED),
      morePlain: Math.max(0, onlyPlain.length - NAMED),
      onlyJoliet: onlyJoliet.slice(0, NAMED),
      moreJoliet: Math.max(0, onlyJoliet.length - NAMED),
    }),
  );
}
