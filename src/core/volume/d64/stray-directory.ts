/**
 * Sectors of a directory known by what they list: entries whose chains are as long as they say. So a
 * volume is found whose header is lost, and the rest of a directory whose chain is broken.
 */
import { bytesIn, numberIn } from '../record';
import { CLOSED, ENTRY, ENTRY_FIELDS, PARTITION, PER_SECTOR, REL, typeIn } from './records';
import type { D64Sectors } from './chains';
import { SECTOR, blockOf, sectorsOfTrack, type D64Geometry } from './geometry';

/** Whether an entry could be one: a kind that there is, and a first sector on the disk. */
export function isWellFormed(entry: Uint8Array, geometry: D64Geometry): boolean {
  if (entry[ENTRY_FIELDS.fileType.at] === 0) return true;
  const [track = 0, sector = 0] = bytesIn(entry, ENTRY_FIELDS.firstSector);
  return typeIn(entry) <= PARTITION && blockOf(geometry, track, sector) >= 0;
}

export const entriesIn = (bytes: Uint8Array): Uint8Array[] =>
  Array.from({ length: PER_SECTOR }, (_, i) => bytes.subarray(i * ENTRY, (i + 1) * ENTRY));

/** Whether a chain of as many sectors as the entry says begins where it says. */
function isProven(sectors: D64Sectors, entry: Uint8Array): boolean {
  if (!(numberIn(entry, ENTRY_FIELDS.fileType) & CLOSED)) return false;
  const [track = 0, sector = 0] = bytesIn(entry, ENTRY_FIELDS.firstSector);
  const { blocks, damaged } = sectors.follow(track, sector, '', null);
  const stated = numberIn(entry, ENTRY_FIELDS.blocks);
  // Records have side sectors beside their own.
  const isLong = typeIn(entry) === REL ? stated > blocks.length : stated === blocks.length;
  return !damaged && blocks.length > 0 && isLong;
}

/** Of the files that a sector lists, how many are where it says. */
export function provenIn(sectors: D64Sectors, bytes: Uint8Array): { used: number; proven: number } {
  const entries = entriesIn(bytes);
  if (!entries.every((entry) => isWellFormed(entry, sectors.geometry)))
    return { used: PER_SECTOR, proven: 0 };
  const used = entries.filter((entry) => entry[ENTRY_FIELDS.fileType.at] !== 0);
  return { used: used.length, proven: used.filter((entry) => isProven(sectors, entry)).length };
}

/** Blocks of the directory's track that are a directory's, and that no chain led to. */
export function strayDirectory(sectors: D64Sectors, visited: ReadonlySet<number>): number[] {
  const { geometry } = sectors;
  const { directoryTrack, directorySector } = geometry;
  const stray: number[] = [];
  for (let sector = directorySector; sector < sectorsOfTrack(geometry, directoryTrack); sector++) {
    const block = blockOf(geometry, directoryTrack, sector);
    const bytes = visited.has(block) ? null : sectors.read(directoryTrack, sector);
    if (!bytes || sectors.owners.isOwned(block)) continue;
    const { used, proven } = provenIn(sectors, bytes);
    if (proven > 0 && proven * 2 >= used) stray.push(block);
  }
  return stray;
}

/** Whether a sector's first bytes could lead to the next of a directory, or say that it ends. */
export const leadsOn = (bytes: Uint8Array, geometry: D64Geometry): boolean =>
  (bytes[0] === 0 && bytes.length === SECTOR) ||
  (bytes[0] === geometry.directoryTrack && blockOf(geometry, bytes[0], bytes[1]!) >= 0);
