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
import { said, type Said } from '@/core/said';

export const SECTOR = 256;
const TRACK = 18 * SECTOR;
export const GRANULES = 68;
export const GRANULE = 9 * SECTOR;
export const SYSTEM_TRACK = 17;
export const TABLE = SYSTEM_TRACK * TRACK + SECTOR;
export const DIRECTORY = SYSTEM_TRACK * TRACK + 2 * SECTOR;
export const ENTRIES = 72;
export const FREE = 0xff;
export const GRANULE_BYTES = 35 * TRACK;

interface GranuleEvidence {
  confidence: number;
  reasons: Said[];
}

const isTableByte = (byte: number) =>
  byte === FREE || byte < GRANULES || (byte >= 0xc0 && byte <= 0xc9);
export const placeOf = (granule: number) =>
  ((granule >> 1) + (granule >= SYSTEM_TRACK * 2 ? 1 : 0)) * TRACK + (granule & 1) * GRANULE;

const isWellFormed = (entry: Uint8Array): boolean =>
  entry.subarray(1, 11).every((byte) => byte >= 0x20 && byte < 0x7f) &&
  entry[11]! <= 3 &&
  (entry[12] === 0 || entry[12] === 0xff) &&
  entry[13]! < GRANULES;

export async function probeGranule(source: ByteSource): Promise<GranuleEvidence | null> {
  if (source.size < DIRECTORY + SECTOR || source.size > GRANULE_BYTES) return null;
  const table = await source.read(TABLE, GRANULES);
  const right = table.filter(isTableByte).length;
  const directory = await source.read(DIRECTORY, 9 * SECTOR);
  let wellFormed = 0;
  let used = 0;
  for (let at = 0; at + 32 <= directory.length && directory[at] !== 0xff; at += 32) {
    used++;
    const entry = directory.subarray(at, at + 32);
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
  const directory = await source.read(DIRECTORY, ENTRIES * 32);
  const owners = new BlockOwners(GRANULES);
  const making: Making = { table, owners, problems, size: source.size };
  const entries: VolumeEntry[] = [];
  for (let i = 0; i * 32 + 32 <= directory.length; i++) {
    const entry = directory.subarray(i * 32, i * 32 + 32);
    const at = DIRECTORY + i * 32;
    if (entry[0] === 0xff) break;
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
  const deleted = entry[0] === 0;
  const name = deleted ? `?${textOf(entry.subarray(1, 8))}` : textOf(entry.subarray(0, 8));
  const extension = textOf(entry.subarray(8, 11));
  const recordedName = extension ? `${name}.${extension}` : name;
  const shown = deleted ? recordedName.replace('?', '_') : recordedName;
  const path = pathOf([], shown, making.problems, at);
  const common = { path, recordedName, type: String(entry[11]) };
  // Its granules are freed and its length is gone with them.
  if (deleted)
    return fileEntry({ ...common, bytes: 0, extents: [], deleted: true, recoverable: 'none' });
  const inLast = (entry[14]! << 8) | entry[15]!;
  const found = follow(entry[13]!, inLast, recordedName, making);
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
  next === FREE || (next > 0xc9 && next < FREE) || (next >= GRANULES && next < 0xc0);

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
    if (next >= 0xc0 && !isNoChain(next)) {
      const length = Math.max(0, (next - 0xc0 - 1) * SECTOR + Math.min(inLast, SECTOR));
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
