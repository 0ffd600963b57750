/**
 * Granule volumes (35 × 18 × 256), read and checked: 68 granules of nine sectors, their table and
 * directory on track 17.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import {
  BlockOwners,
  ProblemList,
  bytesOfExtents,
  extentVolume,
  fileEntry,
  joined,
  pathOf,
} from '../extent-volume';
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

export async function probeGranule(source: ByteSource): Promise<GranuleEvidence | null> {
  if (source.size < DIRECTORY + SECTOR || source.size > GRANULE_BYTES) return null;
  const table = await source.read(TABLE, GRANULES);
  const right = table.filter(isTableByte).length;
  const directory = await source.read(DIRECTORY, 9 * SECTOR);
  let wellFormed = 0;
  let used = 0;
  for (let at = 0; at + ENTRY <= directory.length && directory[at] !== FREE; at += ENTRY) {
    used++;
    const entry = directory.subarray(at, at + ENTRY);
    if (isWellFormed(entry)) wellFormed++;
  }
  let confidence = source.size === GRANULE_BYTES ? 0.2 : 0.1;
  const reasons: Said[] = [];
  if (right === GRANULES) {
    confidence += 0.35;
    reasons.push(said('granule.n68Of68'));
  }
  if (used === wellFormed) {
    confidence += used > 0 ? 0.4 : 0.1;
    reasons.push(said('granule.ofDirectoryEntriesAre', { wellFormed, used }));
  }
  return confidence >= 0.6 ? { confidence, reasons } : null;
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
  for (let i = 0; (i + 1) * ENTRY <= directory.length; i++) {
    const entry = directory.subarray(i * ENTRY, (i + 1) * ENTRY);
    const at = DIRECTORY + i * ENTRY;
    if (entry[0] === FREE) break;
    entries.push(fileOf(entry, at, making));
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
