/**
 * The copies of the allocation table (ECMA-107, clause 10), as many as a volume keeps up, and what
 * they say of each other and of themselves. Where they differ each is a candidate, and so is the
 * table that takes every sector from the copy in which more of it can be a link.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { said } from '@/core/said';
import type { ProblemList } from '../extent-volume';
import type { FatGeometry, FatWidth } from './boot-sector';
import { BAD, FREE, unpackTable, type FatTable } from './table';

const MOST_CLUSTERS = 2 ** 24;

/** A table that may be the right one, and the copy that it is, from 1; null of a mixture. */
export interface TableCandidate {
  table: FatTable;
  copy: number | null;
}

/** Clusters of the table that can be held: fewer than the volume claims, where its table ends. */
function clustersIn({ fatSectors, bytesPerSector, width, clusters }: FatGeometry) {
  const room = Math.max(0, Math.floor((fatSectors * bytesPerSector * 8) / width) - 2);
  return { room, clusters: Math.max(0, Math.min(clusters, room, MOST_CLUSTERS)) };
}

/** Bits of the second entry that are cleared while a volume is in use, and after errors. */
const STATE_BITS: Readonly<Record<FatWidth, readonly [clean: number, sound: number]>> =
  Object.freeze({
    12: [0, 0],
    16: [0x8000, 0x4000],
    32: [0x0800_0000, 0x0400_0000],
  });

/** The first two entries as they stand: of no clusters, they hold the media byte and the state. */
function firstEntries(bytes: Uint8Array, width: FatWidth): [number, number] {
  const word = (at: number) => (bytes[at] ?? 0) | ((bytes[at + 1] ?? 0) << 8);
  if (width === 12) return [word(0) & 0xfff, word(1) >> 4];
  if (width === 16) return [word(0), word(2)];
  const wide = (at: number) => (word(at) | (word(at + 2) << 16)) & 0x0fff_ffff;
  return [wide(0), wide(4)];
}

/** What the first two entries say: they are no clusters', and have a shape of their own. */
function tellFirstEntries(
  bytes: Uint8Array,
  { width, media, fatStart, bytesPerSector }: FatGeometry,
  problems: ProblemList,
): void {
  const [first, second] = firstEntries(bytes, width);
  const at = fatStart * bytesPerSector;
  const most = width === 32 ? 0x0fff_ffff : 2 ** width - 1;
  const [clean, sound] = STATE_BITS[width];
  // The lowest three bits of an end mark say nothing.
  const isEnd = (value: number) => (value | clean | sound | 7) === most;
  if (first !== most - 0xff + media || !isEnd(second))
    problems.report('table-damaged', at, said('fat.theTablesFirstEntries', { first, second }));
  else if ((clean && !(second & clean)) || (sound && !(second & sound)))
    problems.report('not-closed-cleanly', at, said('fat.theVolumeWasNot'));
}

/** How many entries of a stretch of the table can't be a link. */
function impossible(table: FatTable, from: number, to: number): number {
  let count = 0;
  let used = 0;
  for (let cluster = Math.max(2, from); cluster < to; cluster++) {
    const link = table[cluster]!;
    if (link !== FREE) used++;
    if (link === 1 || (link >= table.length && link < BAD)) count++;
  }
  // Zeros alone are what a lost sector looks like.
  return used === 0 ? to - from : count;
}

/** Sector by sector the likelier of two tables. */
function mixed(first: FatTable, second: FatTable, clustersASector: number): FatTable {
  const table = first.slice();
  for (let from = 0; from < table.length; from += clustersASector) {
    const to = Math.min(table.length, from + clustersASector);
    const [own, other] = [first.subarray(from, to), second.subarray(from, to)];
    if (own.every((link, i) => link === other[i])) continue;
    if (impossible(second, from, to) < impossible(first, from, to)) table.set(other, from);
  }
  return table;
}

/** The copies that are kept up, from 0. */
function copiesOf({ fatCount, activeTable }: FatGeometry): number[] {
  if (activeTable !== null && activeTable < fatCount) return [activeTable];
  return Array.from({ length: fatCount }, (_, i) => i);
}

/** Every table that may be the right one, the first copy first; what they differ in is told. */
export async function loadTables(
  source: ByteSource,
  geometry: FatGeometry,
  problems: ProblemList,
): Promise<TableCandidate[]> {
  const { width, fatSectors, bytesPerSector, fatStart } = geometry;
  const bytes = fatSectors * bytesPerSector;
  const { room, clusters } = clustersIn(geometry);
  if (clusters < geometry.clusters)
    problems.report(
      'descriptor-damaged',
      0,
      said('fat.theVolumeClaimsClusters', { clusters: geometry.clusters, room }),
    );
  const needed = Math.min(bytes, Math.ceil(((clusters + 2) * width) / 8));
  const candidates: TableCandidate[] = [];
  let first: Uint8Array | null = null;
  for (const copy of copiesOf(geometry)) {
    const offset = fatStart * bytesPerSector + copy * bytes;
    const own = await source.read(offset, needed);
    if (own.length < needed && first !== null) continue;
    const at = first === null ? 0 : first.findIndex((byte, i) => byte !== own[i]);
    if (at < 0) continue;
    if (first !== null)
      problems.report(
        'fat-copies-differ',
        offset + at,
        said('fat.copyOfTheAllocation', { copy: copy + 1, at }),
      );
    candidates.push({ table: unpackTable(own, width, clusters), copy: copy + 1 });
    first ??= own;
  }
  if (first !== null) tellFirstEntries(first, geometry, problems);
  const [one, two] = candidates;
  const clustersASector = Math.floor((bytesPerSector * 8) / width);
  if (one && two)
    candidates.push({ table: mixed(one.table, two.table, clustersASector), copy: null });
  return candidates;
}
