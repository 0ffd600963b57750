/**
 * Granule volumes (35 × 18 × 256), read and checked: 68 granules of nine sectors, their table and
 * directory on track 17.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { OF_WHAT_IS_LEFT } from '../family';
import { BlockOwners, ProblemList, extentVolume, fileEntry, pathOf } from '../extent-volume';
import { bytesOfExtents, joined } from '../extents';
import { inUnits } from '../own-units';
import type { Extent, Volume, VolumeEntry } from '../volume';
import { bytesIn, numberIn } from '../record';
import {
  DELETED,
  DIRECTORY,
  ENTRIES,
  ENTRY,
  ENTRY_FIELDS,
  FREE,
  GRANULE,
  GRANULES,
  GRANULE_BYTES,
  GRANULE_SECTORS,
  LAST,
  SECTOR,
  TABLE,
  placeOf,
} from './records';
import { said, type Said } from '@/core/said';

interface GranuleEvidence {
  confidence: number;
  reasons: Said[];
}

const isTableByte = (byte: number) =>
  byte === FREE || byte < GRANULES || (byte >= LAST && byte <= LAST + GRANULE_SECTORS);
const isWellFormed = (entry: Uint8Array): boolean =>
  entry.subarray(1, 11).every((byte) => byte >= 0x20 && byte < 0x7f) &&
  numberIn(entry, ENTRY_FIELDS.fileType) <= 3 &&
  [0, 0xff].includes(numberIn(entry, ENTRY_FIELDS.isAscii)) &&
  numberIn(entry, ENTRY_FIELDS.firstGranule) < GRANULES;

/** Entries of the directory in use; those that are well-formed, and sectors in which one is not. */
function weighDirectory(directory: Uint8Array): {
  used: number;
  wellFormed: number;
  hurt: ReadonlySet<number>;
} {
  const hurt = new Set<number>();
  let used = 0;
  for (let at = 0; at + ENTRY <= directory.length; at += ENTRY) {
    const sector = Math.floor(at / SECTOR);
    if (directory[at] === FREE && !hurt.has(sector)) break;
    used++;
    if (!isWellFormed(directory.subarray(at, at + ENTRY))) hurt.add(sector);
  }
  return { used, wellFormed: hurt.size === 0 ? used : 0, hurt };
}

/** Whether a table has granules in use, and no two lead to the same. */
function isOfChains(table: Uint8Array): boolean {
  const next = Array.from(table).filter((byte) => byte < GRANULES);
  const ends = table.some((byte) => byte >= LAST && byte !== FREE);
  return ends && new Set(next).size === next.length && next.every((byte) => table[byte] !== FREE);
}

export async function probeGranule(source: ByteSource): Promise<GranuleEvidence | null> {
  if (source.size < DIRECTORY + SECTOR || source.size > GRANULE_BYTES) return null;
  const table = await source.read(TABLE, GRANULES);
  const isTable = table.every(isTableByte);
  const directory = await source.read(DIRECTORY, ENTRIES * ENTRY);
  const { used, wellFormed, hurt } = weighDirectory(directory);
  const isWhole = used === wellFormed;
  const reasons: Said[] = [];
  if (isTable) reasons.push(said('granule.n68Of68'));
  if (isWhole) reasons.push(said('granule.ofDirectoryEntriesAre', { wellFormed, used }));
  if (isTable && isWhole) {
    const size = source.size === GRANULE_BYTES ? 0.2 : 0.1;
    return { confidence: size + (used > 0 ? 0.75 : 0.45), reasons };
  }
  // One of the two is enough to open it by, where it says something.
  const isLeft = isTable ? isOfChains(table) && hurt.size === 1 : isWhole && used > 0;
  return isLeft ? { confidence: OF_WHAT_IS_LEFT, reasons } : null;
}

export async function openGranule(source: ByteSource): Promise<Volume> {
  const problems = new ProblemList();
  if (source.size < GRANULE_BYTES)
    problems.report(
      'truncated-image',
      source.size,
      said('granule.theImageEndsAfter', { source: source.size, granuleBytes: GRANULE_BYTES }),
    );
  const table = new Uint8Array(GRANULES).fill(FREE);
  table.set(await source.read(TABLE, GRANULES));
  const directory = await source.read(DIRECTORY, ENTRIES * ENTRY);
  const owners = new BlockOwners(GRANULES);
  const making: Making = { table, owners, problems, size: source.size };
  const entries: VolumeEntry[] = [];
  const { hurt } = weighDirectory(directory);
  for (let at = 0; at + ENTRY <= directory.length; at += ENTRY) {
    const entry = directory.subarray(at, at + ENTRY);
    const isHurt = hurt.has(Math.floor(at / SECTOR));
    if (entry[0] === FREE && !isHurt) break;
    if (isWellFormed(entry)) entries.push(fileOf(entry, DIRECTORY + at, making));
    else if (entry[0] !== FREE)
      problems.report('directory-damaged', DIRECTORY + at, said('granule.directoryEntryIsNo'));
  }
  tellLost(table, owners, problems);
  const free = table.filter((byte) => byte === FREE).length;
  return extentVolume(source, {
    filesystem: 'granule',
    label: null,
    totalBytes: GRANULES * GRANULE,
    freeBytes: free * GRANULE,
    entries,
    problems: problems.all(),
  });
}

interface Making {
  table: Uint8Array;
  owners: BlockOwners;
  problems: ProblemList;
  size: number;
}

/** Text of an entry; bytes that print nothing are shown as numbers. */
const textOf = (bytes: Uint8Array): string =>
  Array.from(bytes, (byte) =>
    byte >= 0x20 && byte < 0x7f
      ? String.fromCharCode(byte)
      : `‹${byte.toString(16).toUpperCase().padStart(2, '0')}›`,
  )
    .join('')
    .trimEnd();

function fileOf(entry: Uint8Array, at: number, making: Making): VolumeEntry {
  const deleted = entry[0] === DELETED;
  const own = bytesIn(entry, ENTRY_FIELDS.name);
  const name = deleted ? `?${textOf(own.subarray(1))}` : textOf(own);
  const extension = textOf(bytesIn(entry, ENTRY_FIELDS.extension));
  const recordedName = extension ? `${name}.${extension}` : name;
  const shown = deleted ? recordedName.replace('?', '_') : recordedName;
  const path = pathOf([], shown, making.problems, at);
  const common = { path, recordedName, type: String(numberIn(entry, ENTRY_FIELDS.fileType)) };
  // Its granules are freed and its length is gone with them.
  if (deleted)
    return fileEntry({ ...common, bytes: 0, extents: [], deleted: true, recoverable: 'none' });
  const first = numberIn(entry, ENTRY_FIELDS.firstGranule);
  const inLast = numberIn(entry, ENTRY_FIELDS.inLastSector);
  const found = follow(first, inLast, recordedName, making);
  const ownSize = inUnits(Math.ceil(found.bytes / GRANULE), 'granule');
  return fileEntry({ ...common, ownSize, ...found });
}

function tellLost(table: Uint8Array, owners: BlockOwners, problems: ProblemList) {
  const lost = Array.from(table.keys()).filter(
    (granule) => table[granule] !== FREE && !owners.isOwned(granule),
  ).length;
  if (lost > 0) problems.report('lost-chain', null, said('granule.granulesAreMarkedIn', { lost }));
}

/** What a granule's table byte says of it. */
const isNoChain = (next: number): boolean =>
  next >= GRANULES && !(next >= LAST && next <= LAST + GRANULE_SECTORS);

/** The granules of a file; `inLast` is the bytes in use of the last one's last sector. */
function follow(
  first: number,
  inLast: number,
  name: string,
  { table, owners, problems, size }: Making,
): Pick<VolumeEntry, 'bytes' | 'extents' | 'damaged'> {
  const owner = owners.owner(name);
  const extents: Extent[] = [];
  const visited = new Set<number>();
  const end = (damaged: boolean) => ({
    bytes: bytesOfExtents(extents),
    extents: joined(extents),
    damaged,
  });
  for (let granule = first; ;) {
    const place = TABLE + granule;
    if (granule >= GRANULES) {
      problems.report('out-of-range', TABLE, said('granule.itsChainGoesOn', { name, granule }));
      return end(true);
    }
    if (visited.has(granule)) {
      problems.report('loop', place, said('granule.itsChainComesBack', { name, granule }));
      return end(true);
    }
    visited.add(granule);
    const other = owners.claim(granule, owner);
    if (other)
      problems.report(
        'cross-linked',
        place,
        said('granule.andShareGranule', { name, other, granule }),
      );
    const next = table[granule]!;
    if (next >= LAST && !isNoChain(next)) {
      const length = Math.max(0, (next - LAST - 1) * SECTOR + Math.min(inLast, SECTOR));
      if (length > 0) extents.push({ offset: placeOf(granule), length });
      return end(other !== null || placeOf(granule) + GRANULE > size);
    }
    extents.push({ offset: placeOf(granule), length: GRANULE });
    if (isNoChain(next)) {
      tellNoChain(name, granule, next, problems);
      return end(true);
    }
    if (other) return end(true);
    granule = next;
  }
}

function tellNoChain(name: string, granule: number, next: number, problems: ProblemList): void {
  const state =
    next === FREE
      ? said('granule.inUseAndMarked')
      : said('granule.followedByHWhich', { next: next.toString(16).toUpperCase() });
  problems.report(
    next === FREE ? 'map-mismatch' : 'out-of-range',
    TABLE + granule,
    said('granule.granuleIs', { name, granule, state }),
  );
}
